import type { Stream } from './item';
import type { Content, Overlay } from './saying';
import { editedTracks, keptTracks, type Track } from './tracks';

const ADDED: Stream = {
  type: 'subtitle',
  codec: null,
  channels: null,
  sampleRate: null,
  width: null,
  height: null,
};

/**
 * The streams of a copy: those of the kept tracks in their order, and of added ones.
 * @param streams of the file, one for each of its tracks
 */
export function keptStreams(
  streams: readonly Stream[],
  { tracks }: Pick<Content, 'tracks'>,
  edits: Overlay,
): readonly Stream[] {
  if (!edits.tracks || !tracks || streams.length !== tracks.length) return streams;
  const own = new Map(tracks.map(({ id }, index) => [id, streams[index]]));
  return editedTracks(tracks, edits.tracks).flatMap(({ id, isLeftOut }) =>
    isLeftOut ? [] : [own.get(id) ?? ADDED],
  );
}

/** Languages of the tracks of one type in a copy, each once, in order. */
export function languagesOf(
  { tracks = [] }: Pick<Content, 'tracks'>,
  edits: Overlay,
  type: Track['type'],
): readonly string[] {
  const languages = keptTracks(tracks, edits.tracks).flatMap((track) =>
    track.type === type && track.language !== null ? [track.language] : [],
  );
  return [...new Set(languages)];
}
