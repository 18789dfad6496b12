import type { ItemId } from '$lib/core/items';
import { planRun, type Plan, type PlanItem } from '$lib/core/plan';
import type { PlanLists, PlanReply, PlanRequest } from './plan-protocol';

/** Entries of a list that go in one message. */
const PART = 400;
const mirror = new Map<ItemId, PlanItem>();

self.onmessage = ({ data }: MessageEvent<PlanRequest>) => {
  if (data.type === 'items') {
    for (const id of data.removed) mirror.delete(id);
    for (const item of data.changed) mirror.set(item.id, item);
    return;
  }
  try {
    send(data.id, planRun({ ...data.input, items: [...mirror.values()] }));
  } catch (error) {
    reply({ type: 'failed', id: data.id, detail: error instanceof Error ? error.message : String(error) });
  }
};

const reply = (message: PlanReply) => self.postMessage(message);

function send(id: number, plan: Plan): void {
  const lists: PlanLists = { steps: plan.steps, paths: plan.paths, shelves: plan.showing.shelves };
  for (const [name, values] of Object.entries(lists) as [keyof PlanLists, readonly unknown[]][]) {
    for (let at = 0; at < values.length; at += PART)
      reply({ type: 'part', id, part: { [name]: values.slice(at, at + PART) } });
  }
  reply({
    type: 'planned',
    id,
    plan: { ...plan, steps: [], paths: [], showing: { ...plan.showing, shelves: [] } },
  });
}
