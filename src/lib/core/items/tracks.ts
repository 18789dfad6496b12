import { cleanText } from './fields';

/** A track of a container that holds several, as it says of itself. */
export interface Track {
  /** The number by which its container knows it. */
  readonly id: number;
  readonly type: 'sound' | 'picture' | 'subtitle';
  /** BCP 47 or ISO 639-2, as its file says it; null where that is not known. */
  readonly language: string | null;
  readonly name: string;
  /** Played where nothing else is chosen. */
  readonly isDefault: boolean;
  /** Shown even where subtitles are off. */
  readonly isForced: boolean;
}

/** What is said of one track otherwise than its file does; what is absent is as the file has it. */
export interface TrackEdit {
  readonly id: number;
  /** A tag of BCP 47; null for one that is not known. */
  readonly language?: string | null;
  readonly name?: string;
}

/** The tracks with what is said over them. */
export function editedTracks(
  tracks: readonly Track[],
  edits: readonly TrackEdit[] | undefined,
): readonly Track[] {
  if (!edits || edits.length === 0) return tracks;
  const byId = new Map(edits.map((edit) => [edit.id, edit]));
  return tracks.map((track) => ({ ...track, ...byId.get(track.id) }));
}

/** Edits that are clean, of tracks that there are, without what says the same as the file; in the order of the tracks. */
export function trimmedTracks(tracks: readonly Track[], edits: readonly TrackEdit[]): readonly TrackEdit[] {
  const byId = new Map(edits.map((edit) => [edit.id, edit]));
  return tracks.flatMap((track): TrackEdit[] => {
    const { language, name } = byId.get(track.id) ?? track;
    const called = name === undefined ? track.name : cleanText(name);
    const spoken = language === undefined ? track.language : cleanText(language ?? '') || null;
    const edit: TrackEdit = {
      id: track.id,
      ...(spoken !== track.language && { language: spoken }),
      ...(called !== track.name && { name: called }),
    };
    return Object.keys(edit).length > 1 ? [edit] : [];
  });
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

export const sameTracks = (a: readonly TrackEdit[], b: readonly TrackEdit[]): boolean =>
  a.length === b.length &&
  a.every((one, index) => {
    const other = b[index] as TrackEdit;
    return one.id === other.id && one.name === other.name && one.language === other.language;
  });
