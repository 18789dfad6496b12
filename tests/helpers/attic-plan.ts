import type { Item } from '../../src/lib/core/items';
import {
  NO_CHOICES,
  planRun,
  type FailedStep,
  type Finding,
  type Plan,
  type PlacedFile,
  type PlayerChoices,
  type SyncPolicy,
  type ThereFile,
} from '../../src/lib/core/plan';
import { RULEBOOKS } from '../../src/lib/rulebooks';
import { makeItem, planItem } from './items';

/* Plans for Attic, with what lies there already and what was decided for it. */

interface World {
  readonly there?: readonly ThereFile[];
  readonly placed?: readonly PlacedFile[];
  readonly choices?: Partial<PlayerChoices>;
  readonly policy?: SyncPolicy;
  readonly failed?: readonly FailedStep[];
}

export function plan(
  items: readonly Item[],
  { there = [], placed = [], choices = {}, policy = 'ask', failed = [] }: World = {},
): Plan {
  return planRun({
    items: items.map(planItem),
    rulebook: RULEBOOKS.attic,
    there,
    placed,
    choices: { ...NO_CHOICES, ...choices },
    policy,
    failed,
    token: 'token',
  });
}

export const finding = (made: Plan, code: Finding['code']): Finding | undefined =>
  made.findings.find((one) => one.code === code);
export const pathsOf = (made: Plan) => made.paths.map(({ path }) => path);

/** The player after a plan's steps went through, as its listing and our memory of it. */
export function after(made: Plan): { there: ThereFile[]; placed: PlacedFile[] } {
  const placed = made.steps.flatMap((step): PlacedFile[] =>
    step.type === 'copy' || step.type === 'writePicture' || step.type === 'writeText'
      ? [{ path: step.path, owner: step.owner, signature: step.signature, size: 1, digest: `d${step.path}` }]
      : [],
  );
  return { placed, there: placed.map(({ path, size, digest }) => ({ path, size, digest })) };
}

export const video = (id: string, fields: Parameters<typeof makeItem>[1], rest: Partial<Item> = {}) =>
  makeItem(id, fields, { settled: 'musicVideo', format: 'mp4', path: `Videos/${id}.mp4`, ...rest });
