import fc from 'fast-check';
import { expect, test } from 'vitest';
import { concat } from './bytes';
import { PieceReader, pieceOf, type PieceKind } from './pieces';

const anyPiece = fc.tuple(fc.constantFrom<PieceKind>('bytes', 'seconds'), fc.uint8Array({ maxLength: 40 }));

test('pieces come out as they went in, wherever what carries them is cut', () => {
  fc.assert(
    fc.property(
      fc.array(anyPiece, { maxLength: 8 }),
      fc.array(fc.nat(20), { maxLength: 40 }),
      (pieces, cuts) => {
        const all = concat(pieces.map(([kind, content]) => pieceOf(kind, content)));
        const told: [PieceKind, readonly number[]][] = [];
        const reader = new PieceReader((kind, content) => told.push([kind, [...content]]));
        let at = 0;
        for (const cut of cuts) {
          reader.add(all.subarray(at, at + cut));
          at = Math.min(all.length, at + cut);
        }
        reader.add(all.subarray(at));
        expect(told).toEqual(pieces.map(([kind, content]) => [kind, [...content]]));
        expect(reader.isWhole).toBe(true);
      },
    ),
  );
});

test('an answer that breaks off in a piece is not whole', () => {
  const told: string[] = [];
  const reader = new PieceReader((kind) => told.push(kind));
  reader.add(pieceOf('bytes', Uint8Array.of(1, 2, 3)).subarray(0, 7));
  expect([told, reader.isWhole]).toEqual([[], false]);
});
