import type { Evidence } from '$lib/core/kinds';

type Sentence = (detail: string) => string;

/** A sentence for each code of evidence; the rules' table in the core has one line for each. */
const SENTENCES: Readonly<Record<string, Sentence>> = {
  moving: (size) => (size ? `video ${size}` : 'video'),
  soundOnly: () => 'sound only, no video',
  veryShort: () => 'under 40 seconds',
  songLength: () => 'the length of a song',
  episodeLength: () => 'the length of an episode',
  filmLength: () => 'over an hour and ten',
  bookExtension: (extension) => `named ${extension}, an audiobook's ending`,
  ringExtension: (extension) => `named ${extension}, a ringtone's ending`,
  chapters: (count) => `${count} chapters`,
  albumAndTrack: () => 'album, artist and track in its tags',
  artistAndTitle: () => 'artist and title, but no track',
  bareTags: () => 'no title, album or track in its tags',
  namedArtistTitle: () => 'named Artist - Title',
  knownArtist: (artist) => `${artist} has songs here`,
  namedEpisode: (mark) => `named as an episode, ${mark}`,
  namedYear: (year) => `a year in its name, ${year}`,
  namedByDate: () => 'named by a camera',
  phoneMake: () => 'recorded by a camera',
  speechGenre: (genre) => `genre says ${genre}`,
  podcastGenre: (genre) => `genre says ${genre}`,
  podcastTag: () => 'a podcast tag',
  saysAudiobook: () => 'its tags call it an audiobook',
  saysMusicVideo: () => 'its tags call it a music video',
  saysFilm: () => 'its tags call it a film',
  saysEpisode: () => 'its tags call it an episode',
  folderMusicVideo: (folder) => `in a folder of ${folder}`,
  folderMusic: () => 'in a folder of music',
  folderAudiobook: () => 'in a folder of books',
  folderPodcast: () => 'in a folder of podcasts',
  folderFilm: () => 'in a folder of films',
  folderSeries: () => 'in a folder of a series',
  folderHome: () => 'in a folder of home videos',
  folderAmbience: () => 'in a folder of ambience',
  folderRingtone: () => 'in a folder of ringtones',
  discLabel: (label) => `a disc labelled ${label}`,
  fromFeed: () => 'came from a feed',
  fromDisc: () => 'came from a disc',
  spoken: (share) => `${share} % of it is spoken`,
  sung: () => 'music throughout',
  neighbours: (kinds) => `among ${kinds}`,
  correctedHere: (kinds) => `you set others here to ${kinds}`,
  folderRule: (kinds) => `folder rule: ${kinds}`,
  namedLoop: (word) => `named a ${word.toLowerCase()}`,
};

/** What a piece of evidence says. */
export function evidenceWords({ code, detail }: Evidence): string {
  return SENTENCES[code]?.(detail) ?? code;
}
