import type { NativeRead } from '../format';
import { addText, readRows, type NativeTexts } from '../tag-map';
import { id3Chapters } from './chapters';
import type { Id3Frame, Id3Tag, Id3Version } from './layout';
import { decodeText, frameContent, frameText } from './reader';
import { ID3_MAPS, LYRICS_FRAME, USER_FRAME } from './tag-map';
import { id3Timed } from './timed';

/** The name under which the tag map knows a frame: its id, with the description of a user text behind it. */
export function nameOfFrame(frame: Id3Frame, version: Id3Version): string {
  if (frame.id !== USER_FRAME[version]) return frame.id;
  const [label = ''] = frameText(frame, version)?.split('\0') ?? [];
  return `${frame.id}:${withoutMark(label).toUpperCase()}`;
}

/** Texts of a tag's frames. Of several frames of one id the first counts. */
export function textsOfTag({ version, frames }: Pick<Id3Tag, 'version' | 'frames'>): NativeTexts {
  const texts = new Map<string, string[]>();
  for (const frame of frames) {
    const isUser = frame.id === USER_FRAME[version];
    if (!isUser && !frame.id.startsWith('T') && frame.id !== LYRICS_FRAME[version]) continue;
    const name = nameOfFrame(frame, version);
    if (texts.has(name)) continue;
    if (frame.id === LYRICS_FRAME[version]) addText(texts, name, lyricsOf(frame, version));
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

/** Encoding, language, description, text (ID3v2.3.0, section 4.9). */
function lyricsOf(frame: Id3Frame, version: Id3Version): string {
  const content = frameContent(frame, version);
  if (!content || content.length < 5) return '';
  const text = decodeText(content[0] as number, content.subarray(4));
  return withoutMark(text.slice(text.indexOf('\0') + 1));
}
