import { UTF8, cachedSource, readAscii, type ByteSource } from '$lib/core/bytes';
import type { Cue } from '$lib/core/items';
import { plainText, toMilliseconds } from '$lib/core/timing';
import { bytesOf, children, number, readContent } from '../ebml';
import { FormatError } from '../format';
import { Scan, type Block } from './blocks';
import { ID } from './ids';
import { readSegment } from './segment';

/** Texts that are a glimpse, and the bytes of a film that are gone through for it; more texts are looked for to its end. */
const GLIMPSE = 100;
const GLIMPSE_BYTES = 400 * 1024 * 1024;
const WINDOW = 1024 * 1024;
/** Seconds that a text is shown whose end is not said. */
const USUAL = 2;

/**
 * The first texts of a track of subtitles.
 * @throws {FormatError} where it is of pictures, or packed in a manner that is not read
 */
export async function readFirstTexts(
  source: ByteSource,
  track: number,
  most: number,
): Promise<readonly Cue[]> {
  const near = cachedSource(source);
  const { segment, elements } = await readSegment(near, true);
  const codec = await codecOf(near, elements.get(ID.tracks), track);
  const info = elements.get(ID.info);
  const told = info && (await readContent(near, info));
  const scale = ((told && number(told, ID.timestampScale)) || 1_000_000) / 1e9;
  const cues: Cue[] = [];
  const end = Math.min(segment.end, near.size);
  const stop = most <= GLIMPSE ? Math.min(end, segment.content + GLIMPSE_BYTES) : end;
  const scan = new Scan(near, WINDOW);
  for (let at = segment.content; at < stop && cues.length < most;) {
    const one = await scan.elementAt(at);
    if (one.id !== ID.cluster) {
      at = one.end;
      continue;
    }
    const blocks: Block[] = [];
    let time = 0;
    at = await scan.cluster(one, end, {
      begin: (told) => (time = told),
      block: (block) => block.track === track && blocks.push(block),
      other: () => {},
    });
    for (const block of blocks.slice(0, most - cues.length)) {
      const text = textOf(UTF8.decode(await near.read(block.content, block.contentEnd)), codec);
      const startSeconds = (time + block.time) * scale;
      const endSeconds = startSeconds + (block.duration === null ? USUAL : block.duration * scale);
      if (text !== '')
        cues.push({
          startSeconds: toMilliseconds(startSeconds),
          endSeconds: toMilliseconds(endSeconds),
          text,
        });
    }
  }
  return cues;
}

async function codecOf(
  source: ByteSource,
  tracks: { readonly content: number; readonly end: number } | undefined,
  track: number,
): Promise<string> {
  const bytes = tracks ? await source.read(tracks.content, tracks.end) : new Uint8Array(0);
  for (const { id, content, end } of children(bytes)) {
    const inside = id === ID.trackEntry ? bytes.subarray(content, end) : null;
    if (!inside || number(inside, ID.trackNumber) !== track) continue;
    if (bytesOf(inside, ID.contentEncodings))
      throw new FormatError('foreignTags', 'its subtitles are packed, and cannot be shown here');
    const codec = bytesOf(inside, ID.codec);
    const name = codec ? readAscii(codec, 0, codec.length) : '';
    if (/^(S_TEXT|D_WEBVTT)/.test(name)) return name;
    throw new FormatError('notThisFormat', 'its subtitles are pictures, not text');
  }
  throw new FormatError('notThisFormat', 'there is no such track');
}

/** A line of SSA has nine fields, the last of which is its text; a cue of WebVTT its identifier and settings before it. */
function textOf(text: string, codec: string): string {
  if (/^S_TEXT\/(SSA|ASS)/.test(codec)) {
    const shown = text.split(',').slice(8).join(',');
    return plainText(shown.replaceAll(/\\[Nn]/g, '\n')).trim();
  }
  const own = codec.startsWith('D_WEBVTT') ? text.split('\n').slice(2).join('\n') : text;
  return plainText(own).trim();
}
