import { expect, test } from 'vitest';
import type { Gathering, Proposal } from '$lib/core/identify';
import { Proposals } from '$lib/state/identify/proposals.svelte';
import type { LookedUp } from '$lib/state/identify/look-ups.svelte';
import { eventually } from '../helpers/eventually';

const gathering = (key: string, files = 2): Gathering => ({
  key,
  label: key,
  type: 'album',
  items: Array.from({ length: files }, (_, index) => `${key}${index}` as never),
  state: 'waits',
  waiting: files,
  by: 'folder',
  words: key,
  whole: null,
});
const SURE: Proposal = { parts: [], open: [], doubt: null };
const FOUND: LookedUp = {
  phase: 'found',
  candidates: [],
  releases: [{} as never],
  trouble: null,
  dropped: 0,
};
const AWAY: LookedUp = {
  phase: 'failed',
  candidates: [],
  releases: [],
  trouble: { code: 'unreachable', detail: '' },
  dropped: 0,
};

/** Proposals over sets that a test changes, and what was asked, in order. */
function made(answer: (key: string, way: string) => LookedUp | Promise<LookedUp>, proposal = SURE) {
  const asked: string[] = [];
  const sets = {
    waiting: [] as readonly Gathering[],
    openKey: null as string | null,
    gatherNow: async () => {},
  };
  const lookUps = {
    of: () => null,
    restore: () => {},
    askFor: async ({ key }: Gathering, way: string) => {
      asked.push(`${key} ${way}`);
      return answer(key, way);
    },
    propose: async () => proposal,
  };
  const proposals = new Proposals(
    { mayWrite: true } as never,
    {} as never,
    sets as never,
    lookUps as never,
    {} as never,
    () => ({}) as never,
  );
  return { asked, sets, proposals };
}

test('sets are asked about one after the other, and again only if they are other sets', async () => {
  const { asked, sets, proposals } = made(() => FOUND);
  sets.waiting = [gathering('a'), gathering('too many', 301), gathering('b')];
  const end = proposals.begin();
  await eventually(() => expect(asked).toEqual(['a all', 'b all']));
  await eventually(() => expect(proposals.remaining).toBe(0));
  sets.waiting = [sets.waiting[0] as Gathering, gathering('b', 3)];
  proposals.follow();
  await eventually(() => expect(asked).toEqual(['a all', 'b all', 'b all']));
  expect(proposals.of(sets.waiting[0] as Gathering)).toBe(SURE);
  end();
});

test('a set that is not sure is listened to; the one on show is left to the curator', async () => {
  const { asked, sets, proposals } = made(() => FOUND, { ...SURE, doubt: 'pairs' });
  sets.waiting = [gathering('a'), gathering('b')];
  sets.openKey = 'a';
  const end = proposals.begin();
  await eventually(() => expect(asked).toEqual(['b all', 'b sound']));
  await eventually(() => expect(proposals.remaining).toBe(0));
  sets.openKey = null;
  proposals.follow();
  await eventually(() => expect(asked).toEqual(['b all', 'b sound', 'a all', 'a sound']));
  end();
});

test('if the reference is away, asking stops until it is wanted again', async () => {
  let isAway = true;
  const { asked, sets, proposals } = made(() => (isAway ? AWAY : FOUND));
  sets.waiting = [gathering('a'), gathering('b')];
  const end = proposals.begin();
  await eventually(() => expect(proposals.trouble?.code).toBe('unreachable'));
  expect(asked).toEqual(['a all']);
  isAway = false;
  proposals.tryAgain();
  await eventually(() => expect(asked).toEqual(['a all', 'a all', 'b all']));
  end();
});

test('a fault of the worker is told, and none once the board was left', async () => {
  const { sets, proposals } = made(() => Promise.reject(new Error('it fell over')));
  sets.waiting = [gathering('a')];
  const end = proposals.begin();
  await eventually(() => expect(proposals.trouble?.detail).toBe('it fell over'));
  end();
  proposals.begin();
  proposals.end();
  await eventually(() => expect(proposals.remaining).toBe(0));
  expect(proposals.trouble).toBeNull();
});
