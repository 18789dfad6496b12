import { ascii, concat } from '$lib/core/bytes';
import type { TagChanges } from '../format';
import { mapChapter } from './chapters';
import { readTag, nameOfFrame } from './fields';
import type { Id3Frame, Id3Tag } from './layout';
import { decodeText, frameContent, frameText } from './reader';
import { CHAPTER_FRAME, CONTENTS_FRAME, ID3_MAPS, LYRICS_FRAME, PICTURE_FRAME, USER_FRAME } from './tag-map';
import { encodePair, encodeText } from './text';
import { isTimedFrame } from './timed';

/** Frames that came with ID3v2.4 (frames, section 4) and say nothing to readers of an earlier version. */
const NEWER: ReadonlySet<string> = new Set([
  ...['ASPI', 'EQU2', 'RVA2', 'SEEK', 'SIGN'],
  ...['TDEN', 'TDTG', 'TMOO', 'TPRO', 'TSST', 'TDOR', 'TIPL', 'TMCL'],
]);
/** Frames that begin with an encoding and go on in a manner of their own. */
const ENCODED: ReadonlySet<string> = new Set(['COMR', 'GEOB', 'OWNE', 'SYLT', 'USER', 'WXXX']);
/** The last encoding of ID3v2.3: UTF-16 with a mark (section 3.3). */
const UTF16 = 1;

/** Names that fields are written under: they are written anew, as chapters and words with times are. */
const REWRITTEN: ReadonlySet<string> = new Set([
  CONTENTS_FRAME,
  ...ID3_MAPS[4].rows.flatMap(({ names, also = [], precise = [], totals = [] }) => [
    ...names,
    ...also,
    ...precise,
    ...totals,
  ]),
]);

/**
 * An ID3v2.4 tag as ID3v2.3, for readers that know no more, with what is to be changed in it: fields and chapters are
 * to be written anew, all other frames stand in the tag with their texts in an encoding of that version. What that
 * version has no frame for is left out.
 */
export function asId3v23(
  tag: Id3Tag,
  changes: TagChanges,
): { readonly tag: Id3Tag; readonly changes: TagChanges } {
  const { fields, chapters, timed } = readTag(tag);
  const said = Object.fromEntries(Object.entries(fields).filter(([, value]) => value !== null));
  const frames = tag.frames.flatMap((frame) =>
    REWRITTEN.has(nameOfFrame(frame, tag.version)) || isTimedFrame(frame, tag.version)
      ? []
      : (older(frame) ?? []),
  );
  return {
    tag: { version: 3, flags: 0, frames, size: tag.size },
    changes: {
      ...changes,
      fields: { ...said, ...changes.fields },
      chapters: changes.chapters ?? (chapters.length > 0 ? chapters : undefined),
      timed: changes.timed ?? (timed.length > 0 ? timed : undefined),
    },
  };
}

const withoutMark = (text: string) => text.replace(/^\ufeff/, '');

/** A frame as ID3v2.3 has it; null where it has none for it. */
function older(frame: Id3Frame): Id3Frame | null {
  const { id } = frame;
  // What else it holds than the chapter itself stays with the one that is written in its place.
  if (id === CHAPTER_FRAME) return mapChapter(frame, 4, 3, older);
  const content = frameContent(frame, 4);
  if (!content || NEWER.has(id)) return null;
  const as = (data: Uint8Array): Id3Frame => ({ id, flags: 0, data });
  const encoding = content[0] ?? 0;
  if (id === USER_FRAME[3]) {
    const [label = '', ...values] = frameText(frame, 4)?.split('\0') ?? [];
    return as(encodePair(new Uint8Array(0), label, values.join('; '), 3));
  }
  if (id.startsWith('T')) return as(encodeText((frameText(frame, 4) ?? '').split('\0').join('; '), 3));
  if (id === 'COMM' || id === LYRICS_FRAME[3]) {
    const [description = '', ...text] = decodeText(encoding, content.subarray(4)).split('\0');
    return as(encodePair(content.subarray(1, 4), withoutMark(description), withoutMark(text.join('; ')), 3));
  }
  if (encoding <= UTF16) return as(content);
  if (id === PICTURE_FRAME[3]) return as(olderPicture(content));
  return ENCODED.has(id) ? null : as(content);
}

/** Encoding, MIME type, role, description, bytes (ID3v2.3.0, section 4.15): the description alone is encoded anew. */
function olderPicture(content: Uint8Array): Uint8Array {
  const wide = content[0] === 2;
  const roleAt = content.indexOf(0, 1) + 1;
  let end = roleAt + 1;
  while (end < content.length && (content[end] !== 0 || (wide && content[end + 1] !== 0)))
    end += wide ? 2 : 1;
  const text = encodeText(decodeText(content[0] ?? 0, content.subarray(roleAt + 1, end)), 3);
  const [encoding = 0] = text;
  return concat([
    Uint8Array.of(encoding),
    content.subarray(1, roleAt + 1),
    text.subarray(1),
    ascii(encoding === UTF16 ? '\0\0' : '\0'),
    content.subarray(end + (wide ? 2 : 1)),
  ]);
}
