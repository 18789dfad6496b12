import {
  chaptersOf,
  isEdited,
  timedOf,
  type Fields,
  type FormatId,
  type Saying,
  type ArrivalId,
  type ItemId,
  type Stream,
} from '../items';
import type { Kind } from '../kinds';

/** What a query can ask about: an item, or its form in a plan. */
export interface Asked {
  readonly id: ItemId;
  readonly arrival: ArrivalId;
  /** When its file was changed last, in milliseconds since 1970. */
  readonly modified: number;
  readonly fields: Fields;
  readonly path: string;
  readonly kind: Kind | null;
  readonly format: FormatId;
  /** Bytes. */
  readonly size: number;
  /** Bytes of its audio alone; undefined if unknown. */
  readonly soundBytes: number | undefined;
  readonly durationSeconds: number | null;
  readonly streams: readonly Stream[];
  /** How many it has. */
  readonly pictures: number;
  readonly chapters: number;
  readonly timedLines: number;
  readonly isEdited: boolean;
}

/** Counts that are derived from the description. */
type Counted = 'pictures' | 'chapters' | 'timedLines' | 'isEdited';

/** An item, or its form in a plan, as queries see it. */
export const askedOf = (one: Omit<Asked, Counted> & Saying): Asked => new AskedSaying(one);

/** Counts are computed when a query asks for them, since most do not. */
class AskedSaying implements Asked {
  readonly id: ItemId;
  readonly arrival: ArrivalId;
  readonly modified: number;
  readonly fields: Fields;
  readonly path: string;
  readonly kind: Kind | null;
  readonly format: FormatId;
  readonly size: number;
  readonly soundBytes: number | undefined;
  readonly durationSeconds: number | null;
  readonly streams: readonly Stream[];

  constructor(private readonly one: Omit<Asked, Counted> & Saying) {
    this.id = one.id;
    this.arrival = one.arrival;
    this.modified = one.modified;
    this.fields = one.fields;
    this.path = one.path;
    this.kind = one.kind;
    this.format = one.format;
    this.size = one.size;
    this.soundBytes = one.soundBytes;
    this.durationSeconds = one.durationSeconds;
    this.streams = one.streams;
  }

  get pictures(): number {
    return picturesIn(this.one);
  }

  get chapters(): number {
    return chaptersOf(this.one).length;
  }

  get timedLines(): number {
    return timedOf(this.one).length;
  }

  get isEdited(): boolean {
    return isEdited(this.one);
  }
}

/** How many pictures go out: chosen ones take the places of the file's own of their roles, which may be removed too. */
export function picturesIn({ file, edits }: Saying): number {
  const { pictures } = file;
  const { pictures: chosen } = edits;
  if (!chosen) return pictures.length;
  const own = pictures.filter(({ role }) => chosen[role] === undefined);
  return own.length + Object.values(chosen).filter(Boolean).length;
}
