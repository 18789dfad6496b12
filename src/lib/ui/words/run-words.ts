import type { Difference, StepType, SyncPolicy, UnplacedCode } from '$lib/core/plan';
import type { FailureCode } from '$lib/core/run';

export const STEP_WORDS: Readonly<Record<StepType, string>> = {
  agree: 'Agree',
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
    name: 'the library leads',
    means: (player) =>
      `What we put on ${player} is kept as it is here; what others put there stays and is left alone.`,
  },
  both: {
    name: 'both count',
    means: (player) =>
      `What was done on ${player} alone is taken over here; where both changed the same, you are asked.`,
  },
  ask: {
    name: 'ask me',
    means: (player) => `What was done on ${player} waits until you say which side counts.`,
  },
};

/** Why a step failed, and what to do. */
export function failureWords(
  code: FailureCode,
  detail: string,
): { readonly why: string; readonly remedy: string } {
  const told: Readonly<Record<FailureCode, readonly [string, string]>> = {
    unreachable: ['the player does not answer', 'see that it is on, then resume'],
    full: ['no room is left there', 'make room, then resume'],
    refused: [`refused: ${detail}`, 'change the name or leave it out'],
    exists: ['a file of that name came there in the meantime', 'rehearse again'],
    gone: ['it is not there any more', 'rehearse again'],
    notAllowed: ['writing there is not allowed', 'choose the folder again, then resume'],
    unreadable: [`the original could not be read: ${detail}`, 'open its folder again or take it in anew'],
    cannotRewrite: [
      `its tags could not be written: ${detail}`,
      'put its fields back to the file’s, or leave it out',
    ],
    readBackDiffers: [`what was written ${detail}`, 'the copy was removed; leave its fields as they were'],
    itemFailed: ['the file it goes with failed', 'mend that, then run again'],
    changedSince: ['another hand changed it in the meantime', 'look at it yourself: it was left alone'],
  };
  const [why, remedy] = told[code];
  return { why, remedy };
}

export function unplacedWords(code: UnplacedCode, detail: string): string {
  switch (code) {
    case 'noSuchFolder':
      return 'in no folder that it looks into';
    case 'missing':
      return `no ${detail}`;
    case 'depth':
      return `it lies ${detail} folders deep, no higher and no deeper`;
    case 'namesDiffer':
      return `its folder is named ${detail}`;
    case 'noSidecar':
      return `no sidecar ${detail}`;
    case 'badSidecar':
      return `${detail} is not of its dialect`;
  }
}

export const DIFFERENCE_WORDS: Readonly<Record<Difference['what'], string>> = {
  missing: 'not shown',
  refused: 'could not be placed',
  extra: 'shown all the same',
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
