import type { ItemId } from '$lib/core/items';
import type { Plan, PlanInput, PlanItem } from '$lib/core/plan';
import type { PlanLists, PlanRequest } from './plan-protocol';
import { WorkerClient, type Port } from './worker-client';

/** Items sent in one message, so that handing them over never holds the page up. */
const CHUNK_ITEMS = 200;
/** Milliseconds for a plan of a large library on a slow machine. */
const LIMIT = 300_000;

/** The planning worker of this page; it starts with the first plan. */
export class PlanClient {
  private readonly client: WorkerClient<PlanRequest>;

  constructor(
    makePort: () => Port = () => new Worker(new URL('./plan-worker.ts', import.meta.url), { type: 'module' }),
  ) {
    this.client = new WorkerClient(makePort);
  }

  /** Changes when the worker was started anew, and knows no items any more. */
  get generation(): number {
    return this.client.generation;
  }

  end(): void {
    this.client.end();
  }

  /** Tells the worker which items changed since the last call. @throws {WorkerError} when it was started anew since */
  async update(changed: readonly PlanItem[], removed: readonly ItemId[], generation: number): Promise<void> {
    for (let at = 0; at < changed.length || (at === 0 && removed.length > 0); at += CHUNK_ITEMS)
      await this.client.ask(
        { type: 'items', changed: changed.slice(at, at + CHUNK_ITEMS), removed: at === 0 ? removed : [] },
        { generation, limit: LIMIT },
      );
  }

  /** @throws {WorkerError} when planning failed, which is a fault of ours */
  async plan(input: Omit<PlanInput, 'items'>, generation: number): Promise<Plan> {
    const lists = { steps: [] as unknown[], paths: [] as unknown[], nodes: [] as unknown[] };
    const plan = await this.client.ask<Plan, Partial<PlanLists>>(
      { type: 'plan', input },
      {
        generation,
        limit: LIMIT,
        onPart: (part) => {
          for (const [name, values] of Object.entries(part)) lists[name as keyof PlanLists].push(...values);
        },
      },
    );
    const { steps, paths, nodes } = lists as unknown as PlanLists;
    return { ...plan, steps, paths, showing: { ...plan.showing, nodes } };
  }
}
