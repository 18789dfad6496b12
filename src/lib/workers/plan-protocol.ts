import type { ItemId } from '$lib/core/items';
import type { Plan, PlanInput, PlanItem } from '$lib/core/plan';

/** The planning worker keeps a mirror of the items, so that only what changed is sent. */
export type PlanRequest =
  | { readonly type: 'items'; readonly changed: readonly PlanItem[]; readonly removed: readonly ItemId[] }
  | { readonly type: 'plan'; readonly id: number; readonly input: Omit<PlanInput, 'items'> };

export type PlanReply =
  | { readonly type: 'planned'; readonly id: number; readonly plan: Plan }
  | { readonly type: 'failed'; readonly id: number; readonly detail: string };
