import { UTF8, readAscii, readU16, type ByteSource } from '$lib/core/bytes';
import type { Cue } from '$lib/core/items';
import { plainText } from '$lib/core/timing';
import { FormatError } from '../format';
import { findBox, findPath, parseBoxes } from './boxes';
import { trackId } from './chapters';
import { readMp4, wholeBox } from './reader';
import { readPlaces, readStarts } from './sample-tables';
import { readTimes } from './times';

/** Samples that are looked at for few texts, and for many: between two of them there may be an empty one. */
const SAMPLES = { least: 400, most: 40_000 };
/** Bytes of one text. */
const MOST_TEXT = 64 * 1024;

/**
 * The first texts of a track of subtitles: timed text (3GPP TS 26.245), WebVTT (ISO/IEC 14496-30, section 7) or TTML.
 * @throws {FormatError} where it is of another sort
 */
export async function readFirstTexts(
  source: ByteSource,
  track: number,
  most: number,
): Promise<readonly Cue[]> {
  const structure = await readMp4(source, true);
  const { moovBytes: bytes } = structure;
  const { content, end } = wholeBox(structure);
  const trak = parseBoxes(bytes, content, end).find(
    (box) => box.type === 'trak' && trackId(bytes, box) === track,
  );
  const table = trak && findPath(bytes, trak, 'mdia', 'minf', 'stbl');
  const times = trak && findPath(bytes, trak, 'mdia', 'mdhd');
  const description = table && findPath(bytes, table, 'stsd');
  if (!table || !times || !description) throw new FormatError('notThisFormat', 'there is no such track');
  const textOf = READERS[readAscii(bytes, description.content + 12, 4)];
  if (!textOf) throw new FormatError('notThisFormat', 'its subtitles are no text that is read here');
  const { timescale } = readTimes(bytes, times);
  const samples = Math.min(Math.max(SAMPLES.least, most * 2), SAMPLES.most);
  const starts = readStarts(bytes, table, samples + 1);
  const cues: Cue[] = [];
  for (const [index, { start, size }] of readPlaces(bytes, table, samples).entries()) {
    if (cues.length >= most) break;
    const text = textOf(await source.read(start, start + Math.min(size, MOST_TEXT))).trim();
    if (text === '') continue;
    const startSeconds = (starts[index] ?? 0) / (timescale || 1);
    const endSeconds = (starts[index + 1] ?? 0) / (timescale || 1);
    cues.push({ startSeconds, endSeconds: Math.max(endSeconds, startSeconds), text });
  }
  return cues;
}

const READERS: Readonly<Record<string, (sample: Uint8Array) => string>> = {
  tx3g: (sample) => plainText(UTF8.decode(sample.subarray(2, 2 + readU16(sample, 0)))),
  wvtt: (sample) =>
    parseBoxes(sample)
      .flatMap((cue) => {
        const payload = cue.type === 'vttc' && findBox(parseBoxes(sample, cue.content, cue.end), 'payl');
        return payload ? plainText(UTF8.decode(sample.subarray(payload.content, payload.end))) : [];
      })
      .join('\n'),
  stpp: (sample) => plainText(UTF8.decode(sample).replace(/<head[\s\S]*?<\/head>/g, '')).replace(/\s+/g, ' '),
};
