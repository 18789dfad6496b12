import { ascii, concat } from '$lib/core/bytes';
import { codeOfRole, type PictureRole } from '$lib/core/items';
import { FormatError, type NewPicture, type TagChanges } from '../format';
import { tagChangesFor, type NativeChange } from '../tag-map';
import { chapterFrames, chaptersWithParts } from './chapters';
import { nameOfFrame, saidById3, textsOfTag } from './fields';
import { HEADER_BYTES, syncSafe, type Id3Frame, type Id3Tag, type Id3Version } from './layout';
import { isPictureFrame, pictureFrame, pictureIn } from './pictures';
import { ratingFrames } from './rating';
import {
  CHAPTER_FRAME,
  CONTENTS_FRAME,
  ID3_MAPS,
  PODCAST_FRAME,
  RATING_FRAME,
  SPOKEN_FRAMES,
  USER_FRAME,
} from './tag-map';
import { encodePair, encodeText, frameBytes, type TextStyle } from './text';
import { isTimedFrame, timedFrames } from './timed';

/** Room left for later edits in a tag that had to grow, in bytes. */
const PADDING_BYTES = 1024;
/** Old room is reused up to this much of it; more is given back. */
const MOST_PADDING_BYTES = 65_536;
/** What a tag's size can say in 28 bits. */
const MOST_BODY_BYTES = 0x0fffffff;

/**
 * The bytes of a tag with the changes in it. The version stays; frames that are not changed are
 * carried over byte for byte. A file without a tag gets ID3v2.3, which every reader knows.
 * @throws {FormatError} `tooLarge` when the tag or a frame passes what its size can say
 */
export function writeId3(old: Id3Tag | null, changes: TagChanges): Uint8Array {
  const version = old?.version ?? 3;
  const frames = changeFrames(old, version, old && saidById3(old) ? changes : filled(changes));
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

function changeFrames(old: Id3Tag | null, version: Id3Version, changes: TagChanges): Id3Frame[] {
  const tag = old ?? { version, frames: [] };
  let frames = [...tag.frames];
  for (const change of tagChangesFor(ID3_MAPS[version], changes, textsOfTag(tag))) {
    const goes = new Set(change.goes);
    const isOld = (frame: Id3Frame) => goes.has(nameOfFrame(frame, version));
    frames = replaceWhere(frames, isOld, fieldFrames(change, frames, version, changes.encoding ?? version));
  }
  if (changes.chapters) {
    if (!ID3_MAPS[version].chapters && changes.chapters.length > 0)
      throw new FormatError('tooLarge', `ID3v2.${version} holds no chapters`);
    const isOld = ({ id }: Id3Frame) => id === CHAPTER_FRAME || id === CONTENTS_FRAME;
    const fresh = chapterFrames(changes.chapters, version, {
      before: chaptersWithParts(tag),
      pictures: changes.chapterPictures,
    });
    frames = replaceWhere(frames, isOld, fresh);
  }
  if (changes.timed)
    frames = replaceWhere(
      frames,
      (frame) => isTimedFrame(frame, version),
      timedFrames(changes.timed, version),
    );
  for (const [role, picture] of changes.pictures ?? [])
    frames = changePicture(frames, version, role, picture);
  return frames;
}

/** The frames that a field's texts go into. Only ratings are several. */
function fieldFrames(
  change: NativeChange,
  frames: readonly Id3Frame[],
  version: Id3Version,
  style: TextStyle,
): readonly Id3Frame[] {
  const id = RATING_FRAME[version];
  if (change.name === id)
    return ratingFrames(
      frames.filter((frame) => frame.id === id),
      change.texts[0],
      version,
    );
  return change.texts.length === 0 ? [] : [fieldFrame(change, version, style)];
}

function fieldFrame({ name, texts }: NativeChange, version: Id3Version, style: TextStyle): Id3Frame {
  const [id = '', label] = name.split(':');
  // Four bytes that are no text: that it is there says all.
  if (id === PODCAST_FRAME[version]) return { id, flags: 0, data: new Uint8Array(4) };
  // ID3v2.4 parts values by a null letter (frames, section 4.2). Earlier versions have no way that leaves a slash
  // inside a name alone, so there the values stay one text.
  const text = texts.join(version === 4 ? '\0' : '; ');
  if (SPOKEN_FRAMES[version].includes(id) && label === undefined)
    // Without a description, language unknown (ID3v2.3.0, section 4.9).
    return { id, flags: 0, data: encodePair(ascii('XXX'), '', text, style) };
  // A user text frame: encoding, description, a null letter, value (ID3v2.3.0, section 4.2.2).
  if (id === USER_FRAME[version] && label !== undefined)
    return { id, flags: 0, data: encodePair(new Uint8Array(0), label, text, style) };
  return { id, flags: 0, data: encodeText(text, style) };
}

/** Puts the new frames where the first of the old ones stood, so that the order of a tag stays. */
function replaceWhere(
  frames: readonly Id3Frame[],
  isOld: (frame: Id3Frame) => boolean,
  fresh: readonly Id3Frame[],
): Id3Frame[] {
  const at = frames.findIndex(isOld);
  const rest = frames.filter((frame) => !isOld(frame));
  const place = at < 0 ? rest.length : at;
  return [...rest.slice(0, place), ...fresh, ...rest.slice(place)];
}

/**
 * The new picture takes the place of the old one of its role, or of one of no role; other pictures stay. Null removes
 * those of its role.
 */
function changePicture(
  frames: readonly Id3Frame[],
  version: Id3Version,
  role: PictureRole,
  picture: NewPicture | null,
): Id3Frame[] {
  const isPicture = (frame: Id3Frame) => isPictureFrame(frame, version);
  const wanted = codeOfRole(role);
  const codes = new Map(
    frames.filter(isPicture).map((frame) => [frame, pictureIn(frame, version)?.code ?? null]),
  );
  if (!picture) return frames.filter((frame) => codes.get(frame) !== wanted);
  const stands = [...codes.values()].includes(wanted);
  const out = stands || role !== 'front' ? wanted : codeOfRole('other');
  const at = frames.findIndex((frame) => codes.get(frame) === out);
  const rest = frames.filter((frame) => codes.get(frame) !== out);
  const place = at < 0 ? rest.findIndex(isPicture) : at;
  const fresh = pictureFrame(version, wanted, picture);
  return place < 0 ? [...rest, fresh] : [...rest.slice(0, place), fresh, ...rest.slice(place)];
}
