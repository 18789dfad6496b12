import { kindOf, type Item } from '$lib/core/items';
import { abilitiesOf, ofItems, type Player, type PlayerId, type TargetId } from '$lib/core/library';
import { NO_CHOICES } from '$lib/core/plan';
import { refusalOf, type Rulebook } from '$lib/core/rulebooks';
import { withRecipe, type NamedRecipe, type RecipeId } from '$lib/core/twins';
import { rulebookOf } from '$lib/rulebooks';
import type { RunClient } from '$lib/workers/run-client';
import type { Intake } from '../intake.svelte';
import type { LibraryMirror } from '../library-mirror';
import { placeKey } from '../library-records';
import type { Library } from '../library.svelte';
import type { Work } from '../work.svelte';
import { PlayerDecisions } from './decisions';
import type { OfPlayer } from './owner';
import { servedHere } from './video-codec.svelte';
import { PlayerPlace } from './place.svelte';
import { Rehearsal, hasToDo } from './rehearsal.svelte';
import { RunRecord } from './run-record.svelte';
import { PlayerRuns } from './runs.svelte';

/**
 * One player, made of its parts: the place of its files, the record of runs, the rehearsal of the next run, and the
 * runs. Each part knows those before it.
 */
export class PlayerDesk implements OfPlayer {
  readonly player: Player = $derived.by(() => this.library.playerOf(this.id, this.id));
  /** Rulebook as it was written. */
  readonly ownRulebook: Rulebook = $derived.by(() => rulebookOf(this.player));
  /** The recipe that was chosen for it; null if its rulebook decides. */
  readonly recipe: NamedRecipe | null = $derived.by(() => this.recipeOf(this.player.recipe));
  /** The same for moving pictures. */
  readonly videoRecipe: NamedRecipe | null = $derived.by(() => this.recipeOf(this.player.videoRecipe));
  /** Its rulebook, with the chosen recipe for twins. */
  readonly rulebook: Rulebook = $derived.by(() => {
    const { recipe, videoRecipe, ownRulebook } = this;
    return servedHere(withRecipe(withRecipe(ownRulebook, recipe), videoRecipe));
  });
  readonly name: string = $derived.by(() => this.player.name ?? this.rulebook.name);
  readonly place: PlayerPlace;
  readonly record: RunRecord;
  readonly rehearsal: Rehearsal;
  readonly runs: PlayerRuns;
  readonly decisions: PlayerDecisions;
  /** Counts looks at targets: of two at the same time, the later one counts. */
  private greeting = 0;

  constructor(
    readonly id: PlayerId,
    private readonly library: Library,
    private readonly work: Work,
    mirror: LibraryMirror,
    intake: () => Pick<Intake, 'takeIn' | 'sourceOf'>,
    runner?: RunClient,
    tellLists: () => Promise<void> = async () => {},
  ) {
    this.place = new PlayerPlace(this, library, mirror);
    this.record = new RunRecord(this, this.place, library);
    this.rehearsal = new Rehearsal(this, this.place, this.record, library, mirror, tellLists);
    this.runs = new PlayerRuns(this, this, library, work, mirror, intake, runner);
    this.decisions = new PlayerDecisions(library, this);
  }

  private recipeOf(id: RecipeId | undefined): NamedRecipe | null {
    return this.library.recipes.find((one) => one.id === id) ?? null;
  }

  get target() {
    return this.place.target;
  }

  /** Why it could not be looked at, rehearsed for or proved. */
  get trouble(): string | null {
    return this.place.trouble ?? this.rehearsal.trouble ?? this.runs.trouble;
  }

  /** Something has to be run, decided or resolved before it is as planned. */
  get isBehind(): boolean {
    const { plan } = this.rehearsal;
    return plan !== null && (hasToDo(plan) || plan.held > 0);
  }

  /** Looks at a target again: its files, and the journal of the last run. */
  async open(target: TargetId = this.target.id): Promise<void> {
    if (await this.greet(target)) await this.rehearsal.planNow();
  }

  /**
   * Lists a target, and shows the last rehearsal if it still applies.
   * @returns false if another look began meanwhile, which then takes over
   */
  async greet(target: TargetId = this.target.id): Promise<boolean> {
    const greeting = ++this.greeting;
    const isLatest = () => greeting === this.greeting;
    if (target !== this.target.id) this.record.clear();
    this.place.choose(target);
    this.runs.clear();
    this.rehearsal.clear();
    const kept = await this.place.find();
    const record = await this.record.find(target);
    // What is known of one target does not apply to the one chosen since.
    if (!isLatest()) return false;
    this.place.keep(kept);
    this.record.keep(record);
    await this.rehearsal.recall(isLatest);
    return isLatest();
  }

  /** Lists the player and rehearses again. */
  look(): Promise<void> {
    return this.runs.look();
  }

  planSoon(): void {
    this.rehearsal.planSoon();
  }

  /** Writes to this folder from now on. Earlier runs wrote to another one. */
  async useFolder(handle: FileSystemDirectoryHandle): Promise<void> {
    const { storage } = this.library;
    const { folder } = this.place;
    const target = this.player.targets.find((one) => abilitiesOf(one).isChosen);
    if (!this.runs.mayStart || !target) return;
    const isSame = folder !== null && (await folder.isSameEntry(handle));
    if (!isSame) {
      if (this.record.isUnfinished) {
        this.work.say('The last run into the folder is unfinished: resume it or take it back first', true);
        return;
      }
      await storage.runs.drop(target.id);
      // Decisions about items stay; decisions about files were for the folder before.
      this.library.setChoices(this.player, target, { ...NO_CHOICES, ...ofItems(target.choices) });
      this.library.setBase(target.id, []);
    }
    await storage.handles.keep(placeKey(this.id), handle);
    await this.open(target.id);
  }

  /** Whether it plays an item as it is. */
  takes(item: Item): boolean {
    const kind = kindOf(item);
    return kind !== null && refusalOf(this.rulebook, kind, { ...item, ...item.facts }) === null;
  }

  /** Ends the workers, with the library. */
  end(): void {
    this.rehearsal.end();
    this.runs.end();
  }
}
