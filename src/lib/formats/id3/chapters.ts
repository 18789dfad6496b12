import { ascii, concat, readAscii, readU16, readU32, u32 } from '$lib/core/bytes';
import { codeOfRole, type Chapter, type PictureId } from '$lib/core/items';
import { goingOn } from '../chapters-before';
import type { NewPicture } from '../format';
import { unplacedFact } from '../picture-fact';
import { HEADER_BYTES, readSyncSafe, type Id3Frame, type Id3Tag, type Id3Version } from './layout';
import { isPictureFrame, pictureFrame, pictureIn } from './pictures';
import { decodeText, frameContent } from './reader';
import { CHAPTER_FRAME, CONTENTS_FRAME } from './tag-map';
import { encodeLink, encodeText, frameBytes } from './text';

/** Stands for "not given" in a chapter's times and byte offsets. */
const NOT_GIVEN = 0xffffffff;
/** What a table of contents is. */
const TOP_LEVEL = 0x02;
const ORDERED = 0x01;
/** Start and end in milliseconds, and two offsets in bytes. */
const TIMES_BYTES = 16;

/** Chapters of CHAP frames in order of time (ID3v2 Chapter Frame Addendum, section 3.1). */
export function id3Chapters(tag: Id3Tag): readonly Chapter[] {
  return chaptersWithParts(tag).map(({ chapter }) => chapter);
}

/** A chapter, and what else its frame holds: pictures, and whatever is not understood here. */
export interface ChapterWithParts {
  readonly chapter: Chapter;
  readonly parts: readonly Id3Frame[];
}

export function chaptersWithParts(tag: Pick<Id3Tag, 'frames' | 'version'>): readonly ChapterWithParts[] {
  const chapters = tag.frames
    .filter((frame) => frame.id === CHAPTER_FRAME)
    .flatMap((frame) => {
      const content = frameContent(frame, tag.version);
      return content ? [parseChapter(content, tag.version)] : [];
    });
  return chapters.sort((a, b) => a.chapter.startSeconds - b.chapter.startSeconds);
}

/** Frames inside a chapter's frame. */
function* partsIn(bytes: Uint8Array, version: Id3Version): Generator<Id3Frame> {
  for (let at = 0; at + HEADER_BYTES <= bytes.length;) {
    const id = readAscii(bytes, at, 4);
    const size = version === 4 ? readSyncSafe(bytes, at + 4) : readU32(bytes, at + 4);
    const data = bytes.subarray(at + HEADER_BYTES, at + HEADER_BYTES + size);
    // An id of null letters is padding.
    if (/^[A-Z0-9]{4}$/.test(id)) yield { id, flags: readU16(bytes, at + 8), data };
    at += HEADER_BYTES + size;
  }
}

/** An element id, start and end in milliseconds, two byte offsets, then frames of its own. */
function parseChapter(content: Uint8Array, version: Id3Version): ChapterWithParts {
  const timesAt = content.indexOf(0) + 1;
  const start = readU32(content, timesAt);
  const end = readU32(content, timesAt + 4);
  let title = '';
  let link: string | null = null;
  const parts: Id3Frame[] = [];
  for (const part of partsIn(content.subarray(timesAt + TIMES_BYTES), version)) {
    const { id, data } = part;
    if (id === 'TIT2') title = decodeText(data[0] ?? 0, data.subarray(1));
    else if (id === 'WXXX') link ??= linkIn(data);
    else parts.push(part);
  }
  const endSeconds = end > start && end !== NOT_GIVEN ? end / 1000 : null;
  const picture = firstPicture(parts, version);
  return {
    chapter: { startSeconds: start / 1000, endSeconds, title, link, ...(picture && { picture }) },
    parts,
  };
}

function firstPicture(parts: readonly Id3Frame[], version: Id3Version): Chapter['picture'] {
  for (const part of parts) {
    const found = isPictureFrame(part, version) ? pictureIn(part, version) : null;
    if (found) return unplacedFact(found.mime, found.bytes);
  }
  return undefined;
}

/** The bytes of a chapter's picture by their hash; null where no chapter has it. */
export function chapterPicture(
  tag: Pick<Id3Tag, 'frames' | 'version'>,
  hash: number,
): { readonly mime: string; readonly bytes: Uint8Array } | null {
  const own = chaptersWithParts(tag).find(
    ({ chapter: { picture } }) => picture && 'hash' in picture && picture.hash === hash,
  );
  const frame = own?.parts.find((part) => isPictureFrame(part, tag.version));
  return frame ? pictureIn(frame, tag.version) : null;
}

/** Encoding, description, then the address in Latin-1 (ID3v2.3.0, section 4.3.2). */
function linkIn(data: Uint8Array): string | null {
  const wide = data[0] === 1 || data[0] === 2;
  let at = 1;
  while (at < data.length && (data[at] !== 0 || (wide && data[at + 1] !== 0))) at += wide ? 2 : 1;
  return decodeText(0, data.subarray(at + (wide ? 2 : 1))) || null;
}

/**
 * A chapter's frame with each frame inside it made another one, or left out; null where it cannot be looked into. Its
 * inner frames are written as those of version `to`.
 */
export function mapChapter(
  frame: Id3Frame,
  version: Id3Version,
  to: Id3Version,
  change: (part: Id3Frame) => Id3Frame | null,
): Id3Frame | null {
  const content = frameContent(frame, version);
  if (!content) return null;
  const partsAt = content.indexOf(0) + 1 + TIMES_BYTES;
  const parts = [...partsIn(content.subarray(partsAt), version)].flatMap((part) => change(part) ?? []);
  const data = concat([content.subarray(0, partsAt), ...parts.map((part) => frameBytes(part, to))]);
  return { id: frame.id, flags: 0, data };
}

/** What chapters are written from beside themselves. */
export interface ChapterSources {
  /** Chapters that they take the place of. */
  readonly before: readonly ChapterWithParts[];
  /** Pictures that are none of the file's own. */
  readonly pictures?: ReadonlyMap<PictureId, NewPicture>;
}

/** The frames that go with a chapter, with the picture that it is to have. */
function withPicture(
  { picture }: Chapter,
  parts: readonly Id3Frame[],
  { before, pictures }: ChapterSources,
  version: Id3Version,
): readonly Id3Frame[] {
  if (picture === undefined) return parts;
  const others = parts.filter((part) => !isPictureFrame(part, version));
  if (picture === null) return others;
  if ('id' in picture) {
    const chosen = pictures?.get(picture.id);
    return chosen ? [...others, pictureFrame(version, codeOfRole('illustration'), chosen)] : parts;
  }
  // One of the file's own: it may have come from another chapter.
  const { hash } = picture;
  const owner = before.find(({ chapter: { picture: own } }) => own && 'hash' in own && own.hash === hash);
  return owner ? [...others, ...owner.parts.filter((part) => isPictureFrame(part, version))] : parts;
}

/** Frames of chapters, and the table of contents that lists them in their order. */
export function chapterFrames(
  chapters: readonly Chapter[],
  version: Id3Version,
  sources: ChapterSources,
): Id3Frame[] {
  if (chapters.length === 0) return [];
  const parts = goingOn(chapters, sources.before, ({ parts: own }) => own.length > 0).map((old, index) =>
    withPicture(chapters[index] as Chapter, old?.parts ?? [], sources, version),
  );
  const ids = chapters.map((_, index) => `chp${index}`);
  const frames = chapters.map((chapter, index): Id3Frame => {
    const next = chapters[index + 1]?.startSeconds ?? null;
    const end = chapter.endSeconds ?? next;
    const subframes = [
      frameBytes({ id: 'TIT2', flags: 0, data: encodeText(chapter.title, version) }, version),
      ...(chapter.link === null
        ? []
        : [frameBytes({ id: 'WXXX', flags: 0, data: encodeLink(chapter.link) }, version)]),
      ...(parts[index] ?? []).map((part) => frameBytes(part, version)),
    ];
    const times = [milliseconds(chapter.startSeconds), end === null ? NOT_GIVEN : milliseconds(end)];
    const data = concat([
      ascii(`${ids[index]}\0`),
      ...[...times, NOT_GIVEN, NOT_GIVEN].map((value) => u32(value)),
      ...subframes,
    ]);
    return { id: CHAPTER_FRAME, flags: 0, data };
  });
  return [...contentsFrames(ids), ...frames];
}

/** Entries of one table of contents: it counts them in one byte. */
const MOST_ENTRIES = 255;

/** One table of contents, or one of several where the chapters are too many for it (section 3.2 of the addendum). */
function contentsFrames(ids: readonly string[]): readonly Id3Frame[] {
  const table = (id: string, flags: number, entries: readonly string[]): Id3Frame => ({
    id: CONTENTS_FRAME,
    flags: 0,
    data: concat([
      ascii(`${id}\0`),
      Uint8Array.of(flags, entries.length),
      ...entries.map((entry) => ascii(`${entry}\0`)),
    ]),
  });
  if (ids.length <= MOST_ENTRIES) return [table('toc', TOP_LEVEL | ORDERED, ids)];
  const tables: Id3Frame[] = [];
  for (let at = 0; at < ids.length; at += MOST_ENTRIES)
    tables.push(table(`toc${tables.length}`, ORDERED, ids.slice(at, at + MOST_ENTRIES)));
  const all = tables.map((_, index) => `toc${index}`);
  return [table('toc', TOP_LEVEL | ORDERED, all), ...tables];
}

const milliseconds = (seconds: number): number => Math.min(NOT_GIVEN - 1, Math.round(seconds * 1000));
