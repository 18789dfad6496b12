import type { NativeRead } from '../format';
import { addText, readRows, type NativeTexts } from '../tag-map';
import { id3Chapters } from './chapters';
import { genreNames } from './genres';
import type { Id3Frame, Id3Tag, Id3Version } from './layout';
import { decodeText, frameContent, frameText } from './reader';
import { ratingText } from './rating';
import { GENRE_FRAME, ID3_MAPS, LYRICS_FRAME, RATING_FRAME, SPOKEN_FRAMES, USER_FRAME } from './tag-map';
import { id3Timed } from './timed';

/** The name under which the tag map knows a frame: its id, with the description of a user text behind it. */
export function nameOfFrame(frame: Id3Frame, version: Id3Version): string {
  if (SPOKEN_FRAMES[version].includes(frame.id)) {
    const label = frame.id === LYRICS_FRAME[version] ? '' : (spokenIn(frame, version)?.label ?? '');
    return label === '' ? frame.id : `${frame.id}:${label.toUpperCase()}`;
  }
  if (frame.id !== USER_FRAME[version]) return frame.id;
  const [label = ''] = frameText(frame, version)?.split('\0') ?? [];
  return `${frame.id}:${withoutMark(label).toUpperCase()}`;
}

/** Texts of a tag's frames. Of several frames of one id the first counts. */
export function textsOfTag({ version, frames }: Pick<Id3Tag, 'version' | 'frames'>): NativeTexts {
  const texts = new Map<string, string[]>();
  for (const frame of frames) {
    const isUser = frame.id === USER_FRAME[version];
    const isSpoken = SPOKEN_FRAMES[version].includes(frame.id);
    const isRating = frame.id === RATING_FRAME[version];
    if (!isUser && !isSpoken && !isRating && !frame.id.startsWith('T')) continue;
    const name = nameOfFrame(frame, version);
    if (texts.has(name)) continue;
    if (isRating) addText(texts, name, ratingText(frame, version));
    else if (isSpoken) addText(texts, name, spokenIn(frame, version)?.text ?? '');
    else {
      const values = frameText(frame, version)?.split('\0').map(withoutMark) ?? [];
      for (const value of isUser ? values.slice(1) : values) addText(texts, name, value);
    }
  }
  return texts;
}

/**
 * What an ID3v2 tag holds, as it stands. Up to ID3v2.3 a slash may part values or belong to a name, so it stays text;
 * a genre that is a number stays one.
 */
export function readTag(tag: Id3Tag): NativeRead {
  return {
    fields: readRows(ID3_MAPS[tag.version].rows, textsOfTag(tag)),
    chapters: id3Chapters(tag),
    timed: id3Timed(tag),
  };
}

/** The genres that a tag names, by number or in words. */
export function genresOf(tag: Id3Tag): readonly string[] {
  for (const frame of tag.frames) {
    if (frame.id !== GENRE_FRAME[tag.version]) continue;
    const names = (frameText(frame, tag.version) ?? '').split('\0').map(withoutMark).flatMap(genreNames);
    if (names.length > 0) return names;
  }
  return [];
}

/** The same, or null where the tag says nothing: many hold no more than the name of a program. */
export function saidById3(tag: Id3Tag): NativeRead | null {
  const read = readTag(tag);
  const says =
    read.chapters.length > 0 ||
    read.timed.length > 0 ||
    Object.values(read.fields).some((value) => value !== null);
  return says ? read : null;
}

/** Each of several texts of one frame may begin with its own byte order mark. */
const withoutMark = (text: string) => text.replace(/^\ufeff/, '');

/** Encoding, language, description, text (ID3v2.3.0, sections 4.9 and 4.11). Null where it is none. */
function spokenIn(frame: Id3Frame, version: Id3Version): { label: string; text: string } | null {
  const content = frameContent(frame, version);
  if (!content || content.length < 5) return null;
  const all = decodeText(content[0] as number, content.subarray(4));
  const end = all.indexOf('\0');
  return { label: withoutMark(all.slice(0, Math.max(0, end))), text: withoutMark(all.slice(end + 1)) };
}
