import { KINDS, type Kind } from '../../kinds';
import { placesAt, type Rulebook } from '../../rulebooks';
import type { ThereFile } from '../there/files';

/** Bytes within a kind on a player: what lies there, and what a run adds and removes. */
export interface KindRoom {
  /** Null for what lies where the player looks for no kind. */
  readonly kind: Kind | null;
  readonly now: number;
  readonly adds: number;
  readonly removes: number;
}

type Sums = { -readonly [P in 'now' | 'adds' | 'removes']: number };

/** Counts the room that kinds take on a player. A file is of the kind whose place it lies in. */
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

  /** In the order of the kinds, what is of none at the end; nothing is told of what neither is nor comes. */
  all(): KindRoom[] {
    return [...KINDS, null].flatMap((kind): KindRoom[] => {
      const own = this.sums.get(kind);
      return own && own.now + own.adds + own.removes > 0 ? [{ kind, ...own }] : [];
    });
  }
}
