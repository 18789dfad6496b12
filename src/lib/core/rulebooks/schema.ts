import { array, boolean, lazy, mixed, number, object, string, type InferType } from 'yup';
import { FIELD_NAMES, FORMAT_IDS, type FieldName, type FormatId } from '../items';
import { KINDS, type Kind } from '../kinds';
import { LIST_FILES, type ListFileType } from '../list-files';
import { ALPHABETS, LIST_NAMES, MADE_OF, parsePattern, type Alphabet, type MadeOf } from '../naming';

/** Version of the rulebook's shape. Raise it with a migration in `migrations/rulebook.ts`. */
export const RULEBOOK_VERSION = 7;

const kinds = () =>
  array(
    mixed<Kind>()
      .oneOf([...KINDS])
      .required(),
  )
    .required()
    .min(1);
const field = () =>
  mixed<FieldName>()
    .oneOf([...FIELD_NAMES])
    .required();
const pattern = (names?: typeof LIST_NAMES) =>
  string()
    .required()
    .test(
      'pattern',
      ({ path, value }) => `${path} is no pattern: ${value}`,
      (text) => parsePattern(text ?? '', names).type === 'pattern',
    );
const folder = () =>
  string()
    .defined()
    .matches(/^([^/\\]+(\/[^/\\]+)*)?$/, 'is a path without slashes at its ends');
const limit = () => number().integer().min(1).nullable().default(null);

/** Which sound and video it plays: formats, codecs in them, and how large they may be. */
const take = object({
  kinds: kinds(),
  formats: array(
    mixed<FormatId>()
      .oneOf([...FORMAT_IDS])
      .required(),
  )
    .required()
    .min(1),
  /** Codecs as their containers write them, without regard to case; null takes all. */
  codecs: array(string().required()).min(1).nullable().default(null),
  /** Limits of a file: bytes, seconds, hertz, bits a sample, channels, pixels. */
  most: object({
    bytes: limit(),
    seconds: limit(),
    sampleRate: limit(),
    bits: limit(),
    channels: limit(),
    width: limit(),
    height: limit(),
  }).default({
    bytes: null,
    seconds: null,
    sampleRate: null,
    bits: null,
    channels: null,
    width: null,
    height: null,
  }),
});

/**
 * Values that items are grouped by. `maker` is the album artist or its replacement; `folder1` the first folder level
 * below the place.
 */
export const GROUP_PARTS = ['album', 'maker', 'year', 'show', 'season', 'folder1', 'folder2'] as const;
export type GroupPart = (typeof GROUP_PARTS)[number];

/** Where items of some kinds are, how they are named there, and how the player reads and groups them. */
const place = object({
  kinds: kinds(),
  /** The folder that is declared to hold them, empty for the root. */
  folder: folder(),
  pattern: pattern(),
  /** Folder, file and sidecar have exactly the same name. */
  alike: boolean().required(),
  asks: array(
    object({
      field: field(),
      severity: string()
        .oneOf(['blocks', 'warns'] as const)
        .required(),
    }),
  ).required(),
  reads: object({
    /** Where the player takes its facts from. */
    from: string()
      .oneOf(['tags', 'sidecar', 'path'] as const)
      .required(),
    /** Without these it does not place the item. */
    needs: array(field()).required(),
  }).required(),
  /** Levels of what it shows: items share a node if all parts of its level match. */
  groups: array(
    array(
      mixed<GroupPart>()
        .oneOf([...GROUP_PARTS])
        .required(),
    )
      .required()
      .min(1),
  ).required(),
  /** The album artist of compilations without one; null if the player does not know compilations. */
  various: string().nullable().defined(),
});

/** What fills an element of a sidecar: a field, the year of its date, or its length in whole minutes. */
export type SidecarSource = FieldName | 'year' | 'runtime' | keyof MadeOf;
const word = () =>
  string()
    .required()
    .matches(/^[A-Za-z][A-Za-z0-9]*$/);

const sidecar = object({
  type: string()
    .oneOf(['sidecar'] as const)
    .required(),
  kinds: kinds(),
  extension: string()
    .required()
    .matches(/^[a-z0-9]+$/),
  mime: string().required(),
  root: word(),
  /** Element name to what fills it. */
  elements: array(
    object({
      name: word(),
      from: mixed<SidecarSource>()
        .oneOf([...FIELD_NAMES, 'year', 'runtime', ...MADE_OF])
        .required(),
    }),
  ).required(),
});

const picture = object({
  type: string()
    .oneOf(['picture'] as const)
    .required(),
  kinds: kinds(),
  /** `folder`: the folder of the items. `topFolder`: the first one below their place. */
  of: string()
    .oneOf(['folder', 'topFolder'] as const)
    .required(),
  /** Which picture of its items: the front, or that of their maker, without which nothing is missing. */
  role: string()
    .oneOf(['front', 'artist'] as const)
    .default('front'),
  name: string()
    .required()
    .matches(/^[^/\\]+\.jpg$/, 'is a name that ends in .jpg'),
  minPixels: number().integer().min(1).required(),
  square: boolean().required(),
});

const list = object({
  type: string()
    .oneOf(['list'] as const)
    .required(),
  /** The folder that lists lie in, empty for the root. */
  folder: folder(),
  /** The name of a list file below that folder, without extension: `:list`, and `:group` for its group. */
  pattern: pattern(LIST_NAMES),
  format: mixed<ListFileType>()
    .oneOf([...LIST_FILES])
    .required(),
  /** How paths are written: relative to the list, after `root`, or as file addresses after it. */
  paths: string()
    .oneOf(['relative', 'absolute', 'address'] as const)
    .required(),
  /** The player's own path of the folder that is written to. */
  root: string().default(''),
  lineEnd: string()
    .oneOf(['lf', 'crlf'] as const)
    .default('lf'),
  encoding: string()
    .oneOf(['utf-8', 'windows-1252'] as const)
    .default('utf-8'),
  /** Entries of one list at the most; null without a limit. */
  most: limit(),
});

const besideOf = { sidecar, picture, list };

const disk = object({
  unsafe: string().defined(),
  replacements: mixed<Record<string, string>>()
    .required()
    .test('texts', 'holds texts only', (map) =>
      Object.values(map ?? {}).every((text) => typeof text === 'string' && !text.includes('/')),
    ),
  fallback: string()
    .required()
    .matches(/^[^/\\]+$/),
  unicode: string()
    .oneOf(['NFC', 'NFD'] as const)
    .required(),
  deviceNames: boolean().required(),
  caseSensitive: boolean().required(),
  leadingDot: string()
    .defined()
    .nullable()
    .matches(/^[^/\\.]*$/),
  unit: string()
    .oneOf(['bytes', 'utf16'] as const)
    .required(),
  maxName: number().integer().min(8).required(),
  maxPath: number().integer().min(16).required(),
  numberWidth: number().integer().min(1).max(6).required(),
  /** Letters that it shows; names in others are written as they are usually spelled in these. */
  alphabet: mixed<Alphabet>()
    .oneOf([...ALPHABETS])
    .default('any'),
  /** The only letters allowed in names; null for all that are not unsafe. */
  allowed: string().min(1).nullable().default(null),
  /** Limits of a name without its ending, and of an ending without its dot, in `unit`; null without one of their own. */
  maxStem: limit(),
  maxEnding: limit(),
  /** How many letters of a file's name it shows; null for all. */
  shownLetters: limit(),
  /** How many folders lie one in another, files in one folder, and files in all, at the most; null for no limit. */
  maxLevels: limit(),
  filesInFolder: limit(),
  files: limit(),
  /** The order in which it plays the files of a folder: by name, or as they were written. */
  order: string()
    .oneOf(['name', 'written'] as const)
    .default('name'),
  /** Bytes of the largest file, and of all files together; null for no known limit. */
  largestFile: limit(),
  room: limit(),
}).required();

/** What sound can be encoded to. */
export const TWIN_CODECS = ['flac', 'alac', 'pcm', 'aiff', 'opus', 'aac', 'mp3'] as const;
export type TwinCodec = (typeof TWIN_CODECS)[number];

/** Video codecs that can be encoded if this browser has an encoder, as WebCodecs names them. */
export const PICTURE_CODECS = ['avc', 'vp9', 'vp8', 'av1'] as const;
export type PictureCodec = (typeof PICTURE_CODECS)[number];
/** What twins with moving pictures are written in. */
export const VIDEO_CONTAINERS = ['mp4', 'webm'] as const;
export type VideoContainer = (typeof VIDEO_CONTAINERS)[number];

export const rulebookSchema = object({
  version: number().oneOf([RULEBOOK_VERSION]).required(),
  id: string()
    .required()
    .matches(/^[a-z][a-z0-9-]*$/),
  name: string().required(),
  initial: string().required().length(1),
  about: string().required(),
  takes: array(take).required().min(1),
  places: array(place).required().min(1),
  beside: array(
    lazy(
      (one: unknown) =>
        besideOf[(one as { type?: keyof typeof besideOf } | null)?.type ?? 'sidecar'] ?? sidecar,
    ),
  ).required(),
  tags: object({
    /** Versions of ID3v2 that it reads. */
    id3: array(mixed<2 | 3 | 4>().oneOf([2, 3, 4]).required()).required(),
    /** It distinguishes releases by album title, so the edition is added to it in brackets. */
    edition: boolean().default(false),
    /** The encoding of texts in ID3 tags: a Unicode encoding that it reads, or only ISO 8859-1. */
    encoding: string()
      .oneOf(['unicode', 'latin1'] as const)
      .default('unicode'),
    /** Limits of a picture in tags: pixels of its longer side, and bytes; null for no limit. */
    picture: object({ pixels: limit(), bytes: limit() }).default({ pixels: null, bytes: null }),
  }).required(),
  /** How many letters of a text it shows, where it shows only its beginning. */
  texts: array(object({ field: field(), letters: number().integer().min(1).required() }).required()).default(
    [],
  ),
  /** How files are converted that it does not take as they are; null for the best of what it takes. */
  twins: object({
    codec: mixed<TwinCodec>()
      .oneOf([...TWIN_CODECS])
      .required(),
    /** Bits per second for stereo music, and for speech; null for as many as lose nothing that can be heard. */
    music: limit(),
    speech: limit(),
    /** Highest sample rate in hertz; null for all that the player takes. */
    mostRate: limit(),
    /** Highest bit depth of lossless codecs; null for all that the player takes. */
    mostBits: mixed<16>().oneOf([16]).nullable().default(null),
    /** Variable bit rate, for codecs that have it; the rates above are averages. */
    variable: boolean().default(false),
    /** Which audio becomes mono. */
    mono: string()
      .oneOf(['never', 'speech', 'always'] as const)
      .default('never'),
  })
    .nullable()
    .default(null),
  /** The same for video. */
  videoTwins: object({
    container: mixed<VideoContainer>()
      .oneOf([...VIDEO_CONTAINERS])
      .required(),
    codec: mixed<PictureCodec>()
      .oneOf([...PICTURE_CODECS])
      .required(),
    /** Largest height in pixels; null for all that the player takes. */
    mostHeight: limit(),
    /** Bits a second of pictures at the most; null for as many as show no loss. */
    mostBitrate: limit(),
  })
    .nullable()
    .default(null),
  disk,
}).required();

export type TwinWishes = NonNullable<InferType<typeof rulebookSchema>['twins']>;
export type VideoWishes = NonNullable<InferType<typeof rulebookSchema>['videoTwins']>;
export type Take = InferType<typeof take>;
export type Place = InferType<typeof place>;
export type SidecarRules = InferType<typeof sidecar>;
export type PictureRules = InferType<typeof picture>;
export type ListRules = InferType<typeof list>;
export type Beside = SidecarRules | PictureRules | ListRules;
/** The needs of a player, as plain JSON. `docs/rulebook.md` explains each key. */
export type Rulebook = Omit<InferType<typeof rulebookSchema>, 'beside'> & {
  readonly beside: readonly Beside[];
};
