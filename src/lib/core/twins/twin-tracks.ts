import { editedTracks, trimmedTracks, type Track, type TrackEdit } from '../items';

/**
 * The edits of an item's tracks for those of its twin, where the tracks of each type have the same order as in the
 * original.
 * @param own of the original
 */
export function tracksOnTwin(
  own: readonly Track[],
  edits: readonly TrackEdit[] | undefined,
  twin: readonly Track[],
): readonly TrackEdit[] {
  const rest = [...twin];
  const idOf = new Map<number, number>();
  for (const { id, type } of own) {
    const at = rest.findIndex((one) => one.type === type);
    if (at >= 0) idOf.set(id, rest.splice(at, 1)[0]!.id);
  }
  const wanted = editedTracks(own, edits).flatMap(({ type: _, ...track }): TrackEdit[] => {
    const id = track.added ? track.id : idOf.get(track.id);
    return id === undefined ? [] : [{ ...track, id }];
  });
  return trimmedTracks(
    twin,
    wanted.map((track, place) => ({ ...track, place })),
  );
}

/** Whether the original has subtitle tracks that its twin, with only video and audio, lacks. */
export const losesSubtitles = (own: readonly Track[], edits: readonly TrackEdit[] | undefined): boolean =>
  editedTracks(own, edits).some(({ type, isLeftOut, added }) => type === 'subtitle' && !isLeftOut && !added);
