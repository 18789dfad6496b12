import { describe, expect, test } from 'vitest';
import { RULEBOOKS } from '$lib/rulebooks';
import { makeAlbum, makeItem } from '../../../../tests/helpers/items';
import { twinsFor } from '../../../../tests/helpers/twins';
import type { Rulebook } from '../rulebooks';
import { countPlayability, toMakeOf, playabilityOf } from './playability';

const { attic, galley, pocket } = RULEBOOKS as Readonly<Record<string, Rulebook>> as Record<
  'attic' | 'galley' | 'pocket',
  Rulebook
>;

describe('how an item stands on a player', () => {
  const item = makeItem('x');
  test('it plays as it is, by a twin, or not at all', () => {
    expect(playabilityOf(item, [], attic).type).toBe('plays');
    expect(playabilityOf(item, [], galley)).toMatchObject({
      type: 'missing',
      refusal: 'format',
      recipe: { codec: 'mp3' },
    });
    expect(playabilityOf(item, twinsFor(item), galley).type).toBe('ready');
    expect(playabilityOf(makeItem('y', {}, { settled: 'film' }), [], galley).type).toBe('absent');
    const tone = makeItem('z', {}, { settled: 'ringtone' });
    expect(playabilityOf(tone, [], pocket)).toMatchObject({ type: 'cannot', why: 'seconds' });
  });

  test('a twin of a file that is another one by now is stale', () => {
    const twins = twinsFor(item);
    expect(playabilityOf({ ...item, modified: 2 }, twins, pocket).type).toBe('stale');
    expect(playabilityOf({ ...item, edits: { fields: { title: 'New' } } }, twins, pocket).type).toBe('ready');
  });

  test('what is missing of several is counted, and each twin once', () => {
    const album = makeAlbum(3);
    const playability = (rulebook: Rulebook) =>
      countPlayability(
        album,
        album.map((one) => playabilityOf(one, one === album[0] ? twinsFor(one) : [], rulebook)),
      );
    expect(playability(galley)).toMatchObject({ ready: 1, missing: 2, plays: 0 });
    const both = toMakeOf([
      ...playability(galley).wanted,
      ...playability(galley).wanted,
      ...playability(pocket).wanted,
    ]);
    expect(both.wanted).toHaveLength(4);
    expect(both.seconds).toBe(800);
  });
});
