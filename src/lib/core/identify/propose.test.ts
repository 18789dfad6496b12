import { describe, expect, test } from 'vitest';
import { HOUSEHOLD } from '../../server/reference/household';
import type { LineFile } from './evidence';
import { propose } from './propose';
import type { ReferenceRelease } from './reference';

const releaseOf = (id: string) => HOUSEHOLD.find((release) => release.id === id) as ReferenceRelease;
const SALT = releaseOf('salt-ledger');
const FATHOM = releaseOf('fathom-songs');

/** Files of a release, as far as they say something. */
function filesOf(
  release: ReferenceRelease,
  says: { title?: boolean; number?: boolean; sound?: boolean },
  name = release.id,
): LineFile[] {
  return release.entries.map((entry, index) => ({
    id: `${name}/${index}`,
    stem: `audio_${index}`,
    title: says.title ? entry.title : null,
    number: says.number ? entry.number : null,
    disc: null,
    lengthSeconds: entry.lengthSeconds,
    heard: says.sound ? { [entry.id]: 0.05 } : null,
  }));
}

describe('what can be accepted without a look', () => {
  test('an album whose titles, numbers and lengths agree', () => {
    const proposal = propose(
      filesOf(FATHOM, { title: true, number: true }),
      'Fathom Songs',
      [FATHOM, SALT],
      null,
    );
    expect(proposal?.doubt).toBeNull();
    expect(proposal?.parts.map(({ candidate }) => candidate.release.id)).toEqual(['fathom-songs']);
    expect(proposal?.open).toEqual([]);
  });

  test('files in another order are sure by sound, not by lengths', () => {
    const shuffled = (sound: boolean) => {
      const [a, b, ...rest] = filesOf(FATHOM, { sound });
      return [...rest, b, a] as LineFile[];
    };
    expect(propose(shuffled(true), '', [FATHOM], null)?.doubt).toBeNull();
    expect(propose(shuffled(false), '', [FATHOM], null)?.doubt).not.toBeNull();
  });

  test('two releases that fit as well are nobody’s choice but the curator’s', () => {
    const twice = { ...FATHOM, id: 'other', entries: FATHOM.entries.map((e) => ({ ...e, id: `o-${e.id}` })) };
    const proposal = propose(
      filesOf(FATHOM, { title: true, number: true }),
      'Fathom Songs',
      [FATHOM, twice],
      null,
    );
    expect(proposal?.doubt).toBe('rival');
  });

  test('lengths alone do not tell an album of another name', () => {
    expect(propose(filesOf(FATHOM, {}), 'holiday', [FATHOM], null)?.doubt).not.toBeNull();
  });
});

describe('loose files of several releases', () => {
  const unknown: LineFile[] = [31, 47].map((lengthSeconds, index) => ({
    id: `unknown/${index}`,
    stem: `u${index}`,
    title: null,
    number: null,
    disc: null,
    lengthSeconds,
    heard: {},
  }));
  const mixed = [
    ...filesOf(SALT, { sound: true }).slice(0, 3),
    ...unknown,
    ...filesOf(FATHOM, { sound: true }),
  ];

  test('are distributed over them by sound, and the rest stays open', () => {
    const proposal = propose(mixed, 'from the old laptop', [SALT, FATHOM], null);
    expect(proposal?.doubt).toBeNull();
    expect(proposal?.parts.map(({ candidate, pairs }) => [candidate.release.id, pairs.length])).toEqual([
      ['fathom-songs', 5],
      ['salt-ledger', 3],
    ]);
    expect(proposal?.open).toEqual(['unknown/0', 'unknown/1']);
  });

  test('stay as they are if nothing is known of them', () => {
    expect(propose(unknown, '', [SALT], null)?.doubt ?? 'none').not.toBeNull();
  });
});

test('a file that contains all others is left open', () => {
  const whole: LineFile = { ...(filesOf(FATHOM, {})[0] as LineFile), id: 'whole', lengthSeconds: 470 };
  const proposal = propose(
    [whole, ...filesOf(FATHOM, { title: true, number: true })],
    'Fathom Songs',
    [FATHOM],
    'whole',
  );
  expect([proposal?.doubt, proposal?.open]).toEqual([null, ['whole']]);
});
