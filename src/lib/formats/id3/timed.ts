import { ascii, concat, readU32, u32 } from '$lib/core/bytes';
import { cleanLine, type TimedLine, type TimedWord } from '$lib/core/items';
import { MOST_TIMED, limitParts } from '../format';
import type { Id3Frame, Id3Tag, Id3Version } from './layout';
import { decodeText, frameContent } from './reader';
import { TIMED_FRAME } from './tag-map';
import { encodeAs, encodingFor } from './text';

/** Times in milliseconds, and words that are sung (ID3v2.3.0, section 4.10). */
const MILLISECONDS = 2;
const LYRICS = 1;
/** Encoding, language, form of times, what the words are. */
const HEAD_BYTES = 6;

/** A frame of timed words that we read and take the place of. Times in frames of MPEG stay as they are, unread. */
export function isTimedFrame(frame: Id3Frame, version: Id3Version): boolean {
  if (frame.id !== TIMED_FRAME[version]) return false;
  const content = frameContent(frame, version);
  return content?.[4] === MILLISECONDS && content[5] === LYRICS;
}

/** The timed words of a tag; empty where it has none. Of several frames the first counts. */
export function id3Timed({ version, frames }: Pick<Id3Tag, 'version' | 'frames'>): readonly TimedLine[] {
  const frame = frames.find((one) => isTimedFrame(one, version));
  const content = frame && frameContent(frame, version);
  return content ? linesOf(piecesIn(content)) : [];
}

/**
 * Texts with their times behind the description, each ended by a null letter of the encoding.
 * @throws {FormatError} `tooMuch` with more than any real song or book has
 */
function piecesIn(content: Uint8Array): readonly TimedWord[] {
  const encoding = content[0] ?? 0;
  const wide = encoding === 1 || encoding === 2;
  const endOf = (from: number) => {
    let at = from;
    while (at < content.length && (content[at] !== 0 || (wide && content[at + 1] !== 0))) at += wide ? 2 : 1;
    return at;
  };
  const gap = wide ? 2 : 1;
  const pieces: TimedWord[] = [];
  for (let at = endOf(HEAD_BYTES) + gap; at < content.length;) {
    const end = endOf(at);
    if (end + gap + 4 > content.length) break;
    // A mark that each text may begin with is none of its letters.
    const text = decodeText(encoding, content.subarray(at, end)).replace(/^\ufeff/, '');
    limitParts(pieces.length, 'timed words', MOST_TIMED);
    pieces.push({ startSeconds: readU32(content, end + gap) / 1000, text });
    at = end + gap + 4;
  }
  return pieces;
}

/** Pieces as lines: a line feed begins one where there are any, else every piece is a line of its own. */
function linesOf(pieces: readonly TimedWord[]): readonly TimedLine[] {
  if (!pieces.some(({ text }) => text.includes('\n')))
    return sorted(pieces.map((piece) => cleanLine({ ...piece, text: piece.text.trim() })));
  const lines: { startSeconds: number; words: TimedWord[] }[] = [];
  let isNew = true;
  for (const { startSeconds, text } of pieces) {
    if (text.startsWith('\n') || isNew) lines.push({ startSeconds, words: [] });
    lines.at(-1)?.words.push({ startSeconds, text: text.replace(/\r?\n/g, '') });
    isNew = text.length > 1 && text.endsWith('\n');
  }
  return sorted(
    lines.map(({ startSeconds, words }) => {
      const text = words.map((word) => word.text).join('');
      return cleanLine({ startSeconds, text, words });
    }),
  );
}

const sorted = (lines: readonly TimedLine[]) => [...lines].sort((a, b) => a.startSeconds - b.startSeconds);

/** The frame of these lines; none where there are none. */
export function timedFrames(lines: readonly TimedLine[], version: Id3Version): Id3Frame[] {
  if (lines.length === 0) return [];
  const hasWords = lines.some(({ words }) => words);
  const pieces = lines.flatMap(({ startSeconds, text, words }): readonly TimedWord[] => {
    if (!hasWords) return [{ startSeconds, text }];
    const [first, ...rest] = words ?? [];
    if (!first) return [{ startSeconds, text: `\n${text}` }];
    if (first.startSeconds === startSeconds) return [{ startSeconds, text: `\n${first.text}` }, ...rest];
    return [{ startSeconds, text: '\n' }, first, ...rest];
  });
  // One encoding for all of them: what the letters of all together ask for.
  const encoding = encodingFor(pieces.map(({ text }) => text).join(''), version);
  const end = new Uint8Array(encoding === 1 ? 2 : 1);
  const body = pieces.flatMap(({ startSeconds, text }) => [
    encodeAs(encoding, text),
    end,
    u32(Math.min(0xfffffffe, Math.round(startSeconds * 1000))),
  ]);
  const head = concat([Uint8Array.of(encoding), ascii('XXX'), Uint8Array.of(MILLISECONDS, LYRICS)]);
  return [{ id: TIMED_FRAME[version], flags: 0, data: concat([head, encodeAs(encoding, ''), end, ...body]) }];
}
