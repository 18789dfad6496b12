import { newPlayer, type Player, type PlayerId, type Selection } from '$lib/core/library';
import type { Rulebook } from '$lib/core/rulebooks';
import { newId } from '$lib/io/new-id';
import { DeviceStore } from '$lib/io/stores/device-store';
import { RULEBOOKS } from '$lib/rulebooks';
import type { Intake } from '../intake.svelte';
import type { LibraryMirror } from '../library-mirror';
import type { Library } from '../library.svelte';
import { lasting } from '../lasting.svelte';
import { PlayerDesk } from './desk.svelte';
import { askEncoders } from './video-codec.svelte';
import type { Work } from '../work.svelte';

/** Milliseconds between checks whether players that were away are back. */
const EVERY = 10_000;

/** The settings of a new player. */
export interface PlayerPlan {
  readonly name: string;
  /** Id of a rulebook that comes with the application. */
  readonly rulebook: string;
  /** Its own rulebook, replacing that one. */
  readonly own: Rulebook | null;
  readonly device: string | null;
  readonly selection: Selection;
}

const COUNTED = ['', '', 'two', 'three', 'four'];

/** Every player of the house, and the one that is looked at. */
export class Players {
  list = $state.raw<readonly PlayerDesk[]>([]);
  private chosenId = $state<PlayerId>('attic' as PlayerId);
  private readonly desks = new Map<PlayerId, PlayerDesk>();
  private watch: ReturnType<typeof setInterval> | null = null;
  private isLooking = false;
  /** Stored rehearsals are still being loaded: a plan would occupy the worker, so it is made after that. */
  private isGreeting = true;
  /** All of them are being looked at and planned for, one after the other. */
  private isOpening = false;
  /** How many of them need attention. */
  readonly behind: number = $derived.by(() => this.list.filter(({ isBehind }) => isBehind).length);

  constructor(
    private readonly library: Library,
    private readonly work: Work,
    private readonly mirror: LibraryMirror,
    private readonly intake: () => Pick<Intake, 'takeIn' | 'sourceOf'>,
    /** Has the worker know the lists as they are. */
    private readonly tellLists: () => Promise<void>,
  ) {
    this.list = this.present();
    this.chosen.rehearsal.isChosen = true;
  }

  get chosen(): PlayerDesk {
    return this.list.find(({ id }) => id === this.chosenId) ?? (this.list[0] as PlayerDesk);
  }

  choose(id: PlayerId): void {
    const { chosen: before } = this;
    this.chosenId = id;
    const { chosen } = this;
    if (before !== chosen) before.rehearsal.isChosen = false;
    chosen.rehearsal.isChosen = true;
    if (chosen.rehearsal.plan) chosen.planSoon();
  }

  /** Looks at all of them: the chosen one first. */
  async open(): Promise<void> {
    await askEncoders();
    this.list = this.present();
    const { chosen } = this;
    const desks = [chosen, ...this.list.filter((one) => one !== chosen)];
    // Stored rehearsals of all players are shown before the first plan is made.
    this.isGreeting = true;
    this.isOpening = true;
    try {
      await this.openAll(desks);
    } finally {
      this.isGreeting = false;
      this.isOpening = false;
    }
    this.watch ??= setInterval(() => void this.lookOut(), EVERY);
  }

  private async openAll(desks: readonly PlayerDesk[]): Promise<void> {
    await Promise.all(desks.map((desk) => desk.greet()));
    this.isGreeting = false;
    for (const desk of desks) {
      await desk.rehearsal.planNow();
      await this.cameBy(desk);
    }
  }

  /** Looks at all of them again because they are about to be shown; those being opened are looked at anyway. */
  lookAgain(): void {
    if (this.isOpening) return;
    for (const desk of this.list) if (!desk.runs.isRunning) void desk.look();
  }

  /** Checks whether players that were away are back. */
  private async lookOut(): Promise<void> {
    // One that takes its time is not asked again meanwhile.
    if (this.isLooking) return;
    this.isLooking = true;
    try {
      for (const desk of this.list) await this.lookFor(desk);
    } finally {
      this.isLooking = false;
    }
  }

  private async lookFor(desk: PlayerDesk): Promise<void> {
    const { place, runs } = desk;
    const { device } = desk.player;
    if (runs.isRunning || device === null || !place.can.comesAndGoes) return;
    if (desk.trouble !== null && (await answers(device))) await desk.look();
    // Opening a board or planning may have noticed it before this check.
    if (!place.hasReturned) return;
    place.hasReturned = false;
    this.work.say(`${desk.name} is connected again`);
    await this.cameBy(desk);
  }

  /** Updates a connected player automatically if the curator asked for that. */
  private async cameBy(desk: PlayerDesk): Promise<void> {
    if (desk.player.bySelf && desk.place.can.comesAndGoes) await desk.runs.startBySelf();
  }

  /** Plans for all of them soon, once edits have settled: for the chosen one first. */
  planSoon(): void {
    this.followUndo();
    if (this.isGreeting) return;
    const { chosen } = this;
    chosen.planSoon();
    for (const desk of this.list) if (desk !== chosen) desk.planSoon();
  }

  /** Undo brings back players that were removed, and removes those that were added. */
  private followUndo(): void {
    const next = this.present();
    const known = new Set(this.list);
    if (next.length === known.size && next.every((desk) => known.has(desk))) return;
    this.list = next;
    this.chosen.rehearsal.isChosen = true;
    for (const desk of next) if (!known.has(desk)) void desk.open();
  }

  async add({ name, rulebook, own, device, selection }: PlayerPlan): Promise<PlayerDesk> {
    const id = `${own?.id ?? rulebook}-${newId().slice(0, 8)}` as PlayerId;
    this.library.setPlayer({ ...newPlayer(id, rulebook, device), name, own, selection }, `Add ${name}`);
    this.list = this.present();
    this.choose(id);
    await this.library.flush();
    const { chosen } = this;
    await chosen.open();
    return chosen;
  }

  /** Takes a player off. Its files stay as they are. */
  remove(desk: PlayerDesk): void {
    if (desk.runs.isRunning) return;
    this.library.removePlayer(desk.player, isShipped(desk.id));
    this.work.say(`${desk.name} removed; its files stay as they are`);
    if (!isShipped(desk.id)) {
      desk.end();
      this.desks.delete(desk.id);
    }
    this.list = this.present();
    if (desk.id === this.chosenId) this.choose((this.list[0] as PlayerDesk).id);
  }

  /** A name that no player of the house has: that of a rulebook, and how many of it there are then. */
  freeName(name: string): string {
    const taken = new Set(this.list.map((desk) => desk.name));
    if (!taken.has(name)) return name;
    for (let number = 2; ; number++) {
      const free = `${name} ${COUNTED[number] ?? number}`;
      if (!taken.has(free)) return free;
    }
  }

  /** Devices without a player. */
  freeDevices(): readonly string[] {
    const taken = new Set(this.list.map(({ player }) => player.device));
    return Object.keys(RULEBOOKS).filter((device) => !taken.has(device));
  }

  /** Players that were removed and can be brought back. */
  off(): readonly Player[] {
    return this.library.players.filter(({ off }) => off);
  }

  async bringBack(player: Player): Promise<void> {
    this.library.setPlayer({ ...player, off: false });
    this.list = this.present();
    this.choose(player.id);
    await this.chosen.open();
  }

  end(): void {
    if (this.watch !== null) clearInterval(this.watch);
    for (const desk of this.desks.values()) desk.end();
  }

  /** The players that come with the application unless removed, and those that were added. */
  private present(): readonly PlayerDesk[] {
    const { players } = this.library;
    const own = players.filter(({ id }) => !isShipped(id));
    const off = new Set(players.filter((player) => player.off).map(({ id }) => id));
    const ids = [...(Object.keys(RULEBOOKS) as PlayerId[]), ...own.map(({ id }) => id)];
    const shown = ids.filter((id) => !off.has(id)).map((id) => this.deskOf(id));
    // A house has one player at least: there has to be something to rehearse for.
    return shown.length > 0 ? shown : [this.deskOf('attic' as PlayerId)];
  }

  private deskOf(id: PlayerId): PlayerDesk {
    let desk = this.desks.get(id);
    if (!desk) {
      const { library, work, mirror } = this;
      desk = lasting(
        () => new PlayerDesk(id, library, work, mirror, this.intake, undefined, this.tellLists),
      ).value;
      this.desks.set(id, desk);
    }
    return desk;
  }
}

const isShipped = (id: PlayerId): boolean => Object.hasOwn(RULEBOOKS, id);

/** Whether a device can be reached. */
const answers = (device: string): Promise<boolean> =>
  new DeviceStore(device).room().then(
    () => true,
    () => false,
  );
