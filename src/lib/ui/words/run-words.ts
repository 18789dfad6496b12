import type { Difference, StepType, SyncPolicy, UnplacedCode } from '$lib/core/plan';
import type { FailureCode } from '$lib/core/run';

export const STEP_WORDS: Readonly<Record<StepType, string>> = {
  agree: 'Note as is',
  makeFolder: 'Make folder',
  copy: 'Copy',
  writePicture: 'Write picture',
  writeText: 'Write text',
  move: 'Move',
  remove: 'Remove',
};

export const POLICY_WORDS: Readonly<
  Record<SyncPolicy, { readonly name: string; readonly means: (player: string) => string }>
> = {
  leads: {
    name: 'library wins',
    means: (player) =>
      `Files from this library are kept as they are here. Other files on ${player} are left alone.`,
  },
  both: {
    name: 'merge',
    means: (player) =>
      `Changes made only on ${player} are taken over here. Where both sides changed the same thing, you decide.`,
  },
  ask: {
    name: 'ask me',
    means: (player) => `Every change made on ${player} waits for your decision.`,
  },
};

/** Why a step failed, and what to do. */
export function failureWords(
  code: FailureCode,
  detail: string,
): { readonly why: string; readonly remedy: string } {
  const told: Readonly<Record<FailureCode, readonly [string, string]>> = {
    unreachable: ['the player does not answer', 'check that it is on, then resume'],
    full: ['the player is full', 'free some space, then resume'],
    refused: [`refused: ${detail}`, 'change the name or leave it out'],
    exists: ['a file of that name appeared there in the meantime', 'rehearse again'],
    gone: ['it is no longer there', 'rehearse again'],
    notAllowed: ['writing there is not allowed', 'choose the folder again, then resume'],
    unreadable: [`the original could not be read: ${detail}`, 'open its folder again, or take it in again'],
    cannotRewrite: [
      `its tags could not be written: ${detail}`,
      'undo the changes to its fields, or leave it out',
    ],
    readBackDiffers: [`what was written ${detail}`, 'the copy was removed; undo the changes to its fields'],
    itemFailed: ['the file it goes with failed', 'fix that, then run again'],
    changedSince: ['another program changed it in the meantime', 'it was left alone: check it yourself'],
  };
  const [why, remedy] = told[code];
  return { why, remedy };
}

export function unplacedWords(code: UnplacedCode, detail: string): string {
  switch (code) {
    case 'noSuchFolder':
      return 'not in a folder that it reads';
    case 'missing':
      return `no ${detail}`;
    case 'depth':
      return `it must be ${detail} folders deep`;
    case 'namesDiffer':
      return `its folder is named ${detail}`;
    case 'noSidecar':
      return `no sidecar ${detail}`;
    case 'badSidecar':
      return `it does not read the format of ${detail}`;
  }
}

export const DIFFERENCE_WORDS: Readonly<Record<Difference['what'], string>> = {
  missing: 'not shown',
  refused: 'could not be placed',
  extra: 'shown unexpectedly',
  shelf: 'on another shelf',
  title: 'another title',
  maker: 'another maker',
  year: 'another year',
  season: 'another season',
  episode: 'another episode',
  artist: 'another artist',
  track: 'another track',
  disc: 'another disc',
  picture: 'another picture',
  list: 'another playlist',
};
