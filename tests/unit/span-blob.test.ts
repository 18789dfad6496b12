import fc from 'fast-check';
import { expect, test } from 'vitest';
import { composeSpans, fresh, joinSpans, kept, memorySource, spanSource, type Span } from '$lib/core/bytes';
import { spanBytes } from '$lib/io/span-blob';

const BYTES = Uint8Array.from({ length: 400 }, (_, index) => index % 251);
const anySpans = (length: number): fc.Arbitrary<readonly Span[]> =>
  fc.array(
    fc.oneof(
      fc.tuple(fc.nat(length), fc.nat(length)).map(([a, b]) => kept(Math.min(a, b), Math.max(a, b))),
      fc.uint8Array({ maxLength: 30 }).map(fresh),
    ),
    { maxLength: 12 },
  );

test('spans are written out as they are joined, wherever they lie', async () => {
  await fc.assert(
    fc.asyncProperty(anySpans(400), async (spans) => {
      const parts: number[] = [];
      for await (const piece of spanBytes(new Blob([BYTES]), spans)) parts.push(...piece);
      expect(parts).toEqual([...(await joinSpans(memorySource(BYTES), spans))]);
    }),
    { seed: 3, numRuns: 300 },
  );
});

test('two rewritings one after the other are one of the first file', async () => {
  const both = anySpans(400).chain((first) =>
    fc.tuple(
      fc.constant(first),
      anySpans(
        first.reduce(
          (sum, span) => sum + (span.type === 'new' ? span.bytes.length : span.end - span.start),
          0,
        ),
      ),
    ),
  );
  await fc.assert(
    fc.asyncProperty(both, async ([first, second]) => {
      const source = memorySource(BYTES);
      const inTwo = await joinSpans(spanSource(source, first), second);
      expect([...(await joinSpans(source, composeSpans(first, second)))]).toEqual([...inTwo]);
    }),
    { seed: 4, numRuns: 300 },
  );
});
