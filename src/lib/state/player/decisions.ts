import {
  editItem,
  fieldsOf,
  homeOf,
  releaseKey,
  type ChosenPicture,
  type Edits,
  type Item,
  type ItemId,
} from '$lib/core/items';
import { withChoices, type Player, type Target } from '$lib/core/library';
import { nameOf } from '$lib/core/paths';
import {
  NO_CHOICES,
  type PlayerChoices,
  type Remedy,
  type Selection,
  type Side,
  type SyncPolicy,
} from '$lib/core/plan';
import type { Rulebook } from '$lib/core/rulebooks';
import type { NamedRecipe } from '$lib/core/twins';
import type { Library } from '../library.svelte';

/** The player that decisions are for. */
interface Decided {
  readonly player: Player;
  readonly target: Target;
  readonly name: string;
  planSoon(): void;
}

/** What the curator decides for one player: each is an act by its name, that can be undone. */
export class PlayerDecisions {
  constructor(
    private readonly library: Library,
    private readonly desk: Decided,
  ) {}

  choose(add: Partial<PlayerChoices>, label: string): void {
    const merged = Object.fromEntries(
      Object.entries(this.desk.target.choices).map(([name, list]) => [
        name,
        [...(list as unknown[]), ...((add[name as keyof PlayerChoices] ?? []) as unknown[])],
      ]),
    ) as unknown as PlayerChoices;
    this.library.setChoices(this.desk.player, this.desk.target, merged, label);
    this.desk.planSoon();
  }

  /** Chooses a side for files that changed on the player. */
  decide({ files }: Pick<Extract<Remedy, { type: 'decide' }>, 'files'>, side: Side): void {
    const counts = side === 'here' ? 'the library counts' : `${this.desk.name} counts`;
    const what = files.length === 1 ? nameOf(files[0]?.path ?? '') : `${files.length} files`;
    this.choose({ sides: files.map((file) => ({ ...file, side })) }, `That ${counts} for ${what}`);
  }

  /** Has files of others removed by the next run. */
  removeOthers({ files }: Pick<Extract<Remedy, { type: 'decide' }>, 'files'>): void {
    const removes = files.flatMap(({ path, was }) => (was ? [{ path, was }] : []));
    const what = removes.length === 1 ? nameOf(removes[0]?.path ?? '') : `${removes.length} files`;
    this.choose({ removes }, `Remove ${what} from ${this.desk.name}`);
  }

  /** Sets who decides if both sides differ. */
  setPolicy(policy: SyncPolicy): void {
    this.library.setPlayer({ ...this.desk.player, policy }, `Sync policy of ${this.desk.name}`);
    this.desk.planSoon();
  }

  /** Sets the player's selection. */
  select(selection: Selection, label = `Selection of ${this.desk.name}`): void {
    this.library.setPlayer({ ...this.desk.player, selection }, label);
    this.desk.planSoon();
  }

  /** Adds single items, whatever its selection and earlier exclusions. */
  have(items: readonly ItemId[], label: string): void {
    const { selection } = this.desk.player;
    const { choices } = this.desk.target;
    const own = new Set(items);
    const leftOut = choices.leftOut.filter((id) => !own.has(id));
    const player = withChoices(this.desk.player, this.desk.target.id, { ...choices, leftOut });
    const all = new Set([...selection.with, ...items]);
    this.library.setPlayer({ ...player, selection: { ...selection, with: [...all] } }, label);
    this.desk.planSoon();
  }

  /** Lets items in again that were left out. */
  letIn(items: readonly ItemId[], label: string): void {
    const { choices } = this.desk.target;
    const own = new Set(items);
    const leftOut = choices.leftOut.filter((id) => !own.has(id));
    this.library.setChoices(this.desk.player, this.desk.target, { ...choices, leftOut }, label);
    this.desk.planSoon();
  }

  /** Leaves out single items, whatever its selection. */
  leaveOut(items: readonly ItemId[], label: string): void {
    const { choices } = this.desk.target;
    const leftOut = [...new Set([...choices.leftOut, ...items])];
    const player = withChoices(this.desk.player, this.desk.target.id, { ...choices, leftOut });
    this.library.setPlayer(player, label);
    this.desk.planSoon();
  }

  /** Sets another rulebook; null for the one it came with. */
  setRulebook(own: Rulebook | null): void {
    this.library.setPlayer({ ...this.desk.player, own }, `Rulebook of ${this.desk.name}`);
    this.desk.planSoon();
  }

  /** Sets the recipe for its twins; null for that of its rulebook. @param of the type of recipe */
  setRecipe(of: 'recipe' | 'videoRecipe', recipe: NamedRecipe | null): void {
    const { [of]: _, ...player } = this.desk.player;
    const next = recipe ? { ...player, [of]: recipe.id } : player;
    this.library.setPlayer(next, `Recipe of ${this.desk.name}`);
    this.desk.planSoon();
  }

  /** Chooses a picture for a top folder; null takes it from its albums again. */
  setPicture(path: string, picture: ChosenPicture | null, label: string): void {
    const { player, target } = this.desk;
    const others = target.choices.pictures.filter((one) => one.path !== path);
    const pictures = picture ? [...others, { path, picture }] : others;
    this.library.setChoices(player, target, { ...target.choices, pictures }, label);
    this.desk.planSoon();
  }

  setBySelf(bySelf: boolean): void {
    this.library.setPlayer({ ...this.desk.player, bySelf });
  }

  /** Withdraws all decisions for this target: exclusions, shortened names, replacements, renames and removals. */
  forgetChoices(): void {
    this.library.setChoices(
      this.desk.player,
      this.desk.target,
      NO_CHOICES,
      `Decisions for ${this.desk.name}`,
    );
    this.desk.planSoon();
  }

  /** Applies a remedy that only touches descriptions or choices. Others are the caller's. */
  mend(remedy: Remedy, label: string): void {
    switch (remedy.type) {
      case 'edit': {
        const edits = new Map(remedy.changes.map(({ item, edits: own }) => [item, own]));
        this.library.act(label, this.library.findAll(edits.keys()), (item) =>
          editedBy(item, edits.get(item.id)),
        );
        break;
      }
      case 'settleKind': {
        const kinds = new Map(remedy.changes.map(({ item, kind }) => [item, kind]));
        this.library.settle(label, this.library.findAll(kinds.keys()), ({ id }) => kinds.get(id) ?? null);
        break;
      }
      case 'edition':
        this.library.edit(label, editionOf(this.library, remedy.items), { edition: remedy.mark });
        break;
      case 'choose':
        this.choose(remedy.add, label);
        break;
      default:
    }
  }
}

/** Items that belong to the same edition as these: of their albums, in their folders, of their formats. */
function editionOf(library: Library, items: readonly ItemId[]): readonly Item[] {
  const keyOf = (item: Item) => `${item.source}\n${item.format}\n${releaseKey(item.path, fieldsOf(item))}`;
  const meant = library.findAll(items);
  const keys = new Set(meant.map(keyOf));
  const homes = [...new Set(meant.map(({ path }) => homeOf(path)))];
  // By the beginnings of paths first: keys of a hundred thousand items would be felt.
  return library.items.filter(
    (item) => homes.some((home) => item.path.startsWith(home)) && keys.has(keyOf(item)),
  );
}

function editedBy(item: Item, edits: Edits | undefined): Item {
  return edits ? editItem(item, edits) : item;
}
