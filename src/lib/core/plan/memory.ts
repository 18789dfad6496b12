import { pathKey } from '../naming';
import type { Rulebook } from '../rulebooks';
import { ItemPlan } from './item-plan';
import { Namer } from './namer';
import type { PlanItem } from './plan-item';
import type { PlacedFile, PlayerChoices, ThereFile } from './step';
import { There } from './there';

/** Keys of paths that are remembered; they are begun anew beyond, since paths that are gone stay among them. */
const MOST_KEYS = 1_000_000;

interface Looked {
  readonly list: readonly ThereFile[];
  readonly placed: readonly PlacedFile[];
  readonly asked: string;
  readonly there: There;
}

/**
 * What plans for one rulebook need of each item, worked out once for as long as the item stays the same: after an edit
 * the next plan works that out for what changed alone. A plan made with a memory is the plan made without one.
 */
export class PlanMemory {
  private readonly namer: Namer;
  private readonly items = new WeakMap<PlanItem, ItemPlan>();
  private keys = new Map<string, string>();
  private last: Looked | null = null;

  constructor(readonly rulebook: Rulebook) {
    this.namer = new Namer(rulebook);
  }

  of(item: PlanItem): ItemPlan {
    let known = this.items.get(item);
    if (!known) this.items.set(item, (known = new ItemPlan(item, this.rulebook, this.namer)));
    return known;
  }

  /** The player as it lies there: the same one as before, where the same lists say it. */
  there(list: readonly ThereFile[], placed: readonly PlacedFile[], choices: PlayerChoices): There {
    const asked = JSON.stringify([choices.replace, choices.renames]);
    if (this.last?.list !== list || this.last.placed !== placed || this.last.asked !== asked)
      this.last = { list, placed, asked, there: new There(list, placed, choices, this) };
    return this.last.there;
  }

  /** A path by the player's own idea of equal ones. */
  key(path: string): string {
    let key = this.keys.get(path);
    if (key !== undefined) return key;
    if (this.keys.size > MOST_KEYS) this.keys = new Map();
    this.keys.set(path, (key = pathKey(path, this.rulebook.disk)));
    return key;
  }
}
