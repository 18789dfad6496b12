import { ascii, concat, readAscii, readU16, readU32, u32 } from '$lib/core/bytes';
import type { Chapter } from '$lib/core/items';
import { HEADER_BYTES, readSyncSafe, type Id3Frame, type Id3Tag, type Id3Version } from './layout';
import { decodeText, frameContent } from './reader';
import { CHAPTER_FRAME, CONTENTS_FRAME } from './tag-map';
import { encodeLink, encodeText, frameBytes } from './text';

/** Stands for "not given" in a chapter's times and byte offsets. */
const NOT_GIVEN = 0xffffffff;
const TOP_LEVEL_ORDERED = 0x03;

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

/** An element id, start and end in milliseconds, two byte offsets, then frames of its own. */
function parseChapter(content: Uint8Array, version: Id3Version): ChapterWithParts {
  const timesAt = content.indexOf(0) + 1;
  const start = readU32(content, timesAt);
  const end = readU32(content, timesAt + 4);
  const subframes = content.subarray(timesAt + 16);
  let title = '';
  let link: string | null = null;
  const parts: Id3Frame[] = [];
  for (let at = 0; at + HEADER_BYTES <= subframes.length;) {
    const id = readAscii(subframes, at, 4);
    const size = version === 4 ? readSyncSafe(subframes, at + 4) : readU32(subframes, at + 4);
    const data = subframes.subarray(at + HEADER_BYTES, at + HEADER_BYTES + size);
    if (id === 'TIT2') title = decodeText(data[0] ?? 0, data.subarray(1));
    else if (id === 'WXXX') link ??= linkIn(data);
    // An id of null letters is padding.
    else if (/^[A-Z0-9]{4}$/.test(id)) parts.push({ id, flags: readU16(subframes, at + 8), data });
    at += HEADER_BYTES + size;
  }
  const endSeconds = end > start && end !== NOT_GIVEN ? end / 1000 : null;
  return { chapter: { startSeconds: start / 1000, endSeconds, title, link }, parts };
}

/** Encoding, description, then the address in Latin-1 (ID3v2.3.0, section 4.3.2). */
function linkIn(data: Uint8Array): string | null {
  const wide = data[0] === 1 || data[0] === 2;
  let at = 1;
  while (at < data.length && (data[at] !== 0 || (wide && data[at + 1] !== 0))) at += wide ? 2 : 1;
  return decodeText(0, data.subarray(at + (wide ? 2 : 1))) || null;
}

/**
 * What of the chapters before goes on with each of the new ones: a picture stays with its chapter when that is moved or
 * called otherwise. One is known by its start, else by its title, else by its place where there are as many as before.
 */
function partsFor(
  chapters: readonly Chapter[],
  before: readonly ChapterWithParts[],
): readonly (readonly Id3Frame[])[] {
  const left = new Set(before.filter(({ parts }) => parts.length > 0));
  const found = new Map<Chapter, ChapterWithParts>();
  const match = (isOne: (own: Chapter, old: ChapterWithParts, index: number) => boolean) => {
    if (left.size === 0) return;
    for (const [index, own] of chapters.entries()) {
      if (found.has(own)) continue;
      const old = [...left].find((one) => isOne(own, one, index));
      if (!old) continue;
      found.set(own, old);
      left.delete(old);
    }
  };
  match((own, { chapter }) => milliseconds(own.startSeconds) === milliseconds(chapter.startSeconds));
  match((own, { chapter }) => own.title !== '' && own.title === chapter.title);
  if (chapters.length === before.length) match((_, old, index) => before[index] === old);
  return chapters.map((own) => found.get(own)?.parts ?? []);
}

/**
 * Frames of chapters, and the table of contents that lists them in their order.
 * @param before chapters that they take the place of
 */
export function chapterFrames(
  chapters: readonly Chapter[],
  version: Id3Version,
  before: readonly ChapterWithParts[] = [],
): Id3Frame[] {
  if (chapters.length === 0) return [];
  const parts = partsFor(chapters, before);
  const ids = chapters.map((_, index) => `chp${index}`);
  const contents = concat([
    ascii('toc\0'),
    Uint8Array.of(TOP_LEVEL_ORDERED, chapters.length),
    ...ids.map((id) => ascii(`${id}\0`)),
  ]);
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
  return [{ id: CONTENTS_FRAME, flags: 0, data: contents }, ...frames];
}

const milliseconds = (seconds: number): number => Math.min(NOT_GIVEN - 1, Math.round(seconds * 1000));
