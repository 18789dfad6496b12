import { scaleLinear } from 'd3-scale';
import type { LineFile, LineUp, Pair, ReferenceEntry } from '$lib/core/identify';
import type { IdentifyDesk } from '$lib/state/identify/identify-desk';
import { ribbonBetween } from './ribbon';

/** Pixels: a row, a bar in it, and the scale above the first row. */
export const ROW = 35;
export const BAR = 21;
export const TOP = 34;
/** Pixels that the length of a right bar and how far that is off take. */
const ROOM = 96;

/** Where everything of a line-up stands on the chart, in pixels, from what the desk holds. */
export class LineUpLayout {
  readonly files: readonly LineFile[] = $derived.by(() => this.desk.lookUps.files);
  readonly entries: readonly ReferenceEntry[] = $derived.by(() => this.desk.pairing.entries);
  readonly lineUp: LineUp | null = $derived.by(() => this.desk.pairing.lineUp);
  readonly pairOf = $derived.by(() => new Map((this.lineUp?.pairs ?? []).map((pair) => [pair.file, pair])));
  readonly pairAt = $derived.by(() => new Map((this.lineUp?.pairs ?? []).map((pair) => [pair.entry, pair])));
  readonly entryAt = $derived.by(() => new Map(this.entries.map((entry, index) => [entry.id, index])));
  readonly openFiles = $derived.by(() => new Set(this.lineUp?.openFiles ?? []));
  readonly whole = $derived.by(() => this.desk.sets.gathering?.whole ?? null);

  /** Left to right: names, bars that grow leftwards, ribbons, bars that grow rightwards, titles. */
  readonly x = $derived.by(() => {
    const width = this.width();
    return {
      leftBar: Math.round(width * 0.16),
      leftEnd: Math.round(width * 0.31),
      rightStart: Math.round(width * 0.59),
      titles: Math.round(width * 0.745),
    };
  });
  /** Seconds of the longest bar. A file as long as all others would press the rest together: it is drawn broken. */
  readonly longest: number = $derived.by(() =>
    Math.max(
      10,
      ...this.files.filter(({ id }) => id !== this.whole).map(({ lengthSeconds }) => lengthSeconds ?? 0),
      ...this.entries.map(({ lengthSeconds }) => lengthSeconds ?? 0),
    ),
  );
  /** The scale counts minutes; seconds where everything is short. */
  readonly minutes: boolean = $derived(this.longest > 180);
  readonly scale = $derived.by(() =>
    scaleLinear(
      [0, this.minutes ? this.longest / 60 : this.longest],
      [0, this.x.leftEnd - this.x.leftBar],
    ).nice(3),
  );
  readonly ticks: readonly number[] = $derived.by(() => this.scale.ticks(3));
  readonly height: number = $derived.by(
    () => TOP + Math.max(this.files.length, this.entries.length, 1) * ROW + 4,
  );
  readonly ribbons = $derived.by(() =>
    this.files.flatMap((file, index) => {
      const pair = this.pairOf.get(file.id);
      const place = pair ? this.entryAt.get(pair.entry) : undefined;
      if (!pair || place === undefined) return [];
      const { leftEnd, rightStart } = this.x;
      const shape = ribbonBetween(leftEnd + 3, this.middle(index), rightStart - 3, this.middle(place), BAR);
      return [{ pair, shape, y: this.middle(place) }];
    }),
  );

  constructor(
    private readonly desk: IdentifyDesk,
    private readonly width: () => number,
  ) {}

  /** Middle of a row. */
  middle(index: number): number {
    return TOP + index * ROW + ROW / 2;
  }

  /** Length of a bar. */
  lengthOf(seconds: number | null): number {
    return Math.max(2, this.scale((seconds ?? 0) / (this.minutes ? 60 : 1)));
  }

  /** Where what is said of a right bar begins, from where that does: behind it as long as it ends before the titles. */
  textAt(bar: number): number {
    const { rightStart, titles } = this.x;
    return bar <= ROOM && bar + 6 + ROOM <= titles - rightStart ? bar + 6 : 7;
  }

  entryOf(pair: Pair | undefined): ReferenceEntry | null {
    return (pair && this.entries[this.entryAt.get(pair.entry) ?? -1]) ?? null;
  }

  isOut({ id }: LineFile): boolean {
    return this.lineUp !== null && !this.pairOf.has(id) && !this.openFiles.has(id);
  }
}
