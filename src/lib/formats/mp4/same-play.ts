import { readU32, readU64, spanOrigins, spanSource, type ByteSource, type Span } from '$lib/core/bytes';
import { FormatError } from '../format';
import { findBox, findPath, parseBoxes, type Box } from './boxes';
import { chapterTracks } from './chapters';
import { readMp4, wholeBox, type Mp4Structure } from './reader';

/** Boxes that hold boxes and nothing else. */
const HOLDERS: ReadonlySet<string> = new Set([
  'moov',
  'trak',
  'mdia',
  'minf',
  'stbl',
  'edts',
  'dinf',
  'mvex',
]);

/**
 * Boxes must fill the boxes that hold them: readers go on in different ways where they do not, and what one of them
 * plays of such a file another rewriting may lose.
 * @throws {FormatError} `damaged`
 */
export function expectFilled({ moovBytes, moov }: Mp4Structure): void {
  const look = ({ type, content, end }: Box): void => {
    const inside = parseBoxes(moovBytes, content, end);
    if ((inside.at(-1)?.end ?? content) !== end)
      throw new FormatError('damaged', `the boxes in ${type} do not add up to its size`);
    for (const box of inside) if (HOLDERS.has(box.type)) look(box);
  };
  look({ type: 'moov', start: 0, content: moov.content - moov.start, end: moov.end - moov.start });
}

/**
 * Holds what plays of the new file against the old one: both are parsed, and every chunk of samples must be found at the
 * very bytes that it had.
 * @throws {FormatError} `damaged` where one would not be
 */
export async function expectSamePlay(
  source: ByteSource,
  before: Mp4Structure,
  spans: readonly Span[],
): Promise<void> {
  const after = await readMp4(spanSource(source, spans));
  const originOf = spanOrigins(spans);
  const [old, now] = [playingTracks(before), playingTracks(after)];
  let isSame = old.length === now.length;
  for (let track = 0; isSame && track < old.length; track++) {
    const [was, is] = [chunksOf(before, old[track] as Box), chunksOf(after, now[track] as Box)];
    for (let one = was.next(), other = is.next(); isSame; one = was.next(), other = is.next()) {
      if (one.done || other.done) {
        isSame = one.done === other.done;
        break;
      }
      const { start, size } = other.value;
      isSame = one.value.size === size && (size === 0 || originOf(start, start + size) === one.value.start);
    }
  }
  const places = ({ top }: Mp4Structure) => top.filter(({ type }) => type === 'moof' || type === 'mdat');
  // Fragments tell where their samples lie by their own place in the file.
  if (before.fragmented)
    isSame &&= places(before).every(({ start }, index) => places(after)[index]?.start === start);
  if (!isSame) throw new FormatError('damaged', 'samples of a track would not be found any more');
}

/** Tracks of sound and picture: those of chapters are laid anew. */
function playingTracks(structure: Mp4Structure): readonly Box[] {
  const moov = wholeBox(structure);
  const ofChapters = new Set(chapterTracks(structure.moovBytes, moov).map(({ start }) => start));
  return parseBoxes(structure.moovBytes, moov.content, moov.end).filter(
    ({ type, start }) => type === 'trak' && !ofChapters.has(start),
  );
}

/** Where each chunk lies and how many bytes its samples have together (ISO/IEC 14496-12, sections 8.7.3 to 8.7.5). */
export function* chunksOf(
  { moovBytes: bytes }: Mp4Structure,
  trak: Box,
): Generator<{ start: number; size: number }> {
  const table = findPath(bytes, trak, 'mdia', 'minf', 'stbl');
  const boxes = table ? parseBoxes(bytes, table.content, table.end) : [];
  const [sizes, runs] = [findBox(boxes, 'stsz'), findBox(boxes, 'stsc')];
  const short = findBox(boxes, 'stco');
  const offsets = short ?? findBox(boxes, 'co64');
  if (!sizes || !runs || !offsets) return;
  const width = short ? 4 : 8;
  const counted = (box: Box, head: number, entry: number) =>
    Math.min(readU32(bytes, box.content + head - 4), Math.floor((box.end - box.content - head) / entry));
  const [chunks, runCount] = [counted(offsets, 8, width), counted(runs, 8, 12)];
  const uniform = readU32(bytes, sizes.content + 4);
  const samples = uniform > 0 ? readU32(bytes, sizes.content + 8) : counted(sizes, 12, 4);
  let sample = 0;
  for (let chunk = 1, run = 0; chunk <= chunks && sample < samples; chunk++) {
    while (run + 1 < runCount && readU32(bytes, runs.content + 8 + (run + 1) * 12) <= chunk) run++;
    const end = Math.min(
      samples,
      sample + (runCount > 0 ? readU32(bytes, runs.content + 8 + run * 12 + 4) : 0),
    );
    let size = uniform * (end - sample);
    if (uniform === 0)
      for (let at = sample; at < end; at++) size += readU32(bytes, sizes.content + 12 + at * 4);
    sample = end;
    const at = offsets.content + 8 + (chunk - 1) * width;
    yield { start: short ? readU32(bytes, at) : readU64(bytes, at), size };
  }
}
