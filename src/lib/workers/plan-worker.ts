import type { ItemId } from '$lib/core/items';
import { planRun, type PlanItem } from '$lib/core/plan';
import type { PlanReply, PlanRequest } from './plan-protocol';

const mirror = new Map<ItemId, PlanItem>();

self.onmessage = ({ data }: MessageEvent<PlanRequest>) => {
  if (data.type === 'items') {
    for (const id of data.removed) mirror.delete(id);
    for (const item of data.changed) mirror.set(item.id, item);
  } else if (data.type === 'plan') self.postMessage(plan(data.id, data.input));
};

function plan(id: number, input: Extract<PlanRequest, { type: 'plan' }>['input']): PlanReply {
  try {
    return { type: 'planned', id, plan: planRun({ ...input, items: [...mirror.values()] }) };
  } catch (error) {
    return { type: 'failed', id, detail: error instanceof Error ? error.message : String(error) };
  }
}
