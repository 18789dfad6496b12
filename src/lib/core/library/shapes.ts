import {
  DATE,
  FIELDS,
  FORMAT_IDS,
  MOST_ASIDE,
  PART_NAMES,
  PICTURE_ROLES,
  UNREAD_CODES,
  type FieldFacts,
  type FieldType,
  type PartName,
} from '../items';
import { FACT_COLUMNS, LEVELS, MOST_LEVELS } from '../browse';
import { RELEASE_TYPES } from '../identify';
import { TRACK_FLAGS } from '../items';
import { KINDS, ORIGINS } from '../kinds';
import { LIMITED_BY, WORLD_ORDERS } from '../lists';
import { FIRST_OF_KIND, SYNC_POLICIES } from '../plan';
import { VIDEO_CONTAINERS, PICTURE_CODECS, TWIN_CODECS, readRulebook } from '../rulebooks';
import { LIBRARY_VERSION } from './head';
import { TARGET_TYPES } from './places';
import {
  folder,
  id,
  list,
  nullable,
  number,
  object,
  oneOf,
  optional,
  path,
  text,
  union,
  whole,
  yesno,
  type Shape,
} from './shape';

/* Every record of a library file. What is not told here does not come in. */

const kind = oneOf(...KINDS);
const time = number(0, 1e15);

const texts = list(text(), 500);
const dateText = text(10);

/** Accepts every value that a field of the type can hold; what may be typed into it is narrower. */
const FIELD_SHAPES: Readonly<Record<FieldType, Shape>> = {
  text: text(),
  lines: text(),
  texts: (value, at) =>
    texts(value, at) ?? ((value as unknown[]).length === 0 ? `${at} is an empty list` : null),
  number: whole(0, 1e9),
  yesno,
  gain: number(-1000),
  language: text(60),
  date: (value, at) =>
    dateText(value, at) ?? (DATE.test(String(value)) ? null : `${at} is no date such as 2024-05-31`),
};
const fieldShape = ({ type }: FieldFacts): Shape => FIELD_SHAPES[type];
/** Content of a file may be odd. */
const fileFieldShape = (field: FieldFacts): Shape =>
  field.type === 'number' ? number(0) : fieldShape(field);

const edits = object(
  Object.fromEntries(FIELDS.map((field) => [field.name, optional(nullable(fieldShape(field)))])),
);
const fields = object(
  Object.fromEntries(FIELDS.map((field) => [field.name, nullable(fileFieldShape(field))])),
);

const picture = object({ id, mime: text(300), bytes: whole(), width: number(0), height: number(0) });
/** A picture in a file, whatever its role. */
const ownPicture = {
  mime: text(300),
  bytes: whole(),
  width: nullable(number(0)),
  height: nullable(number(0)),
  hash: number(),
};
const embedded = object(ownPicture);
const chapterPicture: Shape = (value, at) =>
  (typeof value === 'object' && value !== null && 'id' in value ? picture : embedded)(value, at);
const chapters = list(
  object({
    startSeconds: number(0),
    endSeconds: nullable(number(0)),
    title: text(),
    link: nullable(text(10_000)),
    picture: optional(nullable(chapterPicture)),
  }),
  100_000,
);
const timedWord = { startSeconds: number(0), text: text() };
const timed = list(object({ ...timedWord, words: optional(list(object(timedWord), 10_000)) }), 100_000);
const flags = Object.fromEntries(TRACK_FLAGS.map((flag) => [flag, optional(yesno)]));
const tracks = list(
  object({
    id: whole(),
    type: oneOf('sound', 'picture', 'subtitle'),
    language: nullable(text(100)),
    name: text(),
    ...flags,
  }),
  10_000,
);
const facts = object({
  durationSeconds: nullable(number(0)),
  streams: list(
    object({
      type: oneOf('sound', 'picture', 'subtitle'),
      codec: nullable(text(300)),
      channels: nullable(number(0)),
      sampleRate: nullable(number(0)),
      bits: optional(whole()),
      width: nullable(number(0)),
      height: nullable(number(0)),
      bytes: optional(whole()),
    }),
    10_000,
  ),
  tagFormats: list(text(100), 100),
  isAbout: optional(yesno),
  sameAs: optional(object({ item: id, modified: time })),
  soundBytes: optional(whole()),
  isCut: optional(yesno),
  locked: optional(oneOf('fragmented', 'foreignTags')),
});
const file = object({
  fields,
  pictures: list(
    object({
      role: oneOf(...PICTURE_ROLES),
      ...ownPicture,
    }),
    10_000,
  ),
  chapters,
  timed: optional(timed),
  tracks: optional(tracks),
});
const guess = object({
  kind: nullable(kind),
  certainty: oneOf('sure', 'likely', 'guess', 'open'),
  points: number(),
  next: nullable(kind),
  nextPoints: number(),
  evidence: list(object({ code: text(100), detail: text(10_000), points: number() }), 1000),
});
const parts: { readonly [P in PartName]: Shape } = {
  fields: edits,
  pictures: object(Object.fromEntries(PICTURE_ROLES.map((role) => [role, optional(nullable(picture))]))),
  chapters,
  timed,
  tracks: list(
    object({
      id: whole(),
      language: optional(nullable(text(100))),
      name: optional(text()),
      ...flags,
      isLeftOut: optional(yesno),
      place: optional(whole()),
      added: optional(
        list(object({ startSeconds: number(0), endSeconds: number(0), text: text() }), 100_000),
      ),
    }),
    10_000,
  ),
};
const overlay = object(Object.fromEntries(PART_NAMES.map((name) => [name, optional(parts[name])])));
const identity = union({
  matched: object({ type: text(), release: id, entry: id, source: text(300), title: text(), at: time }),
  left: object({ type: text(), at: time }),
});

/** Letters of a track list: some thousand lines. */
const MOST_LIST_TEXT = 1_000_000;

export const itemShape: Shape = object({
  id,
  arrival: id,
  source: id,
  path,
  size: whole(),
  modified: number(),
  format: oneOf(...FORMAT_IDS),
  facts,
  native: list(object({ format: text(100), id: text(10_000), value: text() }), 10_000),
  file,
  guess,
  settled: nullable(kind),
  edits: overlay,
  beside: list(path, 1000),
  gone: nullable(time),
  identity: nullable(identity),
  gathering: nullable(text(10_000)),
  made: nullable(
    object({
      parts: list(object({ item: id, fromSeconds: number(0), toSeconds: nullable(number(0)) }), 10_000),
      codec: text(100),
      fadeInSeconds: number(0),
      fadeOutSeconds: number(0),
      from: list(object({ item: id, size: whole(), modified: number() }), 10_000),
    }),
  ),
  foundBeside: optional(
    nullable(
      list(
        object({ path, size: whole(), modified: number(), says: overlay, isIgnored: optional(oneOf(true)) }),
        1000,
      ),
    ),
  ),
});

const owner = union({
  item: object({ type: oneOf('item'), item: id }),
  shelf: object({ type: oneOf('shelf'), folder: text(10_000) }),
  topFolder: object({ type: oneOf('topFolder'), folder: text(10_000) }),
  list: object({ type: oneOf('list'), list: id }),
});
const placedAs = {
  path,
  // For a list, the content of its file.
  signature: text(32_000_000),
  size: whole(),
  digest: nullable(text(200)),
  gone: optional(oneOf(true)),
  kept: optional(oneOf(true)),
  theirs: optional(oneOf(true)),
  taken: optional(oneOf(true)),
};
const placed = object({ ...placedAs, owner: nullable(owner) });
/** The form up to version 11. */
const placedEarlier = object({ ...placedAs, item: nullable(id) });

const placeRecord = (version: number, files: Shape) =>
  object({
    version: oneOf(version),
    writer: id,
    target: id,
    at: time,
    files: list(files),
    coming: list(path),
  });
const RECORDS = [placeRecord(2, placed), placeRecord(1, placedEarlier)];

/** Whether something is a valid record of a library on a place. */
export const isPlaceRecord = (told: unknown): boolean => RECORDS.some((shape) => shape(told, '') === null);

const seen = object({ size: nullable(whole()), digest: nullable(text(200)) });
const choices = object({
  replace: list(object({ path, was: seen })),
  leftOut: list(id),
  shorten: list(id),
  suffixes: list(object({ item: id, text: text(200) })),
  renames: list(object({ path, was: seen, to: path })),
  removes: list(object({ path, was: seen })),
  sides: list(object({ path, was: nullable(seen), side: oneOf('here', 'there') })),
  pictures: list(object({ path, picture })),
});
/** A rulebook in the file, checked by its own rules. */
const rulebook: Shape = (value, at) => {
  try {
    readRulebook(value);
    return null;
  } catch (error) {
    return `${at} is not a rulebook: ${error instanceof Error ? error.message : String(error)}`;
  }
};
const player = object({
  id,
  name: nullable(text(200)),
  rulebook: id,
  own: nullable(rulebook),
  device: nullable(id),
  selection: object({
    kinds: nullable(list(kind, 100)),
    text: text(10_000),
    with: list(id),
    only: optional(oneOf(true)),
    order: list(kind, 100),
    first: optional(oneOf(...FIRST_OF_KIND)),
    lists: optional(list(id)),
    onlyListed: optional(oneOf(true)),
    firstList: optional(id),
  }),
  bySelf: yesno,
  off: yesno,
  recipe: optional(id),
  videoRecipe: optional(id),
  policy: oneOf(...SYNC_POLICIES),
  targets: list(object({ id, type: oneOf(...TARGET_TYPES), choices }), 100),
});

const episode = object({
  guid: text(10_000),
  title: text(),
  season: nullable(number(0)),
  number: nullable(number(0)),
  date: nullable(text(100)),
  description: nullable(text(1_000_000)),
  people: list(text(10_000), 1000),
  url: text(10_000),
  bytes: nullable(number(0)),
  extension: text(100),
  chaptersUrl: nullable(text(10_000)),
  transcriptUrl: nullable(text(10_000)),
  pictureUrl: nullable(text(10_000)),
});
const feed = object({
  id,
  address: nullable(text(10_000)),
  title: text(),
  maker: nullable(text()),
  description: nullable(text(1_000_000)),
  pictureUrl: nullable(text(10_000)),
  checkedAt: time,
  episodes: list(episode, 100_000),
  warnings: list(
    object({ code: oneOf('entities', 'malformed', 'brokenEpisodes', 'cutOff'), count: whole() }),
    100,
  ),
  fetched: list(text(10_000)),
  passed: list(text(10_000)),
});
const tie = object({ kind: nullable(kind), genreFromFolder: yesno });

const soundWishes = object({
  codec: oneOf(...TWIN_CODECS),
  music: nullable(number(1)),
  speech: nullable(number(1)),
  mostRate: nullable(number(1)),
  mono: oneOf('never', 'speech', 'always'),
  mostBits: nullable(oneOf(16)),
  variable: yesno,
});
const videoWishes = object({
  container: oneOf(...VIDEO_CONTAINERS),
  codec: oneOf(...PICTURE_CODECS),
  mostHeight: nullable(number(1)),
  mostBitrate: nullable(number(1)),
});
const isVideo = (value: unknown): boolean =>
  typeof value === 'object' && value !== null && 'container' in value;

const listFacts = { id, type: text(), name: text(1000), note: text(), group: nullable(text(1000)) };
const openEntry = object({
  path: text(10_000),
  title: nullable(text(10_000)),
  artist: nullable(text(10_000)),
  seconds: nullable(number(0)),
  from: optional(
    union({
      shelf: object({ type: text(), address: text(10_000), track: text(1000) }),
      feed: object({ type: text(), feed: id, episode: text(10_000) }),
    }),
  ),
});
const entry: Shape = (value, at) =>
  (typeof value === 'object' && value !== null && 'open' in value
    ? object({ open: openEntry })
    : object({ item: id }))(value, at);
const orderKey = oneOf(...FIELDS.map(({ name }) => name), ...FACT_COLUMNS, ...WORLD_ORDERS);
const limit = object({ by: oneOf(...LIMITED_BY), most: number(0) });
const freeLimit = object({ by: oneOf('free'), player: id });
const isFree = (value: unknown): boolean => (value as { by?: unknown } | null)?.by === 'free';
const playList = union({
  hand: object({
    ...listFacts,
    suites: list(object({ name: nullable(text(1000)), entries: list(entry) })),
    allowsDoubles: yesno,
  }),
  rule: object({
    ...listFacts,
    query: text(10_000),
    order: union({
      terms: object({ type: text(), terms: list(object({ by: orderKey, down: yesno }), 100) }),
      shuffled: object({ type: text(), seed: whole(0, 2 ** 32) }),
    }),
    limit: nullable((value, at) => (isFree(value) ? freeLimit : limit)(value, at)),
    dropped: list(id),
  }),
  mirror: object({ ...listFacts, source: id, folder, isDeep: yesno }),
});

export const headShape: Shape = object({
  version: oneOf(LIBRARY_VERSION),
  chunks: whole(0, 10_000),
  sources: list(object({ id, type: oneOf('folder', 'kept'), label: text(10_000) })),
  arrivals: list(
    object({
      id,
      source: id,
      origin: oneOf(...ORIGINS),
      label: text(10_000),
      at: time,
      unread: list(object({ path: text(10_000), code: oneOf(...UNREAD_CODES), detail: text() })),
      setAside: whole(),
      aside: optional(list(text(10_000), MOST_ASIDE)),
    }),
  ),
  players: list(player, 100),
  bases: list(object({ target: id, placed: list(placed) }), 1000),
  folderKinds: list(object({ source: id, folder, kind, by: oneOf('rule', 'correction') })),
  feeds: list(feed, 10_000),
  watched: list(
    object({
      source: id,
      label: text(10_000),
      since: time,
      choice: tie,
      rules: list(object({ folder, kind: nullable(kind), defaults: edits })),
    }),
  ),
  lists: list(playList, 10_000),
  plays: list(object({ item: id, count: whole(1), at: time })),
  marks: list(object({ list: id, items: list(id) }), 10_000),
  presets: list(
    object({
      id,
      name: text(200),
      fields: object(Object.fromEntries(FIELDS.map(({ name }) => [name, optional(text())]))),
      picture: nullable(picture),
    }),
    10_000,
  ),
  recipes: list(
    object({
      id,
      name: text(200),
      wishes: (value, path) => (isVideo(value) ? videoWishes : soundWishes)(value, path),
    }),
    1000,
  ),
  references: list(
    object({
      id,
      type: oneOf(...RELEASE_TYPES),
      title: text(10_000),
      maker: nullable(text(10_000)),
      year: nullable(whole()),
      text: text(MOST_LIST_TEXT),
    }),
    10_000,
  ),
  views: list(
    object({
      id,
      name: text(200),
      scope: object({ kind: nullable(oneOf(...KINDS, 'open')), text: text(10_000) }),
      levels: list(oneOf(...LEVELS), MOST_LEVELS),
    }),
    1000,
  ),
});
