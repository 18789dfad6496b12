import { abilitiesOf, type TargetAbilities, type Target, type TargetId } from '$lib/core/library';
import type { PlacedFile } from '$lib/core/plan';
import type { TargetRoom } from '$lib/core/run';
import type { TargetAddress } from '$lib/io/stores/store-of';
import { findZip } from '$lib/io/stores/zip-files';
import type { LookResult } from '$lib/workers/library-protocol';
import type { LibraryMirror } from '../library-mirror';
import { placeKey } from '../library-records';
import type { Library } from '../library.svelte';
import type { OfPlayer } from './owner';

/** Our files at a place, and when both sides last agreed. */
export interface AgreedBase {
  readonly placed: readonly PlacedFile[];
  /** Milliseconds since 1970; null if no run has ended there. */
  readonly agreedAt: number | null;
}

/** The place of a player's files: the target of runs, and what was found there. */
export class PlayerPlace {
  /** The folder that was chosen, of a place that is one. */
  folder = $state.raw<FileSystemDirectoryHandle | null>(null);
  /** The file that the last run made, of a place that is saved. */
  zip = $state.raw<File | null>(null);
  private targetId = $state<TargetId | null>(null);
  /** It was away at one look and answered at the next. Reset by whoever reacts to that. */
  hasReturned = false;
  /** The result of the last look; null before the first. */
  private look = $state.raw<LookResult | null>(null);
  /** The generation of the worker that listed the place, and the base that it was sent. */
  private listedBy = 0;
  private told: (AgreedBase & { readonly generation: number }) | null = null;

  constructor(
    private readonly of: OfPlayer,
    private readonly library: Library,
    private readonly mirror: LibraryMirror,
  ) {}

  /** The target of the next run: the device itself unless another one is chosen. */
  get target(): Target {
    const { targets } = this.of.player;
    return targets.find(({ id }) => id === this.targetId) ?? (targets[0] as Target);
  }

  get can(): TargetAbilities {
    return abilitiesOf(this.target);
  }

  /** Why it does not answer; null while it does. */
  get trouble(): string | null {
    return this.look?.type === 'away' ? this.look.why : null;
  }

  /** When it last answered, while it does not; null if never. */
  get seenAt(): number | null {
    return this.look?.type === 'away' ? this.look.seenAt : null;
  }

  /** Since when it has been as it was last listed; null if never listed. */
  get since(): number | null {
    return this.look?.type === 'listed' ? this.look.since : this.seenAt;
  }

  /** Bytes of its disk at the last look; null if it does not report them. */
  get room(): TargetRoom | null {
    return this.look === null || this.look.type === 'unchosen' ? null : this.look.room;
  }

  /** The most bytes that its files may take in total; null if unknown. */
  get limit(): number | null {
    const { can, room } = this;
    if (can.isUnlimited) return null;
    return can.tellsRoom && room ? room.room - room.others : this.of.rulebook.disk.room;
  }

  /** Selects a target. */
  choose(target: TargetId): void {
    this.targetId = target;
  }

  /** Loads what is stored for a target. `keep` then uses it. */
  async find(): Promise<{ readonly folder: FileSystemDirectoryHandle | null; readonly zip: File | null }> {
    const folder = await this.library.storage.handles.find(placeKey(this.of.id));
    return { folder, zip: await this.findZip() };
  }

  keep({ folder, zip }: Awaited<ReturnType<PlayerPlace['find']>>): void {
    this.folder = folder;
    this.zip = zip;
    this.forget();
  }

  /** Looks for the file that a run made. */
  async refreshZip(): Promise<void> {
    this.zip = await this.findZip();
  }

  /** Has it listed again before the next plan. */
  forget(): void {
    this.listedBy = 0;
  }

  /** The address of its files. @throws {RangeError} if no folder is chosen */
  address(): TargetAddress {
    const { type } = this.target;
    const { device } = this.of.player;
    if (type === 'device' && device !== null) return { type: 'device', device };
    if (type === 'zip') return { type: 'zip', name: this.zipName };
    if (!this.folder) throw new RangeError('no folder is chosen');
    return { type: 'folder', handle: this.folder };
  }

  /** Sends the base to the worker and has it list the place, if the base changed or `forget` was called. */
  async tell(generation: number, base: AgreedBase): Promise<void> {
    const { client } = this.mirror;
    const { id } = this.of;
    if (this.told?.placed !== base.placed || this.told.generation !== generation) {
      await client.base(id, base.placed, base.agreedAt, generation);
      this.told = { ...base, generation };
      // A look reads the files that differ from the base, so one with an earlier base may have missed some.
      this.forget();
    }
    if (this.listedBy === generation) return;
    this.listedBy = generation;
    const unchosen = this.can.isChosen && !this.folder;
    const { name: library, mayWrite } = this.library;
    const kept = { library, target: this.target.id, mayWrite };
    const { replace, renames, removes } = this.target.choices;
    const permissions = [...replace, ...renames, ...removes];
    const at = unchosen ? null : this.address();
    const wasAway = this.trouble !== null;
    this.look = await client.look({ player: id, target: at, kept, permissions }, generation);
    if (wasAway && this.look.type === 'listed') this.hasReturned = true;
  }

  private get zipName(): string {
    return `${this.of.id}.zip`;
  }

  private async findZip(): Promise<File | null> {
    return this.can.isSaved ? findZip(this.zipName) : null;
  }
}
