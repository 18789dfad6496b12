import type { Saying } from '../saying';
import { editedTracks, layTracks, sameTracks, trimmedTracks, type Track, type TrackEdit } from '../tracks';
import type { Part } from './part';

const NO_TRACKS: readonly Track[] = [];
const NO_EDITS: readonly TrackEdit[] = [];

/** Tracks as they are shown and written; none where the file holds no more than one. */
export function tracksOf({ file, edits }: Saying): readonly Track[] {
  return editedTracks(file.tracks ?? NO_TRACKS, edits.tracks);
}

/** All that can be said of tracks, as an edit that says it. */
const saidOf = (tracks: readonly Track[]): readonly TrackEdit[] =>
  tracks.map(({ id, language, name }) => ({ id, language, name }));

/** Whether tracks say what edits say of them. */
const sayTracks = (tracks: readonly Track[], edits: readonly TrackEdit[]): boolean =>
  edits.every(({ id, name, language }) => {
    const track = tracks.find((one) => one.id === id);
    if (!track) return false;
    return (
      (name === undefined || track.name === name) && (language === undefined || track.language === language)
    );
  });

export const TRACKS_PART: Part<'tracks'> = {
  label: 'names and languages of tracks',
  trim: ({ tracks = NO_TRACKS }, edits) => {
    const trimmed = trimmedTracks(tracks, edits);
    return trimmed.length > 0 ? trimmed : undefined;
  },
  same: sameTracks,
  lay: layTracks,
  less: (edits, what) => (what ? undefined : edits),
  key: (edits) => edits,
  inFile: ({ tracks = NO_TRACKS }) => saidOf(tracks),
  unsaid: ({ tracks = NO_TRACKS }, edits) => (sayTracks(tracks, edits) ? undefined : edits),
  isSaid: (edits, { tracks = NO_TRACKS }) => sayTracks(tracks, edits),
  written: (edits, written) => (sameTracks(edits, written) ? undefined : edits),
  carry: (current, before, after) => {
    const { tracks = NO_EDITS } = current.edits;
    if (sameTracks(before.edits.tracks ?? NO_EDITS, after.edits.tracks ?? NO_EDITS)) return tracks;
    return layTracks(tracks, saidOf(tracksOf(after)));
  },
  chosen: () => [],
};
