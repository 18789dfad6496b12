import { hash } from 'ohash';
import { cleanText, cleanValue, type Edits, type FieldName, type Fields } from './fields';
import { sameValue, type FieldValue } from './field-types';
import type { PictureRole } from './pictures';
import { cleanLine, sameTimed, type TimedLine } from './timed-words';
import { editedTracks, layTracks, sameTracks, trimmedTracks, type Track, type TrackEdit } from './tracks';

export type PictureId = string & { readonly __brand: 'PictureId' };

/** A picture inside a file. `hash` tells pictures apart without keeping them. */
export interface PictureFact {
  readonly role: PictureRole;
  readonly mime: string;
  /** Length in bytes; pixels; null where its bytes do not say. */
  readonly bytes: number;
  readonly width: number | null;
  readonly height: number | null;
  readonly hash: number;
}

/** A picture set by the curator or brought along, kept in the library under its id. Bytes, pixels. */
export interface ChosenPicture {
  readonly id: PictureId;
  readonly mime: string;
  readonly bytes: number;
  readonly width: number;
  readonly height: number;
}

/** A picture of a chapter: one that the file holds, told by its hash, or one kept in the library under its id. */
export type ChapterPicture = Omit<PictureFact, 'role'> | ChosenPicture;

/** Chapters follow each other by their start. Seconds. */
export interface Chapter {
  readonly startSeconds: number;
  /** Null where it lasts until the next one, or until the end. */
  readonly endSeconds: number | null;
  readonly title: string;
  readonly link: string | null;
  /** Null for none at all; absent where it has what the file's own chapter has. */
  readonly picture?: ChapterPicture | null;
}

/** Everything that is said of an item and can go out with it. */
export interface Content {
  readonly fields: Fields;
  readonly pictures: readonly PictureFact[];
  readonly chapters: readonly Chapter[];
  /** Words with their times; absent where there are none. */
  readonly timed?: readonly TimedLine[];
  /** Of a container that holds several; absent where there is no more than one. */
  readonly tracks?: readonly Track[];
}

/**
 * What is said otherwise than the file does, and nothing else: what is absent is as the file has it. Every part of
 * content has its place here, so that undoing, putting back, comparing and writing are the same for all.
 */
export interface Overlay {
  readonly fields?: Edits;
  /** By the role that each takes in place of the file's own. */
  readonly pictures?: { readonly [R in PictureRole]?: ChosenPicture };
  readonly chapters?: readonly Chapter[];
  readonly timed?: readonly TimedLine[];
  /** By the number of each track, as far as something is said of it. */
  readonly tracks?: readonly TrackEdit[];
}

/** The least that an item says: its file's content, and what is said over it. */
export interface Saying {
  readonly file: Content;
  readonly edits: Overlay;
}

const NO_EDITS: Edits = {};
const NO_LINES: readonly TimedLine[] = [];
const NO_TRACKS: readonly Track[] = [];

/** The fields as they will be written: the file's own, with the curator's over them. */
export function fieldsOf({ file, edits }: Saying): Fields {
  return edits.fields ? { ...file.fields, ...edits.fields } : file.fields;
}

/** One of them, without laying all of them together. */
export function fieldOf<N extends FieldName>({ file, edits }: Saying, name: N): Fields[N] {
  const edited = edits.fields?.[name];
  return edited === undefined ? file.fields[name] : edited;
}

/** The fields that are said otherwise than the file does. */
export function editsOf({ edits }: Pick<Saying, 'edits'>): Edits {
  return edits.fields ?? NO_EDITS;
}

/** Chapters as they are shown and written. */
export function chaptersOf({ file, edits }: Saying): readonly Chapter[] {
  return edits.chapters ?? file.chapters;
}

/** Words with their times as they are shown and written. */
export function timedOf({ file, edits }: Saying): readonly TimedLine[] {
  return edits.timed ?? file.timed ?? NO_LINES;
}

/** Tracks as they are shown and written; none where the file holds no more than one. */
export function tracksOf({ file, edits }: Saying): readonly Track[] {
  return editedTracks(file.tracks ?? NO_TRACKS, edits.tracks);
}

export function isEdited({ edits }: Pick<Saying, 'edits'>): boolean {
  return Object.keys(edits).length > 0;
}

/** An overlay as it is kept: clean, and without what says the same as the file. */
export function trimOverlay(file: Content, overlay: Overlay): Overlay {
  const fields = trimmedFields(file.fields, overlay.fields);
  const { pictures, chapters, timed, tracks } = overlay;
  const trimmed: { -readonly [P in keyof Overlay]: Overlay[P] } = {};
  if (fields) trimmed.fields = fields;
  if (pictures && Object.keys(pictures).length > 0) trimmed.pictures = pictures;
  if (chapters && !sameChapters(chapters, file.chapters)) trimmed.chapters = chapters.map(cleanChapter);
  if (timed) {
    const lines = timed.map(cleanLine);
    if (!sameTimed(lines, file.timed ?? NO_LINES)) trimmed.timed = lines;
  }
  if (tracks) {
    const edits = trimmedTracks(file.tracks ?? NO_TRACKS, tracks);
    if (edits.length > 0) trimmed.tracks = edits;
  }
  return trimmed;
}

/** Without lists in between: an edit of a whole library passes here for every item. */
function trimmedFields(file: Fields, edits: Edits | undefined): Edits | null {
  let rest: Record<string, FieldValue> | null = null;
  for (const name in edits) {
    const value = edits[name as FieldName];
    if (value === undefined) continue;
    const clean = cleanValue(value);
    if (!sameValue(file[name as FieldName], clean)) (rest ??= {})[name] = clean;
  }
  return rest;
}

/** Titles can be written anywhere; a link is an address, which is ASCII (RFC 3986, section 2). */
export const cleanChapter = (chapter: Chapter): Chapter => ({
  ...chapter,
  title: cleanText(chapter.title),
  link: chapter.link?.toWellFormed().replace(/[^\u0021-\u007e]/gu, encodeURIComponent) || null,
});

/** Whether two lists of chapters say the same. */
export const sameChapters = (a: readonly Chapter[], b: readonly Chapter[]) =>
  a.length === b.length &&
  a.every((one, index) => {
    const other = b[index] as Chapter;
    return (
      one.startSeconds === other.startSeconds &&
      one.endSeconds === other.endSeconds &&
      one.title === other.title &&
      one.link === other.link &&
      samePicture(one.picture, other.picture)
    );
  });

/** What tells one picture of a chapter from another. */
export const pictureKey = (picture: ChapterPicture): PictureId | number =>
  'id' in picture ? picture.id : picture.hash;

/** Whether two chapters have one picture. */
function samePicture(a: Chapter['picture'], b: Chapter['picture']): boolean {
  if (!a || !b) return a === b;
  return 'id' in a ? 'id' in b && a.id === b.id : 'hash' in b && a.hash === b.hash && a.bytes === b.bytes;
}

/** Pictures of the library that an overlay holds. */
export function chosenPictures({ pictures = {}, chapters = [] }: Overlay): readonly ChosenPicture[] {
  const ofChapters = chapters.flatMap(({ picture }) => (picture && 'id' in picture ? [picture] : []));
  return [...Object.values(pictures), ...ofChapters];
}

function sameOverlay(a: Overlay, b: Overlay): boolean {
  const [fieldsA, fieldsB] = [a.fields ?? NO_EDITS, b.fields ?? NO_EDITS];
  const names = Object.keys(fieldsA) as FieldName[];
  if (names.length !== Object.keys(fieldsB).length) return false;
  const [rolesA, rolesB] = [Object.entries(a.pictures ?? {}), Object.entries(b.pictures ?? {})];
  return (
    names.every((name) => name in fieldsB && sameValue(fieldsA[name] ?? null, fieldsB[name] ?? null)) &&
    rolesA.length === rolesB.length &&
    rolesA.every(([role, { id }]) => b.pictures?.[role as PictureRole]?.id === id) &&
    (a.chapters === b.chapters || (!!a.chapters && !!b.chapters && sameChapters(a.chapters, b.chapters))) &&
    (a.timed === b.timed || (!!a.timed && !!b.timed && sameTimed(a.timed, b.timed))) &&
    sameTracks(a.tracks ?? [], b.tracks ?? [])
  );
}

/** One overlay over another: what the second says stands. */
export function layOver(under: Overlay, over: Overlay): Overlay {
  return {
    ...under,
    ...over,
    ...(over.fields && { fields: { ...under.fields, ...over.fields } }),
    ...(over.pictures && { pictures: { ...under.pictures, ...over.pictures } }),
    ...(over.tracks && { tracks: layTracks(under.tracks, over.tracks) }),
  };
}

/** What is left to say over a file once some of it is put back to what the file holds. */
export interface PutBack {
  readonly fields?: readonly FieldName[];
  readonly pictures?: readonly PictureRole[];
  readonly chapters?: boolean;
  readonly timed?: boolean;
  readonly tracks?: boolean;
}

/** The overlay without these parts, as if they had never been edited. */
export function withoutParts(overlay: Overlay, parts: PutBack): Overlay {
  const less = <T extends object>(from: T | undefined, names: readonly string[] = []): T | undefined => {
    const left = Object.entries(from ?? {}).filter(([name]) => !names.includes(name));
    return left.length === 0 ? undefined : (Object.fromEntries(left) as T);
  };
  const fields = less(overlay.fields, parts.fields);
  const pictures = less(overlay.pictures, parts.pictures);
  const chapters = parts.chapters ? undefined : overlay.chapters;
  const timed = parts.timed ? undefined : overlay.timed;
  const tracks = parts.tracks ? undefined : overlay.tracks;
  return {
    ...(fields && { fields }),
    ...(pictures && { pictures }),
    ...(chapters && { chapters }),
    ...(timed && { timed }),
    ...(tracks && { tracks }),
  };
}

/** The item with this said over what it says now. The same where that changes nothing. */
export function editContent<S extends Saying>(item: S, over: Overlay): S {
  const edits = trimOverlay(item.file, layOver(item.edits, over));
  return sameOverlay(edits, item.edits) ? item : { ...item, edits };
}

/** The item with these fields changed. What else is said over it stays as it is, without being looked through. */
export function editItem<S extends Saying>(item: S, fields: Edits): S {
  const { file, edits } = item;
  let next: Record<string, FieldValue> | null = null;
  for (const key in fields) {
    const name = key as FieldName;
    const value = fields[name];
    if (value === undefined) continue;
    const clean = cleanValue(value);
    if (sameValue(fieldOf(item, name), clean)) continue;
    next ??= { ...edits.fields };
    if (sameValue(file.fields[name], clean)) delete next[name];
    else next[name] = clean;
  }
  if (next === null) return item;
  const { fields: _, ...rest } = edits;
  for (const _name in next) return { ...item, edits: { ...rest, fields: next } };
  return { ...item, edits: rest };
}

/** The item with some of it as its file has it. */
export function putBack<S extends Saying>(item: S, parts: PutBack): S {
  return { ...item, edits: withoutParts(item.edits, parts) };
}

/**
 * A text that is equal for overlays that would write the same, in whatever order they were made; empty where there is
 * nothing to write. Compared, never parsed.
 */
export function contentHash(overlay: Overlay): string {
  if (Object.keys(overlay).length === 0) return '';
  const pictures = Object.entries(overlay.pictures ?? {}).map(([role, { id }]) => [role, id] as const);
  const chapters = overlay.chapters?.map(({ picture, ...chapter }) => ({
    ...chapter,
    ...(picture !== undefined && { picture: picture && pictureKey(picture) }),
  }));
  return hash({ ...overlay, pictures: Object.fromEntries(pictures), ...(chapters && { chapters }) });
}
