import { cleanText } from './fields';
import type { Cue } from './cues';

/** The purpose of a track, apart from its type (RFC 9559, sections 5.1.4.1.5 to 5.1.4.1.11). */
export const TRACK_FLAGS = [
  /** Played if nothing else is chosen. */
  'isDefault',
  /** Shown even if subtitles are off. */
  'isForced',
  /** In the original language. */
  'isOriginal',
  'isCommentary',
  /** For the hard of hearing. */
  'isForHearing',
  /** For the visually impaired. */
  'isForSeeing',
] as const;
export type TrackFlag = (typeof TRACK_FLAGS)[number];
export type TrackFlags = { readonly [F in TrackFlag]?: boolean };

/** A track of a container with several, as described in the file. An absent flag is not set. */
export interface Track extends TrackFlags {
  /** Its number in the container. */
  readonly id: number;
  readonly type: 'sound' | 'picture' | 'subtitle';
  /** BCP 47 or ISO 639-2, as in the file; null if unknown. */
  readonly language: string | null;
  readonly name: string;
}

/** Edits of one track; absent properties are as in the file. */
export interface TrackEdit extends TrackFlags {
  readonly id: number;
  /** A tag of BCP 47; null for unknown. */
  readonly language?: string | null;
  readonly name?: string;
  /** Left out of copies, and of the file once it is written. */
  readonly isLeftOut?: boolean;
  /** Its position among the tracks, from 0. Either all tracks have one or none has. */
  readonly place?: number;
  /** The cues of a subtitle track that the file does not contain. */
  readonly added?: readonly Cue[];
}

/** A track with its edits applied. */
export interface EditedTrack extends Track {
  readonly isLeftOut: boolean;
  /** Present if the file does not contain it. */
  readonly added?: readonly Cue[];
}

const NO_FLAGS = { isDefault: false, isForced: false } as const;

/** All tracks with their edits, including those left out, in their edited order. */
export function editedTracks(
  tracks: readonly Track[],
  edits: readonly TrackEdit[] | undefined,
): readonly EditedTrack[] {
  if (!edits || edits.length === 0) return tracks.map((track) => ({ ...track, isLeftOut: false }));
  const byId = new Map(edits.map((edit) => [edit.id, edit]));
  const own = new Set(tracks.map(({ id }) => id));
  const added = edits.flatMap((edit): EditedTrack[] => {
    if (!edit.added || own.has(edit.id)) return [];
    const { place: _, ...said } = edit;
    return [{ ...NO_FLAGS, type: 'subtitle', language: null, name: '', isLeftOut: false, ...said }];
  });
  const edited = tracks.map((track): EditedTrack => {
    const { place: _, added: _cues, ...said } = byId.get(track.id) ?? { id: track.id };
    return { ...track, isLeftOut: false, ...said };
  });
  return [...edited, ...added]
    .map((track, index) => ({ track, place: byId.get(track.id)?.place ?? index }))
    .sort((a, b) => a.place - b.place)
    .map(({ track }) => track);
}

/** Lower numbers may belong to tracks that are not shown, such as those of chapters. */
const FIRST_ADDED = 1001;

/** A number for a track that is added to these. */
export const newTrackId = (tracks: readonly Pick<Track, 'id'>[]): number =>
  tracks.reduce((next, { id }) => Math.max(next, id + 1), FIRST_ADDED);

/** The tracks of a copy, in the form in which a file describes them. */
export function keptTracks(
  tracks: readonly Track[],
  edits: readonly TrackEdit[] | undefined,
): readonly Track[] {
  if (!edits || edits.length === 0) return tracks;
  return editedTracks(tracks, edits).flatMap(({ isLeftOut, added: _, ...track }) =>
    isLeftOut ? [] : [track],
  );
}

/** Whether the file has to be written anew because tracks were added, removed or reordered. */
export const isAnotherSet = (edits: readonly TrackEdit[]): boolean =>
  edits.some(
    ({ isLeftOut, added, place }) => isLeftOut === true || added !== undefined || place !== undefined,
  );

/** Clean edits of existing tracks, without what equals the file, in the order of their numbers. */
export function trimmedTracks(tracks: readonly Track[], edits: readonly TrackEdit[]): readonly TrackEdit[] {
  const all = editedTracks(tracks, edits).filter(({ added, isLeftOut }) => !added || !isLeftOut);
  const known = new Map(tracks.map((track) => [track.id, track]));
  const natural = [...tracks.map(({ id }) => id), ...all.flatMap(({ id, added }) => (added ? id : []))];
  const isMoved = all.some(({ id }, index) => id !== natural[index]);
  return all
    .flatMap((track, place): TrackEdit[] => {
      const own = known.get(track.id);
      const edit = { ...saidOver(track, own), ...(isMoved && { place }) };
      return Object.keys(edit).length > 1 ? [edit] : [];
    })
    .sort((a, b) => a.id - b.id);
}

/**
 * The edits of a track apart from its position, with keys in a fixed order.
 * @param own as its file describes it; absent for an added one
 */
function saidOver(track: EditedTrack, own: Track | undefined): TrackEdit {
  const { id, isLeftOut, added } = track;
  const name = cleanText(track.name);
  const language = cleanText(track.language ?? '') || null;
  const flags = TRACK_FLAGS.filter((flag) => (track[flag] ?? false) !== (own?.[flag] ?? false));
  return {
    id,
    ...((!own || language !== own.language) && { language }),
    ...((!own || name !== own.name) && { name }),
    ...Object.fromEntries(flags.map((flag) => [flag, track[flag] ?? false])),
    ...(isLeftOut && { isLeftOut }),
    ...(added && { added }),
  };
}

/** One set of edits over another: values of the second win. */
export function layTracks(
  under: readonly TrackEdit[] | undefined,
  over: readonly TrackEdit[],
): readonly TrackEdit[] {
  const byId = new Map((under ?? []).map((edit) => [edit.id, edit]));
  for (const edit of over) byId.set(edit.id, { ...byId.get(edit.id), ...edit });
  return [...byId.values()].sort((a, b) => a.id - b.id);
}

const NAMES = ['language', 'name', 'isLeftOut', 'place', ...TRACK_FLAGS] as const;

export const sameTracks = (a: readonly TrackEdit[], b: readonly TrackEdit[]): boolean =>
  a === b ||
  (a.length === b.length &&
    a.every((one, index) => {
      const other = b[index] as TrackEdit;
      return (
        one.id === other.id &&
        NAMES.every((name) => one[name] === other[name]) &&
        sameCues(one.added, other.added)
      );
    }));

const sameCues = (a: readonly Cue[] | undefined, b: readonly Cue[] | undefined): boolean =>
  a === b ||
  (a !== undefined &&
    b !== undefined &&
    a.length === b.length &&
    a.every((cue, index) => {
      const other = b[index] as Cue;
      return (
        cue.startSeconds === other.startSeconds &&
        cue.endSeconds === other.endSeconds &&
        cue.text === other.text
      );
    }));
