import { describe, expect, test } from 'vitest';
import { concat, joinSpans, memorySource, readU32, u32 } from '$lib/core/bytes';
import { demoMemory } from '../../../../tests/helpers/demo';
import { playedByMediabunny } from '../../../../tests/helpers/played';
import { findBox, findPath, makeBox, parseBoxes, replaceBox, type Box } from './boxes';
import { rewrite } from './writer';

const WICK = 'Music/Orla Venn/Nine Lamps Burning/04 Wick.m4a';

/** A file of the demo with `moov` before its samples, and its chunk offsets as 64-bit numbers (`co64`). */
async function wideOffsetsFirst(): Promise<Uint8Array> {
  const source = await demoMemory(WICK);
  const bytes = (await source.read(0, source.size)).slice();
  const top = parseBoxes(bytes);
  const raw = ({ start, end }: Box) => bytes.subarray(start, end);
  const [ftyp, moov, mdat] = ['ftyp', 'moov', 'mdat'].map((type) => findBox(top, type) as Box) as [
    Box,
    Box,
    Box,
  ];
  const own = raw(moov).slice();
  const whole: Box = { type: 'moov', start: 0, content: 8, end: own.length };
  const path = ['trak', 'mdia', 'minf', 'stbl'];
  const holders = path.map((_, index) => findPath(own, whole, ...path.slice(0, index + 1)) as Box);
  const short = findPath(own, whole, ...path, 'stco') as Box;
  const count = readU32(own, short.content + 4);
  const wide = (shift: number) => {
    const offsets = Array.from({ length: count }, (_, index) =>
      concat([u32(0), u32(readU32(own, short.content + 8 + index * 4) + shift)]),
    );
    let box = replaceBox(own, holders.at(-1) as Box, short, makeBox('co64', u32(0), u32(count), ...offsets));
    for (let index = holders.length - 1; index > 0; index--)
      box = replaceBox(own, holders[index - 1] as Box, holders[index] as Box, box);
    return replaceBox(own, whole, holders[0] as Box, box);
  };
  const before = ftyp.end - ftyp.start + wide(0).length;
  return concat([raw(ftyp), wide(before - mdat.start), raw(mdat)]);
}

describe('what plays of a rewritten file', () => {
  test('chunk offsets of 64 bits move with the samples', async () => {
    const original = await wideOffsetsFirst();
    const played = await playedByMediabunny(original);
    expect(played).toHaveLength(1);
    const source = memorySource(original);
    const { spans } = await rewrite(source, { fields: { comment: 'long '.repeat(4000) } });
    const now = await joinSpans(source, spans);
    expect(now.length).toBeGreaterThan(original.length + 10_000);
    expect(await playedByMediabunny(now)).toEqual(played);
  });

  test('a box whose size takes its neighbour in, or leaves a rest, is refused by name', async () => {
    const original = await wideOffsetsFirst();
    const moov = findBox(parseBoxes(original), 'moov') as Box;
    const trak = findPath(original, moov, 'trak') as Box;
    for (const wrong of [-4, 3]) {
      const damaged = original.slice();
      damaged.set(u32(trak.end - trak.start + wrong), trak.start);
      const changes = { fields: { title: 'x' } };
      await expect(rewrite(memorySource(damaged), changes)).rejects.toMatchObject({ code: 'damaged' });
    }
  });
});
