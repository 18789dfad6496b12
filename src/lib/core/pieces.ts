import { concat, readU32, u32 } from './bytes';

/** Types of pieces in an answer that reports its progress: bytes, and seconds that are done, as text. */
export const PIECE_KINDS = { bytes: 1, seconds: 2 } as const;
export type PieceKind = keyof typeof PIECE_KINDS;

/** Bytes before the content of a piece: one for its kind, four for its length. */
const HEAD = 5;

/** A piece with its head. */
export const pieceOf = (kind: PieceKind, content: Uint8Array): Uint8Array =>
  concat([Uint8Array.of(PIECE_KINDS[kind]), u32(content.length), content]);

/** Takes an answer apart, however its bytes come. */
export class PieceReader {
  private left: Uint8Array = new Uint8Array(0);

  /** @param take called with each complete piece; pieces of unknown types are skipped */
  constructor(private readonly take: (kind: PieceKind, content: Uint8Array) => void) {}

  /** Whether no piece is incomplete. */
  get isWhole(): boolean {
    return this.left.length === 0;
  }

  add(bytes: Uint8Array): void {
    const all = this.left.length > 0 ? concat([this.left, bytes]) : bytes;
    let at = 0;
    while (at + HEAD <= all.length) {
      const end = at + HEAD + readU32(all, at + 1);
      if (end > all.length) break;
      const kind = KINDS.find((one) => PIECE_KINDS[one] === all[at]);
      if (kind) this.take(kind, all.subarray(at + HEAD, end));
      at = end;
    }
    this.left = all.slice(at);
  }
}
const KINDS = Object.keys(PIECE_KINDS) as PieceKind[];
