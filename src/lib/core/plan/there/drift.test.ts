import { describe, expect, test } from 'vitest';
import { EMPTY_FIELDS } from '../../items';
import { differingEdits, driftingOf, isConflict, sideOf, type Drift } from './drift';
import type { PlacedFile, ThereFile } from './files';

const placed: PlacedFile = { path: 'a.mp3', owner: null, signature: 'before', size: 9, digest: 'd' };
const drift = (type: Drift['type'], rest: Partial<Drift> = {}): Drift => ({
  type,
  key: 'a.mp3',
  placed: type === 'added' ? null : placed,
  file: type === 'removed' ? null : { path: 'a.mp3', size: 8, digest: 'e', says: EMPTY_FIELDS },
  decided: null,
  by: null,
  past: null,
  isWipe: false,
  ...rest,
});
const same = { signature: 'before', fields: EMPTY_FIELDS };
const edited = { signature: 'after', fields: { ...EMPTY_FIELDS, title: 'Here' } };

describe('which side counts', () => {
  test.each([
    ['leads', 'removed', 'here'],
    ['leads', 'changed', 'here'],
    ['leads', 'added', 'here'],
    ['both', 'removed', 'there'],
    ['both', 'moved', 'there'],
    ['both', 'changed', 'there'],
    ['both', 'added', 'there'],
    ['ask', 'removed', 'open'],
    ['ask', 'added', 'open'],
  ] as const)('by "%s", of what was %s alone: %s', (policy, type, side) => {
    expect(sideOf(drift(type), policy, same)).toBe(side);
  });

  test('where the library changed it too, or wants it no more, both wait for the curator', () => {
    for (const type of ['removed', 'changed'] as const)
      expect(sideOf(drift(type), 'both', edited)).toBe('open');
    expect(sideOf(drift('moved'), 'both', edited)).toBe('there');
    for (const type of ['moved', 'changed'] as const) expect(sideOf(drift(type), 'both', null)).toBe('open');
  });

  test('what another library put there is neither undone nor taken in before somebody says so', () => {
    expect(sideOf(drift('changed', { by: 1 }), 'leads', same)).toBe('open');
    expect(sideOf(drift('changed', { by: 1 }), 'both', same)).toBe('there');
    for (const policy of ['leads', 'both'] as const)
      expect(sideOf(drift('added', { by: 1 }), policy, null)).toBe('open');
    expect(sideOf(drift('changed', { by: 1, decided: 'here' }), 'leads', same)).toBe('here');
  });

  test('what cannot be read is never taken over unasked: it may be damaged', () => {
    const file: ThereFile = { path: 'a.mp3', size: 8, digest: 'e' };
    expect(sideOf(drift('changed', { file }), 'both', same)).toBe('open');
    expect(sideOf(drift('changed', { file }), 'leads', same)).toBe('here');
  });

  test('both sides that come to say the same are no conflict', () => {
    const file: ThereFile = { path: 'a.mp3', size: 8, digest: 'e', says: edited.fields };
    expect(isConflict(drift('changed', { file }), edited)).toBe(false);
    expect(isConflict(drift('changed', { file: { ...file, says: EMPTY_FIELDS } }), edited)).toBe(true);
  });

  test('a player on which nothing of ours is left is never taken at its word', () => {
    expect(sideOf(drift('removed', { isWipe: true }), 'both', same)).toBe('open');
  });

  test('what the curator decided stands over all', () => {
    expect(sideOf(drift('changed', { decided: 'there' }), 'leads', edited)).toBe('there');
    expect(sideOf(drift('added', { decided: 'here' }), 'both', null)).toBe('here');
  });
});

test('what a file there says otherwise becomes edits, but for what no tag tells apart', () => {
  const says = { ...EMPTY_FIELDS, title: 'There', compilation: false };
  expect(differingEdits(says, { ...EMPTY_FIELDS, title: 'Here' })).toEqual({ title: 'There' });
  expect(differingEdits(says, { ...EMPTY_FIELDS, title: 'There' })).toBeNull();
});

test('a look goes into what others changed, and into what may have lain elsewhere, and nothing else', () => {
  const there: ThereFile[] = [
    { path: 'same.mp3', size: 1, digest: null },
    { path: 'changed.mp3', size: 3, digest: null },
    { path: 'moved.mp3', size: 4, digest: null },
    { path: 'other.mp3', size: 5, digest: null },
    { path: 'told.mp3', size: 4, digest: 'told' },
  ];
  const left = (path: string, size: number, rest: Partial<PlacedFile> = {}) => ({
    ...placed,
    path,
    size,
    ...rest,
  });
  const looked = driftingOf(there, [
    left('same.mp3', 1),
    left('changed.mp3', 2),
    left('lost.mp3', 4),
    left('away.mp3', 5, { gone: true }),
  ]);
  expect([...looked].map(({ path }) => path)).toEqual(['changed.mp3', 'moved.mp3', 'other.mp3']);
});

test('where a place keeps no digests, a file of the same size is looked into when it is younger than the last run', () => {
  const file = (modified: number, digest: string | null = null): ThereFile => ({
    path: 'a.mp3',
    size: 9,
    digest,
    modified,
  });
  const looked = (one: ThereFile, since: number | null) => [...driftingOf([one], [placed], since)];
  expect(looked(file(5), 4)).toEqual([file(5)]);
  expect(looked(file(4), 4)).toEqual([]);
  expect(looked(file(5, 'd'), 4)).toEqual([]);
  expect(looked(file(5), null)).toEqual([]);
});

test('where a place keeps no digests, a file as old as one that lay there earlier is looked into', () => {
  const file = (modified: number, size = 9): ThereFile => ({ path: 'a.mp3', size, digest: null, modified });
  const looked = (one: ThereFile) => driftingOf([one], [placed], 8, [], new Map([[9, 7]])).size;
  expect([looked(file(6)), looked(file(7)), looked({ ...file(6), path: 'b.mp3' })]).toEqual([1, 0, 1]);
  expect(looked({ ...file(6, 8), path: 'b.mp3' })).toBe(0);
});
