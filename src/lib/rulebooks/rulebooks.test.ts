import Ajv from 'ajv';
import { readFileSync } from 'node:fs';
import { describe, expect, test } from 'vitest';
import { makeItem } from '../../../tests/helpers/items';
import { NARROW } from '../../../tests/helpers/narrow-rulebook';
import type { Item } from '$lib/core/items';
import {
  RULEBOOK_VERSION,
  findPlace,
  migrateRulebook,
  placesAt,
  readRulebook,
  refusalOf,
  roleOf,
} from '$lib/core/rulebooks';
import { RULEBOOKS } from './index';
import attic from './attic.json';
import galley from './galley.json';
import pocket from './pocket.json';

const page = (path: string) => readFileSync(new URL(`../../../${path}`, import.meta.url), 'utf8');
const published = new Ajv({ allErrors: true }).compile(
  JSON.parse(page('docs/rulebook.schema.json')) as object,
);

describe('a rulebook', () => {
  test.each([attic, galley, pocket])('$name meets the schema that is published', (json) => {
    expect([published(json), published.errors]).toEqual([true, null]);
    expect(readRulebook(json)).toEqual(RULEBOOKS[json.id as 'attic']);
  });

  test('of version 1 reads as what it became', () => {
    const kept = JSON.parse(page('tests/kept/rulebook-1.json')) as object;
    const read = readRulebook(kept);
    const now = RULEBOOKS.attic;
    const early = <T extends { readonly kinds: readonly string[] }>(all: readonly T[]) =>
      all.filter(({ kinds }) => kinds.includes('song') || kinds.includes('musicVideo'));
    // Names knew no editions then.
    const patterns = (all: typeof now.places) =>
      early(all).map((place) => ({ ...place, pattern: place.pattern.replace('{ [:edition]}', '') }));
    expect(read.places).toEqual(patterns(now.places));
    // What will be written beside them is called as that rulebook says, and not as the one of today does.
    // Nor did they know pictures of makers.
    const ofItems = (all: typeof now.beside) =>
      all
        .filter((one) => one.type !== 'list')
        .filter((one) => one.type !== 'picture' || one.role === 'front');
    expect(ofItems(read.beside).map(({ type, kinds }) => [type, kinds])).toEqual(
      early(ofItems(now.beside)).map(({ type, kinds }) => [type, kinds]),
    );
    expect(read.disk).toEqual(now.disk);
    for (const kind of ['song', 'musicVideo'] as const)
      expect(read.takes.find(({ kinds }) => kinds.includes(kind))?.formats).toEqual(
        now.takes.find(({ kinds }) => kinds.includes(kind))?.formats.filter((format) => format !== 'oggFlac'),
      );
    expect(published(migrateRulebook(kept))).toBe(true);
    expect(() => readRulebook({ ...kept, version: 99 })).toThrow(RangeError);
  });

  test('of version 2 keeps its names beside, and its top folders', () => {
    const read = readRulebook(JSON.parse(page('tests/kept/rulebook-2.json')));
    expect(read.beside.map((rules) => rules.type === 'picture' && [rules.of, rules.name])).toEqual([
      ['folder', 'folder.jpg'],
      ['topFolder', 'folder.jpg'],
    ]);
    expect(read.places).toEqual(RULEBOOKS.galley.places);
  });

  test('of version 3 says nothing of alphabets and files, and goes on as before', () => {
    const kept = JSON.parse(page('tests/kept/rulebook-3.json')) as object;
    expect(readRulebook(kept)).toEqual({ ...RULEBOOKS.pocket, beside: [], texts: [] });
    expect(published(migrateRulebook(kept))).toBe(true);
    expect(RULEBOOKS.pocket.disk).toMatchObject({
      alphabet: 'any',
      allowed: null,
      maxStem: null,
      order: 'name',
    });
    expect(RULEBOOKS.pocket.tags).toMatchObject({
      encoding: 'unicode',
      picture: { pixels: null, bytes: null },
    });
  });

  test('of version 4 says nothing of twins', () => {
    const kept = JSON.parse(page('tests/kept/rulebook-4.json')) as object;
    expect(readRulebook(kept)).toEqual({ ...RULEBOOKS.galley, texts: [] });
    expect(RULEBOOKS.galley.twins).toBe(null);
  });

  test('can ask for all that it knows', () => {
    expect([published(NARROW), published.errors]).toEqual([true, null]);
    expect(readRulebook(NARROW)).toEqual(NARROW);
  });

  test.each([
    ['letters that stand for others', { allowed: 'abc' }, 'disk.allowed'],
    ['a folder in letters that it does not show', { alphabet: 'ascii', fallback: 'ø' }, 'ø'],
    ['marks that its letters have not', { alphabet: 'latin1', unicode: 'NFD' }, 'NFD'],
    ['fewer levels than its places have', { maxLevels: 1 }, 'disk.maxLevels'],
  ])('that contradicts itself is refused: %s', (_what, disk, why) => {
    const wrong = { ...attic, disk: { ...attic.disk, ...disk } };
    expect(() => readRulebook(wrong)).toThrow(why);
  });

  test('that asks for a picture which its disk does not take is refused', () => {
    const beside = NARROW.beside.map((one) => ({ ...one, name: 'première.jpg' }));
    expect(() => readRulebook({ ...NARROW, beside })).toThrow('première.jpg');
  });

  test.each([
    ['no places', { places: [] }],
    ['an unknown format', { takes: [{ kinds: ['song'], formats: ['exe'] }] }],
    ['a pattern of no known field', { places: [{ ...attic.places[0], pattern: ':nonsense' }] }],
    ['a folder with a slash at its end', { places: [{ ...attic.places[0], folder: 'Music/' }] }],
    ['something beside that is nothing known', { beside: [{ type: 'hologram', kinds: ['song'] }] }],
    ['a name that nothing can be short enough for', { disk: { ...attic.disk, maxName: 1 } }],
  ])('with %s is refused', (_what, wrong) => {
    expect(() => readRulebook({ ...attic, ...wrong })).toThrow();
  });
});

test('a rulebook of version 5 says of films what it said', () => {
  const films = { container: 'webm', codec: 'vp9', mostHeight: 720, mostBitrate: null };
  const read = readRulebook({ ...attic, version: 5, videoTwins: undefined, filmTwins: films });
  expect(read).toMatchObject({ version: RULEBOOK_VERSION, videoTwins: films });
  expect(read).not.toHaveProperty('filmTwins');
});

describe('what a player takes', () => {
  const stream = (codec: string) =>
    ({ type: 'sound', codec, channels: 2, sampleRate: 44_100, width: null, height: null }) as const;
  const file = (format: Item['format'], codec: string, durationSeconds = 200) => ({
    ...makeItem('x', {}, { format }),
    durationSeconds,
    streams: [stream(codec)],
  });

  test.each([
    ['galley', 'song', file('mp3', 'MPEG 1 Layer 3'), null],
    ['galley', 'song', file('flac', 'FLAC'), 'format'],
    ['pocket', 'song', file('mp4', 'alac'), null],
    ['pocket', 'song', file('mp4', 'mp4a'), null],
    ['pocket', 'song', file('mp4', 'ac-3'), 'codec'],
    ['pocket', 'song', file('flac', 'FLAC'), 'format'],
    ['pocket', 'ringtone', file('mp4', 'mp4a', 29), null],
    ['pocket', 'ringtone', file('mp4', 'mp4a', 31), 'seconds'],
    ['attic', 'song', file('oggFlac', 'FLAC'), null],
    ['attic', 'musicVideo', file('flac', 'FLAC'), 'format'],
  ] as const)('%s and %s', (player, kind, own, refusal) =>
    expect(refusalOf(RULEBOOKS[player], kind, own)).toBe(refusal),
  );
});

test('a place is found by kind, and by path with the nearest folder first', () => {
  expect(findPlace(RULEBOOKS.pocket, 'film')).toBeNull();
  expect(findPlace(RULEBOOKS.pocket, 'audiobook')?.folder).toBe('Audiobooks');
  expect(placesAt(RULEBOOKS.attic, 'Music Videos/a/a.mp4').map(({ folder }) => folder)).toEqual([
    'Music Videos',
  ]);
  expect(placesAt(RULEBOOKS.attic, 'Musical/a.mp3')).toEqual([]);
});

test('files are told by what the rulebook knows of them', () => {
  const role = (path: string) => roleOf(RULEBOOKS.attic, path);
  expect(['a/b.mp3', 'a/b.SLIP', 'a/Sleeve.JPG', 'a/other.jpg', 'a/b.info', 'a/b.wma'].map(role)).toEqual([
    'media',
    'sidecar',
    'picture',
    'unknown',
    'unknown',
    'unknown',
  ]);
});
