import type { Saying } from '../saying';
import {
  TRACK_FLAGS,
  editedTracks,
  isAnotherSet,
  keptTracks,
  layTracks,
  sameTracks,
  trimmedTracks,
  type EditedTrack,
  type Track,
  type TrackEdit,
} from '../tracks';
import type { Part } from './part';

const NO_TRACKS: readonly Track[] = [];
const NO_EDITS: readonly TrackEdit[] = [];

/** Tracks as they are shown and written; none if the file has no more than one. */
export function tracksOf({ file, edits }: Saying): readonly Track[] {
  return keptTracks(file.tracks ?? NO_TRACKS, edits.tracks);
}

/** The same with those that are left out. */
export function allTracksOf({ file, edits }: Saying): readonly EditedTrack[] {
  return editedTracks(file.tracks ?? NO_TRACKS, edits.tracks);
}

/** The full description of a file's tracks as an edit. */
const saidOf = (tracks: readonly EditedTrack[]): readonly TrackEdit[] =>
  tracks.map(({ id, language, name, isLeftOut, added, ...track }, place) => ({
    id,
    language,
    name,
    isLeftOut,
    place,
    ...Object.fromEntries(TRACK_FLAGS.map((flag) => [flag, track[flag] ?? false])),
    ...(added && { added }),
  }));

/** Whether tracks match edits, including their order. */
function sayTracks(tracks: readonly Track[], edits: readonly TrackEdit[]): boolean {
  const inPlace = edits
    .filter(({ place, isLeftOut }) => place !== undefined && !isLeftOut)
    .sort((a, b) => (a.place ?? 0) - (b.place ?? 0))
    .map(({ id }) => id);
  const order = tracks.flatMap(({ id }) => (inPlace.includes(id) ? id : []));
  return (
    order.every((id, index) => id === inPlace[index]) &&
    edits.every((edit) => {
      const track = tracks.find(({ id }) => id === edit.id);
      if (!track || edit.isLeftOut) return !track && edit.isLeftOut === true;
      return (
        (edit.name === undefined || track.name === edit.name) &&
        (edit.language === undefined || track.language === edit.language) &&
        TRACK_FLAGS.every((flag) => edit[flag] === undefined || (track[flag] ?? false) === edit[flag])
      );
    })
  );
}

export const TRACKS_PART: Part<'tracks'> = {
  label: 'tracks',
  trim: ({ tracks = NO_TRACKS }, edits) => {
    const trimmed = trimmedTracks(tracks, edits);
    return trimmed.length > 0 ? trimmed : undefined;
  },
  same: sameTracks,
  lay: layTracks,
  less: (edits, what) => (what ? undefined : edits),
  key: (edits) => edits,
  // Tracks that were removed from a file or added to it cannot be restored by an edit.
  inFile: ({ tracks = NO_TRACKS }, edits) =>
    isAnotherSet(edits) ? undefined : saidOf(editedTracks(tracks, undefined)),
  unsaid: ({ tracks = NO_TRACKS }, edits) => (sayTracks(tracks, edits) ? undefined : edits),
  isSaid: (edits, { tracks = NO_TRACKS }) => sayTracks(tracks, edits),
  written: (edits, written) => (sameTracks(edits, written) ? undefined : edits),
  carry: (current, before, after) => {
    const { tracks = NO_EDITS } = current.edits;
    if (sameTracks(before.edits.tracks ?? NO_EDITS, after.edits.tracks ?? NO_EDITS)) return tracks;
    const all = saidOf(allTracksOf(after));
    const stays = tracks.filter(({ id, added }) => !added || all.some((one) => one.id === id));
    return layTracks(stays, all);
  },
  chosen: () => [],
};
