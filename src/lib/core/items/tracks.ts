import { cleanText } from './fields';
import type { Cue } from './cues';

/** What a track is for, beside what it holds (RFC 9559, sections 5.1.4.1.5 to 5.1.4.1.11). */
export const TRACK_FLAGS = [
  /** Played where nothing else is chosen. */
  'isDefault',
  /** Shown even where subtitles are off. */
  'isForced',
  /** In the language that it was made in. */
  'isOriginal',
  'isCommentary',
  /** For people who are hard of hearing. */
  'isForHearing',
  /** For people who are hard of seeing. */
  'isForSeeing',
] as const;
export type TrackFlag = (typeof TRACK_FLAGS)[number];
export type TrackFlags = { readonly [F in TrackFlag]?: boolean };

/** A track of a container that holds several, as it says of itself. A flag that is absent is not set. */
export interface Track extends TrackFlags {
  /** The number by which its container knows it. */
  readonly id: number;
  readonly type: 'sound' | 'picture' | 'subtitle';
  /** BCP 47 or ISO 639-2, as its file says it; null where that is not known. */
  readonly language: string | null;
  readonly name: string;
}

/** What is said of one track otherwise than its file does; what is absent is as the file has it. */
export interface TrackEdit extends TrackFlags {
  readonly id: number;
  /** A tag of BCP 47; null for one that is not known. */
  readonly language?: string | null;
  readonly name?: string;
  /** Not in the copies, nor in the file once it is written. */
  readonly isLeftOut?: boolean;
  /** Its place among the tracks, from 0. Either all have one or none has. */
  readonly place?: number;
  /** Picture type: a track of subtitles that the file does not hold. */
  readonly added?: readonly Cue[];
}

/** A track with what is said over it. */
export interface EditedTrack extends Track {
  readonly isLeftOut: boolean;
  /** Set where its file does not hold it. */
  readonly added?: readonly Cue[];
}

const NO_FLAGS = { isDefault: false, isForced: false } as const;

/** All tracks with what is said over them, those that are left out too, in the order that is said. */
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

/** Numbers below this may be those of tracks that are not shown, such as of chapters. */
const FIRST_ADDED = 1001;

/** A number for a track that is added to these. */
export const newTrackId = (tracks: readonly Track[]): number =>
  tracks.reduce((next, { id }) => Math.max(next, id + 1), FIRST_ADDED);

/** The tracks that go out, as plainly as a file says them. */
export function keptTracks(
  tracks: readonly Track[],
  edits: readonly TrackEdit[] | undefined,
): readonly Track[] {
  if (!edits || edits.length === 0) return tracks;
  return editedTracks(tracks, edits).flatMap(({ isLeftOut, added: _, ...track }) =>
    isLeftOut ? [] : [track],
  );
}

/** Whether a file must be laid anew for what is said: other tracks, or their order. */
export const isAnotherSet = (edits: readonly TrackEdit[]): boolean =>
  edits.some(
    ({ isLeftOut, added, place }) => isLeftOut === true || added !== undefined || place !== undefined,
  );

/** Edits that are clean, of tracks that there are, without what says the same as the file; in the order of their numbers. */
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

/** What is said of a track beside its place, in one order of names. @param own as its file says it; absent for an added one */
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

/** One set of edits over another: what the second says of a track stands. */
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
