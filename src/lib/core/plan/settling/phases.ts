import { Mismatches } from './mismatches';
import { Naming } from './naming';
import { Placing } from './placing';
import type { PlanState } from './state';

/** The objects that do the work of the phases. */
interface Doers {
  readonly state: PlanState;
  readonly naming: Naming;
  readonly placing: Placing;
  readonly mismatches: Mismatches;
}

/** One phase of updating a plan. Its texts document what it reads, writes and reopens; `README.md` shows them. */
interface Phase {
  readonly name: string;
  readonly reads: string;
  readonly writes: string;
  /** Further items that later phases look at because of this one; empty for none. */
  readonly opens: string;
  readonly run: (doers: Doers) => void;
}

/** In order: from what follows from single items to what follows from all of them. */
export const PHASES: readonly Phase[] = [
  {
    name: 'neighbours',
    reads: 'items',
    writes: 'what folders of a source share',
    opens: 'who lacks what its neighbours say',
    run: ({ state: { open, parts } }) => {
      for (const entry of open)
        if (entry.gone) parts.neighbours.take(entry);
        else parts.neighbours.put(entry);
      addAll(open, parts.neighbours.settle());
    },
  },
  {
    name: 'name',
    reads: 'neighbours, drifts of the item’s file',
    writes: 'the name by the rulebook; sides that count',
    opens: '',
    run: ({ state: { open }, naming }) => {
      for (const entry of open) naming.name(entry);
    },
  },
  {
    name: 'spelling',
    reads: 'names, folders that stay',
    writes: 'how each folder is spelled',
    opens: 'items of folders spelled otherwise',
    run: ({ state: { open, parts } }) => addAll(open, parts.spelling?.settle() ?? []),
  },
  {
    name: 'claim',
    reads: 'names, spelling',
    writes: 'the path that is asked for',
    opens: '',
    run: ({ state: { open }, naming }) => {
      for (const entry of open) naming.claim(entry);
    },
  },
  {
    name: 'claims',
    reads: 'paths that are asked for',
    writes: 'who gets a name, and who looks like another',
    opens: 'all who want one that changed hands',
    run: ({ state: { open, parts } }) => {
      for (const claims of [parts.claims, parts.stems, parts.shown]) addAll(open, claims.settle());
    },
  },
  {
    name: 'owners',
    reads: 'what became ours, or no longer is',
    writes: '',
    opens: 'who wants it, or has it in the way',
    run: ({ state }) => state.reopenAt(state.parts.world.takeChangedOwners()),
  },
  {
    name: 'folders',
    reads: 'who gets a name',
    writes: 'who has no place in a folder, who plays too late',
    opens: 'those for whom that changed',
    run: ({ state: { open, parts }, placing }) => {
      for (const entry of open) placing.fill(entry);
      addAll(open, parts.folders.settle());
    },
  },
  {
    // Before placement: most items of a library that is far larger than its player would only be removed again.
    name: 'offer',
    reads: 'who gets a name, what is written',
    writes: 'who stays out for want of room, as it seems',
    opens: 'whose turn that changed',
    run: ({ state: { open, parts }, placing }) => {
      if (!parts.room.isLimited) return;
      for (const entry of open) placing.offer(entry);
      addAll(open, parts.room.settle(parts.world.amount));
    },
  },
  {
    name: 'place',
    reads: 'all above',
    writes: 'what goes out, what is wanted, notes',
    opens: '',
    run: ({ state: { open }, placing }) => {
      for (const entry of open) placing.place(entry);
      open.clear();
    },
  },
  {
    name: 'together',
    reads: 'what goes out, what is wanted, what is there',
    writes: 'releases that would be torn, pictures of folders, lists, what becomes of each file',
    opens: '',
    run: ({ state }) => settleTogether(state),
  },
  {
    // Which items stay out depends on what the others write, so it is decided last and affects no names. Which lists
    // are written follows from that.
    name: 'room',
    reads: 'what is written',
    writes: 'who stays out',
    opens: 'those alone: placed and held against what is there again',
    run: ({ state, placing }) => {
      const { room, lists, world } = state.parts;
      const changed = room.settle(world.amount);
      for (const entry of changed) placing.place(entry);
      if (changed.length > 0) settleTogether(state);
      if (lists.fit(room.leftBeside(world.amount))) settleTogether(state);
    },
  },
  {
    name: 'mismatches',
    reads: 'what is shown of others’ files',
    writes: 'what is said of videos that are not found',
    opens: '',
    run: ({ state, mismatches }) => {
      if (state.parts.shelves.settle()) mismatches.say();
    },
  },
];

function settleTogether({ parts: { releases, pictures, lists, world }, entries }: PlanState): void {
  releases.settle();
  pictures.settle();
  lists.settle();
  world.settle((item) => entries.get(item));
}

function addAll<T>(set: Set<T>, more: readonly T[]): void {
  for (const one of more) set.add(one);
}

/** Updates everything for changes since the last time. Each phase adds the items that its changes affect. */
export class Settling {
  readonly placing: Placing;
  private readonly doers: Doers;

  constructor(state: PlanState) {
    this.placing = new Placing(state);
    this.doers = {
      state,
      naming: new Naming(state),
      placing: this.placing,
      mismatches: new Mismatches(state),
    };
  }

  run(): void {
    for (const { run } of PHASES) run(this.doers);
  }
}
