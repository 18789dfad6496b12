import type { ItemId } from '$lib/core/items';
import type { Plan, PlanInput, PlanItem, PlannedPath, Shelf, Step } from '$lib/core/plan';
import type { PlanReply, PlanRequest } from './plan-protocol';

/** Items sent in one message, so that handing them over never holds the page up. */
const CHUNK_ITEMS = 200;

/** A plan asked for, with the parts of it that have come. */
interface Waiting {
  readonly resolve: (plan: Plan) => void;
  readonly reject: (error: Error) => void;
  readonly steps: Step[];
  readonly paths: PlannedPath[];
  readonly shelves: Shelf[];
}

/** The planning worker of this page; it starts with the first plan. */
export class PlanClient {
  private worker: Worker | null = null;
  private readonly waiting = new Map<number, Waiting>();
  private nextId = 1;

  /** Tells the worker which items changed since the last call. */
  async update(changed: readonly PlanItem[], removed: readonly ItemId[]): Promise<void> {
    for (let at = 0; at < changed.length || (at === 0 && removed.length > 0); at += CHUNK_ITEMS) {
      this.post({
        type: 'items',
        changed: changed.slice(at, at + CHUNK_ITEMS),
        removed: at === 0 ? removed : [],
      });
      if (at > 0) await new Promise((resolve) => setTimeout(resolve));
    }
  }

  /** @throws {Error} when planning failed, which is a fault of ours */
  plan(input: Omit<PlanInput, 'items'>): Promise<Plan> {
    const id = this.nextId++;
    return new Promise((resolve, reject) => {
      this.waiting.set(id, { resolve, reject, steps: [], paths: [], shelves: [] });
      this.post({ type: 'plan', id, input });
    });
  }

  private post(request: PlanRequest): void {
    if (!this.worker) {
      this.worker = new Worker(new URL('./plan-worker.ts', import.meta.url), { type: 'module' });
      this.worker.onmessage = ({ data }: MessageEvent<PlanReply>) => this.take(data);
    }
    this.worker.postMessage(request);
  }

  private take(reply: PlanReply): void {
    const waiting = this.waiting.get(reply.id);
    if (!waiting) return;
    if (reply.type === 'part') {
      waiting.steps.push(...(reply.part.steps ?? []));
      waiting.paths.push(...(reply.part.paths ?? []));
      waiting.shelves.push(...(reply.part.shelves ?? []));
      return;
    }
    this.waiting.delete(reply.id);
    const { steps, paths, shelves, resolve, reject } = waiting;
    if (reply.type === 'failed') reject(new Error(reply.detail));
    else resolve({ ...reply.plan, steps, paths, showing: { ...reply.plan.showing, shelves } });
  }
}
