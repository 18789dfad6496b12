import type { PictureRole } from '$lib/core/items';

/** What a picture shows, as people say it. */
export const ROLE_WORDS: Readonly<Record<PictureRole, string>> = {
  other: 'something else',
  icon: 'icon of the file',
  otherIcon: 'another icon',
  front: 'front',
  back: 'back',
  leaflet: 'page of the booklet',
  medium: 'label of the medium',
  leadArtist: 'lead artist',
  artist: 'artist',
  conductor: 'conductor',
  band: 'band or orchestra',
  composer: 'composer',
  lyricist: 'writer of the words',
  location: 'place of the recording',
  recording: 'at the recording',
  performance: 'at a performance',
  still: 'frame of a video',
  fish: 'bright coloured fish',
  illustration: 'illustration',
  artistMark: 'mark of the artist',
  publisherMark: 'mark of the publisher',
};
