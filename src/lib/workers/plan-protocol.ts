import type { ItemId } from '$lib/core/items';
import type { Plan, PlanInput, PlanItem } from '$lib/core/plan';

/** The planning worker keeps a mirror of the items, so that only what changed is sent. */
export type PlanRequest =
  | {
      readonly type: 'items';
      readonly id: number;
      readonly changed: readonly PlanItem[];
      readonly removed: readonly ItemId[];
    }
  | { readonly type: 'plan'; readonly id: number; readonly input: Omit<PlanInput, 'items'> };

/** The long lists of a plan. They come in parts before the plan itself, so that no message holds the page up. */
export interface PlanLists {
  readonly steps: Plan['steps'];
  readonly paths: Plan['paths'];
  readonly nodes: Plan['showing']['nodes'];
}
