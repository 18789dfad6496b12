import type { ItemId } from '$lib/core/items';
import { planRun, type Plan, type PlanItem } from '$lib/core/plan';
import type { PlanLists, PlanRequest } from './plan-protocol';
import { serveAnswers, type Port } from './worker-client';

/** Entries of a list that go in one message. */
const PART = 400;

/** Plans for whoever asks through a port. */
export function servePlanning(port: Port): void {
  const mirror = new Map<ItemId, PlanItem>();
  serveAnswers<PlanRequest, Partial<PlanLists>>(port, (request, tellPart) => {
    if (request.type === 'plan')
      return inParts(planRun({ ...request.input, items: [...mirror.values()] }), tellPart);
    for (const id of request.removed) mirror.delete(id);
    for (const item of request.changed) mirror.set(item.id, item);
    return null;
  });
}

/** Sends the long lists ahead. @returns the plan without them */
function inParts(plan: Plan, tellPart: (part: Partial<PlanLists>) => void): Plan {
  const lists: PlanLists = { steps: plan.steps, paths: plan.paths, nodes: plan.showing.nodes };
  for (const [name, values] of Object.entries(lists) as [keyof PlanLists, readonly unknown[]][])
    for (let at = 0; at < values.length; at += PART) tellPart({ [name]: values.slice(at, at + PART) });
  return { ...plan, steps: [], paths: [], showing: { ...plan.showing, nodes: [] } };
}
