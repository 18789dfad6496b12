import { KINDS, type Kind } from '../../kinds';
import { placesAt, type Rulebook } from '../../rulebooks';
import type { ThereFile } from '../there/files';

/** Bytes of one kind on a player: what is there, and what a run adds and removes. */
export interface KindRoom {
  /** Null for files outside the places of any kind. */
  readonly kind: Kind | null;
  readonly now: number;
  readonly adds: number;
  readonly removes: number;
}

type Sums = { -readonly [P in 'now' | 'adds' | 'removes']: number };

/** Counts the space of each kind on a player. A file counts for the kind whose place contains it. */
export class RoomByKind {
  private readonly sums = new Map<Kind | null, Sums>();

  constructor(
    private readonly rulebook: Rulebook,
    list: readonly ThereFile[],
  ) {
    for (const { path, size } of list) this.count('now', path, size);
  }

  count(what: keyof Sums, path: string, bytes: number): void {
    const kind = placesAt(this.rulebook, path)[0]?.kinds[0] ?? null;
    let own = this.sums.get(kind);
    if (!own) this.sums.set(kind, (own = { now: 0, adds: 0, removes: 0 }));
    own[what] += bytes;
  }

  /**
   * In the order of kinds, with files of no kind last. Kinds with nothing on the player and nothing to add are left
   * out.
   */
  all(): KindRoom[] {
    return [...KINDS, null].flatMap((kind): KindRoom[] => {
      const own = this.sums.get(kind);
      return own && own.now + own.adds + own.removes > 0 ? [{ kind, ...own }] : [];
    });
  }
}
