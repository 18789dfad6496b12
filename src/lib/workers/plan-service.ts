import type { ItemId } from '$lib/core/items';
import type { TargetId } from '$lib/core/library';
import {
  aboutItems,
  PlanMemory,
  digestOf,
  nodesOf,
  planRun,
  prove,
  type PlacedFile,
  type Plan,
  type PlanItem,
  type PlayerScan,
  type ThereFile,
} from '$lib/core/plan';
import type { Rulebook } from '$lib/core/rulebooks';
import { JOURNAL_VERSION, type Journal } from '$lib/core/run';
import type { PlanRequest, PlanStart, PlanWishes } from './plan-protocol';
import type { RunTarget } from './run-protocol';
import { serveAnswers, type Port } from './worker-client';

/** What planning needs of the world outside. */
export interface PlanOutside {
  list(target: RunTarget): Promise<readonly ThereFile[]>;
  /** What the player itself shows. */
  scan(): Promise<PlayerScan>;
  keepJournal(library: string, target: TargetId, journal: Journal): Promise<void>;
}

/** Plans for whoever asks through a port. */
export function servePlanning(port: Port, outside: PlanOutside): void {
  const planner = new Planner(outside);
  serveAnswers<PlanRequest>(port, (request) => planner.answer(request));
}

/** The items, the player as it lies there, and the plan from the ones to the other. */
class Planner {
  private readonly items = new Map<ItemId, PlanItem>();
  private there: readonly ThereFile[] = [];
  private placed: readonly PlacedFile[] = [];
  private memory: PlanMemory | null = null;
  private made: { readonly plan: Plan; readonly token: string } | null = null;

  constructor(private readonly outside: PlanOutside) {}

  answer(request: PlanRequest): unknown {
    switch (request.type) {
      case 'items':
        for (const id of request.removed) this.items.delete(id);
        for (const item of request.changed) this.items.set(item.id, item);
        return null;
      case 'look':
        return this.look(request.target);
      case 'base':
        this.placed = request.placed;
        return null;
      case 'plan':
        return this.plan(request.input);
      case 'nodes':
        return this.made ? nodesOf(this.made.plan, request.key) : [];
      case 'about':
        return this.made && aboutItems(this.made.plan, new Set(request.items));
      case 'finding':
        return this.made?.plan.findings.find(({ id }) => id === request.finding) ?? null;
      case 'begin':
        return this.begin(request);
      case 'prove':
        return this.prove();
    }
  }

  private async look(target: RunTarget | null): Promise<null> {
    // What a place said before it stopped answering is no ground for a plan.
    this.there = [];
    if (target) this.there = await this.outside.list(target);
    return null;
  }

  private plan({ rulebook: told, choices, token }: PlanWishes) {
    const { there, placed } = this;
    const memory = this.memoryFor(told);
    const { rulebook } = memory;
    const items = [...this.items.values()];
    const plan = planRun({ items, rulebook, there, placed, choices, token }, memory);
    this.made = { plan, token };
    return digestOf(plan, rulebook);
  }

  /** The memory of the plans before, where they were for the same rulebook: each message brings a copy of it. */
  private memoryFor(rulebook: Rulebook): PlanMemory {
    if (!this.memory || JSON.stringify(this.memory.rulebook) !== JSON.stringify(rulebook))
      this.memory = new PlanMemory(rulebook);
    return this.memory;
  }

  private async begin({ token, library, target, journal }: PlanStart): Promise<null> {
    if (this.made?.token !== token) throw new Error('the plan was made anew in between');
    await this.outside.keepJournal(library, target, {
      ...journal,
      version: JOURNAL_VERSION,
      endedAt: null,
      state: 'running',
      reason: null,
      steps: this.made.plan.steps,
      outcomes: [],
      placedBefore: this.placed,
    });
    return null;
  }

  private async prove() {
    if (!this.made) throw new Error('there is no rehearsal to hold it against');
    const { showing, paths } = this.made.plan;
    return prove(showing, await this.outside.scan(), new Set(paths.map(({ path }) => path)));
  }
}
