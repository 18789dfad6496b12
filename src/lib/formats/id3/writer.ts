import { ascii, concat, u16, u24, u32 } from '$lib/core/bytes';
import { requireField, type Edits, type FieldName } from '$lib/core/items';
import { FormatError, joinPair, splitPair, splitValues, type NewPicture, type TagChanges } from '../format';
import { saidById3 } from './fields';
import { escapeGenre } from './genres';
import { HEADER_BYTES, syncSafe, type Id3Frame, type Id3Tag, type Id3Version } from './layout';
import { frameContent, frameText } from './reader';
import {
  ALSO_REMOVED,
  DISC_FRAME,
  LYRICS_FRAME,
  PICTURE_FRAME,
  TEXT_FRAMES,
  TRACK_FRAME,
  USER_FRAME,
  USER_TEXTS,
} from './tag-map';

/** Room left for later edits in a tag that had to grow, in bytes. */
const PADDING_BYTES = 1024;
/** Old room is reused up to this much of it; more is given back. */
const MOST_PADDING_BYTES = 65_536;
/** What a tag's size can say in 28 bits, and a frame's of ID3v2.2 in 24. */
const MOST_BODY_BYTES = 0x0fffffff;
const MOST_FRAME22_BYTES = 0xffffff;
const FRONT_COVER = 3;

/**
 * The bytes of a tag with the changes in it. The version stays; frames that are not changed are
 * carried over byte for byte. A file without a tag gets ID3v2.3, which every reader knows.
 * @throws {FormatError} `tooLarge` when the tag or a frame passes what its size can say
 */
export function writeId3(old: Id3Tag | null, changes: TagChanges): Uint8Array {
  const version = old?.version ?? 3;
  const frames = changeFrames(old?.frames ?? [], version, old && saidById3(old) ? changes : filled(changes));
  const body = concat(frames.map((frame) => frameBytes(frame, version)));
  const room = (old?.size ?? 0) - HEADER_BYTES - body.length;
  const padding = room >= 0 && room <= MOST_PADDING_BYTES ? room : PADDING_BYTES;
  if (body.length + padding > MOST_BODY_BYTES)
    throw new FormatError('tooLarge', 'an ID3v2 tag holds at most 256 MiB');
  return concat([tagHeader(version, body.length + padding), body, new Uint8Array(padding)]);
}

const tagHeader = (version: Id3Version, length: number) =>
  concat([ascii('ID3'), Uint8Array.of(version, 0, 0), syncSafe(length)]);

/** For a file without such a tag, or with one that says nothing: all that the file says goes into it, since it hides what an older tag holds. */
function filled(changes: TagChanges): TagChanges {
  const all = Object.entries(changes.all ?? {}).filter(([, value]) => value !== null);
  return { ...changes, fields: { ...Object.fromEntries(all), ...changes.fields } };
}

/** Whether a tag has parts that not every reader understands: an extended header, compressed frames, unsynchronisation. */
export function hasOddities(tag: Id3Tag): boolean {
  return tag.flags !== 0 || tag.frames.some(({ flags }) => (flags & 0xff) !== 0);
}

/** The same tag in its plainest form, for readers that do not know all others: frames unfolded, nothing between. */
export function normalId3({ version, frames }: Id3Tag): Uint8Array {
  const plain = frames.flatMap((frame): Id3Frame[] => {
    const data = frameContent(frame, version);
    return data && /^[A-Z0-9]+$/.test(frame.id) ? [{ id: frame.id, flags: 0, data }] : [];
  });
  const body = concat(plain.map((frame) => frameBytes(frame, version)));
  return concat([tagHeader(version, body.length), body]);
}

function frameBytes({ id, flags, data }: Id3Frame, version: Id3Version): Uint8Array {
  if (version === 2) {
    if (data.length > MOST_FRAME22_BYTES)
      throw new FormatError('tooLarge', 'a frame of ID3v2.2 holds at most 16 MiB');
    return concat([ascii(id), u24(data.length), data]);
  }
  const size = version === 4 ? syncSafe(data.length) : u32(data.length);
  return concat([ascii(id), size, u16(flags), data]);
}

function changeFrames(old: readonly Id3Frame[], version: Id3Version, changes: TagChanges): Id3Frame[] {
  let frames = [...old];
  for (const name of Object.keys(changes.fields) as FieldName[]) {
    const id = TEXT_FRAMES[name]?.[version];
    if (id)
      frames = replaceFrame(frames, id, textFor(name, changes.fields, version), version, ALSO_REMOVED[name]);
  }
  for (const [field, name] of Object.entries(USER_TEXTS)) {
    const value = changes.fields[field as FieldName];
    if (value !== undefined) frames = replaceUserText(frames, name, value, version);
  }
  if (changes.fields.lyrics !== undefined) frames = replaceLyrics(frames, changes.fields.lyrics, version);
  frames = changePair(frames, TRACK_FRAME[version], version, changes.fields.track, changes.fields.tracks);
  frames = changePair(frames, DISC_FRAME[version], version, changes.fields.disc, changes.fields.discs);
  return changes.picture ? changePicture(frames, version, changes.picture) : frames;
}

function textFor(name: FieldName, edits: Edits, version: Id3Version): string | null {
  const value = edits[name] ?? null;
  if (value === null || value === false) return null;
  if (value === true) return '1';
  if (typeof value === 'number') return String(value).padStart(4, '0');
  if (!requireField(name).many) return value;
  // ID3v2.4 parts values by a null letter (frames, section 4.2). Earlier versions have no way that
  // leaves a slash inside a name alone, so there the values stay one text.
  if (version !== 4) return name === 'genre' ? escapeGenre(value) : value;
  const values = splitValues(value);
  return (name === 'genre' ? values.map(escapeGenre) : values).join('\0');
}

/** Puts the new frame where the first of the old ones stood, so that the order of a tag stays. */
function replaceFrame(
  frames: readonly Id3Frame[],
  id: string,
  text: string | null,
  version: Id3Version,
  also: readonly string[] = [],
): Id3Frame[] {
  const goes = (frame: Id3Frame) => frame.id === id || also.includes(frame.id);
  const at = frames.findIndex(goes);
  const rest = frames.filter((frame) => !goes(frame));
  if (text === null) return rest;
  const place = at < 0 ? rest.length : frames.slice(0, at).filter((frame) => !goes(frame)).length;
  return [...rest.slice(0, place), { id, flags: 0, data: encodeText(text, version) }, ...rest.slice(place)];
}

/** A user text frame: encoding, description, a null letter, value (ID3v2.3.0, section 4.2.2). */
function replaceUserText(
  frames: readonly Id3Frame[],
  name: string,
  value: string | number | boolean | null,
  version: Id3Version,
): Id3Frame[] {
  const id = USER_FRAME[version];
  const isOld = (frame: Id3Frame) =>
    frame.id === id && frameText(frame, version)?.split('\0')[0]?.toUpperCase() === name;
  const data = value === null ? null : encodePair(new Uint8Array(0), name, String(value), version);
  return replaceWhere(frames, isOld, data && { id, flags: 0, data });
}

/** Lyrics without a description, language unknown (ID3v2.3.0, section 4.9). Those of other descriptions go too. */
function replaceLyrics(frames: readonly Id3Frame[], value: string | null, version: Id3Version): Id3Frame[] {
  const id = LYRICS_FRAME[version];
  const data = value === null ? null : encodePair(ascii('XXX'), '', value, version);
  return replaceWhere(frames, (frame) => frame.id === id, data && { id, flags: 0, data });
}

function replaceWhere(
  frames: readonly Id3Frame[],
  isOld: (frame: Id3Frame) => boolean,
  frame: Id3Frame | null,
): Id3Frame[] {
  const at = frames.findIndex(isOld);
  const rest = frames.filter((candidate) => !isOld(candidate));
  if (!frame) return rest;
  const place = at < 0 ? rest.length : at;
  return [...rest.slice(0, place), frame, ...rest.slice(place)];
}

/** Encoding, what stands before the texts, then two texts parted by a null letter of the encoding. */
function encodePair(before: Uint8Array, first: string, second: string, version: Id3Version): Uint8Array {
  const encoding = encodeText(first + second, version)[0] as number;
  if (encoding !== 1) {
    const encode = (text: string) => (encoding === 3 ? new TextEncoder().encode(text) : ascii(text));
    return concat([Uint8Array.of(encoding), before, encode(first), Uint8Array.of(0), encode(second)]);
  }
  const mark = Uint8Array.of(0xff, 0xfe);
  const head = concat([mark, utf16le(first), Uint8Array.of(0, 0)]);
  return concat([Uint8Array.of(1), before, head, mark, utf16le(second)]);
}

function changePair(
  frames: Id3Frame[],
  id: string,
  version: Id3Version,
  no: number | null | undefined,
  of: number | null | undefined,
): Id3Frame[] {
  if (no === undefined && of === undefined) return frames;
  const frame = frames.find((candidate) => candidate.id === id);
  const old = splitPair(frame ? frameText(frame, version) : null);
  return replaceFrame(
    frames,
    id,
    joinPair(no === undefined ? old.no : no, of === undefined ? old.of : of),
    version,
  );
}

/** A text frame's body: one byte of encoding, then text. Plain ASCII stays so; readers agree on it. */
function encodeText(text: string, version: Id3Version): Uint8Array {
  // eslint-disable-next-line no-control-regex
  if (/^[\u0000-\u007f]*$/.test(text)) return concat([Uint8Array.of(version === 4 ? 3 : 0), ascii(text)]);
  if (version === 4) return concat([Uint8Array.of(3), new TextEncoder().encode(text)]);
  return concat([Uint8Array.of(1, 0xff, 0xfe), utf16le(text)]);
}

function utf16le(text: string): Uint8Array {
  const bytes = new Uint8Array(text.length * 2);
  for (let i = 0; i < text.length; i++) {
    bytes[i * 2] = text.charCodeAt(i);
    bytes[i * 2 + 1] = text.charCodeAt(i) >>> 8;
  }
  return bytes;
}

/** The new front picture takes the place of the old one; other pictures stay. */
function changePicture(frames: readonly Id3Frame[], version: Id3Version, picture: NewPicture): Id3Frame[] {
  const id = PICTURE_FRAME[version];
  const roles = new Map(
    frames.filter((frame) => frame.id === id).map((frame) => [frame, pictureRole(frame, version)]),
  );
  const roleOut = [...roles.values()].includes(FRONT_COVER) ? FRONT_COVER : 0;
  const at = frames.findIndex((frame) => roles.get(frame) === roleOut);
  const rest = frames.filter((frame) => roles.get(frame) !== roleOut);
  const place = at < 0 ? rest.findIndex((frame) => frame.id === id) : at;
  const fresh: Id3Frame = { id, flags: 0, data: pictureBody(version, picture) };
  return place < 0 ? [...rest, fresh] : [...rest.slice(0, place), fresh, ...rest.slice(place)];
}

function pictureBody(version: Id3Version, { mime, bytes }: NewPicture): Uint8Array {
  const format = version === 2 ? ascii(mime === 'image/png' ? 'PNG' : 'JPG') : ascii(`${mime}\0`);
  return concat([Uint8Array.of(0), format, Uint8Array.of(FRONT_COVER, 0), bytes]);
}

/** The picture type of APIC or PIC, or null when the frame cannot be looked into. */
function pictureRole(frame: Id3Frame, version: Id3Version): number | null {
  const content = frameContent(frame, version);
  if (!content) return null;
  const at = version === 2 ? 4 : content.indexOf(0, 1) + 1;
  return content[at] ?? null;
}
