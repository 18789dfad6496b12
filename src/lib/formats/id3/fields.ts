import { EMPTY_FIELDS, requireField, type FieldName, type Fields } from '$lib/core/items';
import { splitPair, splitValues } from '../format';
import { unescapeGenre } from './genres';
import type { Id3Frame, Id3Tag, Id3Version } from './layout';
import { decodeText, frameContent, frameText } from './reader';
import { DISC_FRAME, LYRICS_FRAME, TEXT_FRAMES, TRACK_FRAME, USER_FRAME, USER_TEXTS } from './tag-map';

/**
 * The fields that an ID3v2 tag holds, as they stand. Up to ID3v2.3 a slash may part values or belong to a name, so
 * it stays text; a genre that is a number stays one.
 */
export function id3Fields(tag: Id3Tag): Fields {
  const { version, frames } = tag;
  const first = (id: string | undefined) => frames.find((frame) => frame.id === id);
  const values = (id: string | undefined): string[] => {
    const frame = first(id);
    const text = frame && frameText(frame, version);
    return (text ?? '')
      .split('\0')
      .map(withoutMark)
      .filter((value) => value !== '');
  };
  const said: Partial<Record<FieldName, string | number | boolean | null>> = {};
  for (const [name, ids] of Object.entries(TEXT_FRAMES) as [FieldName, Record<Id3Version, string>][])
    said[name] = valueOf(name, values(ids[version]));
  for (const [name, description] of Object.entries(USER_TEXTS) as [FieldName, string][]) {
    const found = frames
      .filter(({ id }) => id === USER_FRAME[version])
      .map((frame) => frameText(frame, version)?.split('\0').map(withoutMark) ?? [])
      .find(([label]) => label?.toUpperCase() === description);
    if (found)
      said[name] = valueOf(
        name,
        found.slice(1).filter((value) => value !== ''),
      );
  }
  const track = splitPair(values(TRACK_FRAME[version])[0] ?? null);
  const disc = splitPair(values(DISC_FRAME[version])[0] ?? null);
  return {
    ...EMPTY_FIELDS,
    ...(said as Partial<Fields>),
    track: track.no,
    tracks: track.of,
    disc: disc.no,
    discs: disc.of,
    lyrics: lyricsOf(first(LYRICS_FRAME[version]), version),
  };
}

/** The same, or null where the tag says nothing: many hold no more than the name of a program. */
export function saidById3(tag: Id3Tag): Fields | null {
  const fields = id3Fields(tag);
  return Object.values(fields).some((value) => value !== null) ? fields : null;
}

function valueOf(name: FieldName, values: readonly string[]): string | number | boolean | null {
  const [text] = values;
  if (text === undefined) return null;
  const { type, many } = requireField(name);
  if (type === 'yesno') return text === '1' ? true : null;
  if (type === 'number') return numberIn(name === 'year' ? text.slice(0, 4) : text);
  if (type === 'day') return /^\d{4}(-\d{2}){0,2}/.exec(text)?.[0] ?? null;
  const texts = name === 'genre' ? values.map(unescapeGenre) : values;
  return many ? splitValues(texts.join('; ')).join('; ') || null : text;
}

/** Each of several texts of one frame may begin with its own byte order mark. */
const withoutMark = (text: string) => text.replace(/^\ufeff/, '');

function numberIn(text: string): number | null {
  const value = Number.parseInt(text, 10);
  return Number.isFinite(value) && value > 0 ? value : null;
}

/** Encoding, language, description, text (ID3v2.3.0, section 4.9). */
function lyricsOf(frame: Id3Frame | undefined, version: Id3Version): string | null {
  const content = frame && frameContent(frame, version);
  if (!content || content.length < 5) return null;
  const text = decodeText(content[0] as number, content.subarray(4));
  return withoutMark(text.slice(text.indexOf('\0') + 1)) || null;
}
