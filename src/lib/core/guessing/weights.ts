import { folderOf } from '../paths';
import { KIND_FACTS, type Kind, type Origin } from '../kinds';

/** Points that a piece of evidence gives to each kind. Kinds that are missing get none. */
export type Weights = Readonly<Partial<Record<Kind, number>>>;

/** What is known of a file when its kind is guessed. */
export interface KindContext {
  /** Path in lower case, folders included. */
  readonly path: string;
  /** File name without extension, as it came. */
  readonly stem: string;
  readonly extension: string;
  /** A picture stream that is no mere cover. */
  readonly moving: boolean;
  readonly width: number | null;
  readonly height: number | null;
  readonly durationSeconds: number | null;
  readonly chapters: number;
  readonly title: string | null;
  readonly artists: readonly string[];
  readonly album: string | null;
  readonly track: number | null;
  readonly genre: string | null;
  /** Native tags in lower case, `id` to value. */
  readonly native: ReadonlyMap<string, string>;
  /** The kind of most files in its folder, if that is certain. */
  readonly neighbours: Kind | null;
  /** The kind that the curator gave to others of its folder, against the guess. */
  readonly correction: Kind | null;
  /** The kind that the curator set for its folder. */
  readonly folderRule: Kind | null;
  /** The way it came in. */
  readonly origin: Origin;
  /** Share of speech in its audio, 0 to 1; null if not analysed. */
  readonly speech: number | null;
  /** Artists of songs in the library, in lower case without a leading article. */
  readonly knownArtists: ReadonlySet<string>;
}

export interface Rule {
  readonly code: string;
  /** A function if the evidence itself names the kind. */
  readonly weights: Weights | ((detail: string) => Weights);
  /** The detail for the sentence if the rule applies, otherwise null. */
  readonly holds: (context: KindContext) => string | null;
}

const yes = (condition: boolean, detail = ''): string | null => (condition ? detail : null);
const seconds = (c: KindContext) => c.durationSeconds ?? 0;
const between = (c: KindContext, low: number, high: number) =>
  c.durationSeconds !== null && seconds(c) >= low && seconds(c) < high;
const found = (text: string, pattern: RegExp): string | null => pattern.exec(text)?.[0] ?? null;
const folders = (c: KindContext) => folderOf(c.path);
/** Evidence that is a kind itself: its words are the sentence's detail, and that kind gets the points. */
const speaksFor =
  (points: number) =>
  (many: string): Weights => {
    const kind = (Object.keys(KIND_FACTS) as Kind[]).find((one) => KIND_FACTS[one].many === many);
    return kind ? { [kind]: points } : {};
  };
const manyOf = (kind: Kind | null) => (kind ? KIND_FACTS[kind].many : null);
/** Share of speech from which sound counts as spoken, and up to which it counts as music. */
const SPOKEN = 0.55;
const SUNG = 0.2;
const inFolder = (pattern: RegExp) => (c: KindContext) => found(folders(c), pattern);

/** The artist's name as a key: lower case, without a leading article. */
export const artistKey = (name: string): string => name.trim().toLowerCase().replace(/^the /, '');

/** "Artist - Title" in a file name, by its first part. */
export function namedArtist(stem: string): string | null {
  const [artist, title] = stem.split(/ [-\u2013] /, 2);
  return artist && title && !/^\d+$/.test(artist.trim()) ? artist.trim() : null;
}

/**
 * The media kind in a file's tags: a number (`stik` of MP4), or words (`CONTENT_TYPE` of Matroska, of a track or an
 * album).
 */
const mediaKind = (number: string, words: string, code: string, weights: Weights): Rule => ({
  code,
  weights,
  holds: ({ native }) => {
    const type = native.get('30:content_type') ?? native.get('50:content_type');
    return yes(native.get('stik') === number || type?.toLowerCase() === words);
  },
});

/**
 * All evidence with its weights, in one table. Streams come first because nothing outweighs them: a file without video
 * is not a film. The labelled files in `guess.test.ts` keep it stable.
 */
export const RULES: readonly Rule[] = [
  {
    code: 'moving',
    weights: {
      musicVideo: 30,
      film: 28,
      episode: 28,
      homeVideo: 28,
      ambience: 22,
      podcast: -15,
      song: -90,
      audiobook: -70,
      ringtone: -70,
    },
    holds: (c) => yes(c.moving, c.width && c.height ? `${c.width}×${c.height}` : ''),
  },
  {
    code: 'soundOnly',
    weights: {
      song: 30,
      audiobook: 26,
      podcast: 26,
      ringtone: 18,
      musicVideo: -90,
      film: -90,
      episode: -90,
      homeVideo: -90,
      ambience: -20,
    },
    holds: (c) => yes(!c.moving),
  },
  {
    code: 'veryShort',
    weights: {
      ringtone: 30,
      homeVideo: 14,
      song: -14,
      musicVideo: -14,
      audiobook: -30,
      podcast: -20,
      film: -50,
      episode: -40,
    },
    holds: (c) => yes(between(c, 0, 40)),
  },
  {
    code: 'songLength',
    weights: {
      song: 22,
      musicVideo: 22,
      homeVideo: 4,
      ringtone: -40,
      audiobook: -16,
      podcast: -10,
      film: -40,
      episode: -22,
    },
    holds: (c) => yes(between(c, 60, 600)),
  },
  {
    code: 'episodeLength',
    weights: {
      episode: 20,
      podcast: 18,
      audiobook: 10,
      homeVideo: 4,
      ambience: 4,
      song: -12,
      musicVideo: -14,
      film: -10,
      ringtone: -60,
    },
    holds: (c) => yes(between(c, 1080, 4200)),
  },
  {
    code: 'filmLength',
    weights: {
      film: 30,
      audiobook: 18,
      ambience: 14,
      podcast: 4,
      song: -40,
      musicVideo: -40,
      episode: -12,
      homeVideo: -12,
      ringtone: -80,
    },
    holds: (c) => yes(between(c, 4200, 4e6)),
  },
  {
    code: 'bookExtension',
    weights: { audiobook: 45, song: -20, podcast: -10 },
    holds: (c) => yes(c.extension === 'm4b', 'M4B'),
  },
  {
    code: 'ringExtension',
    weights: { ringtone: 50, song: -10 },
    holds: (c) => yes(c.extension === 'm4r', 'M4R'),
  },
  {
    code: 'chapters',
    weights: { audiobook: 30, podcast: 10, film: 12, song: -16, musicVideo: -18, ringtone: -30 },
    holds: (c) => yes(c.chapters >= 3, String(c.chapters)),
  },
  {
    code: 'albumAndTrack',
    weights: {
      song: 22,
      audiobook: 4,
      musicVideo: 4,
      podcast: -12,
      ringtone: -16,
      film: -12,
      homeVideo: -20,
    },
    holds: (c) => yes(c.album !== null && c.track !== null && c.artists.length > 0),
  },
  {
    code: 'artistAndTitle',
    weights: { song: 10, musicVideo: 14, homeVideo: -16, film: -8, episode: -8, ringtone: -6 },
    holds: (c) => yes(c.artists.length > 0 && c.title !== null && c.track === null),
  },
  {
    code: 'bareTags',
    weights: { musicVideo: -6, song: -6, homeVideo: 6, ringtone: 6, ambience: 6 },
    holds: (c) => yes(c.album === null && c.track === null && c.title === null),
  },
  {
    code: 'namedArtistTitle',
    weights: { musicVideo: 18, song: 8, homeVideo: -8, ringtone: -8 },
    holds: (c) => yes(namedArtist(c.stem) !== null),
  },
  {
    code: 'knownArtist',
    weights: { musicVideo: 16, homeVideo: -10, film: -8, episode: -8 },
    holds: (c) => {
      const named = c.artists.length > 0 ? c.artists : [namedArtist(c.stem) ?? ''];
      const known = named.find((artist) => c.knownArtists.has(artistKey(artist)));
      return c.moving ? (known ?? null) : null;
    },
  },
  {
    code: 'namedEpisode',
    weights: { episode: 45, film: -20, musicVideo: -25, homeVideo: -20, podcast: 6 },
    holds: (c) => found(c.stem, /\b[Ss]\d{1,2}[ ._-]?[Ee]\d{1,3}\b|\b\d{1,2}x\d{2}\b/),
  },
  {
    code: 'namedYear',
    weights: { film: 16, episode: -4 },
    holds: (c) => (c.moving ? found(c.stem, /\((19|20)\d\d\)/) : null),
  },
  {
    code: 'namedByDate',
    weights: { homeVideo: 32, musicVideo: -14, film: -14, episode: -14 },
    holds: (c) => (c.moving ? found(c.stem, /^(VID|IMG|MOV|DSC)[_-]?\d+|^(19|20)\d{6}[_-]\d{4,6}/i) : null),
  },
  {
    code: 'phoneMake',
    weights: { homeVideo: 26, film: -10, musicVideo: -10 },
    holds: (c) => [...c.native].find(([id]) => /(^|\.)make$|^com\.android\.version$/.test(id))?.[1] ?? null,
  },
  {
    code: 'speechGenre',
    weights: { audiobook: 40, song: -25, podcast: 4, musicVideo: -20 },
    holds: (c) => found(c.genre ?? '', /audio ?book|spoken|speech/i),
  },
  {
    code: 'podcastGenre',
    weights: { podcast: 45, song: -25, audiobook: -10 },
    holds: (c) => found(c.genre ?? '', /podcast/i),
  },
  {
    code: 'podcastTag',
    weights: { podcast: 45, song: -25, audiobook: -15 },
    holds: (c) => yes(['pcst', 'wfed', 'tgid', 'podcast', 'egid', 'purl'].some((id) => c.native.has(id))),
  },
  mediaKind('2', 'audiobook', 'saysAudiobook', { audiobook: 45, song: -20 }),
  mediaKind('6', 'music video', 'saysMusicVideo', {
    musicVideo: 45,
    film: -20,
    homeVideo: -20,
    episode: -20,
  }),
  mediaKind('9', 'feature film', 'saysFilm', { film: 45, musicVideo: -20, homeVideo: -20 }),
  mediaKind('10', 'tv show', 'saysEpisode', { episode: 45, film: -20, musicVideo: -20 }),
  { code: 'folderMusicVideo', weights: { musicVideo: 16 }, holds: inFolder(/music ?videos?|clips/) },
  {
    code: 'folderMusic',
    weights: { song: 6, ringtone: -10 },
    holds: inFolder(/(^|\/)(music|albums?|songs?)(\/|$)/),
  },
  {
    code: 'folderAudiobook',
    weights: { audiobook: 34, song: -20, podcast: -6 },
    holds: inFolder(/audio ?books?|(^|\/)books?(\/|$)/),
  },
  { code: 'folderPodcast', weights: { podcast: 32, song: -14, audiobook: -8 }, holds: inFolder(/podcasts?/) },
  { code: 'folderFilm', weights: { film: 25, homeVideo: -6 }, holds: inFolder(/films?|movies?/) },
  { code: 'folderSeries', weights: { episode: 28, film: -8 }, holds: inFolder(/series|season ?\d+/) },
  {
    code: 'folderHome',
    weights: { homeVideo: 25, musicVideo: -10, film: -6 },
    holds: inFolder(/home ?videos?|family|camera/),
  },
  {
    code: 'folderAmbience',
    weights: { ambience: 40, homeVideo: -10, film: -8 },
    holds: inFolder(/ambien[ct]e?/),
  },
  { code: 'folderRingtone', weights: { ringtone: 35, song: -10 }, holds: inFolder(/ring ?tones?/) },
  {
    code: 'discLabel',
    weights: { episode: 42, film: -24, homeVideo: -16, musicVideo: -16 },
    holds: (c) =>
      c.moving ? found(folders(c), /[^/]*(^|[_ ./-])s\d{1,2}[_ .-]?d(isc)?[_ .-]?\d{1,2}\b/) : null,
  },
  {
    code: 'fromFeed',
    weights: { podcast: 90, song: -40, audiobook: -30, ringtone: -60 },
    holds: (c) => yes(c.origin === 'feed'),
  },
  {
    code: 'fromDisc',
    weights: { song: 34, audiobook: -10, podcast: -20, ringtone: -40 },
    holds: (c) => yes(c.origin === 'disc' && !c.moving),
  },
  {
    code: 'spoken',
    weights: { podcast: 24, audiobook: 24, song: -34, ringtone: -10 },
    holds: (c) => (c.speech !== null && c.speech >= SPOKEN ? String(Math.round(c.speech * 100)) : null),
  },
  {
    code: 'sung',
    weights: { song: 24, musicVideo: 12, podcast: -24, audiobook: -30 },
    holds: (c) => (c.speech !== null && c.speech <= SUNG ? String(Math.round(c.speech * 100)) : null),
  },
  { code: 'neighbours', weights: speaksFor(26), holds: (c) => manyOf(c.neighbours) },
  { code: 'correctedHere', weights: speaksFor(40), holds: (c) => manyOf(c.correction) },
  { code: 'folderRule', weights: speaksFor(160), holds: (c) => manyOf(c.folderRule) },
  {
    code: 'namedLoop',
    weights: { ambience: 30, musicVideo: -8, homeVideo: -8 },
    holds: (c) => (c.moving ? found(c.stem, /loop|fireplace|aquarium|screensaver/i) : null),
  },
];
