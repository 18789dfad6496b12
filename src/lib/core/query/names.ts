import { FIELDS, FORMAT_NAMES, codecName, isLossless, yearOf, type FieldName, type Stream } from '../items';
import { extensionOf, folderOf, nameOf } from '../paths';
import { KIND_FACTS } from '../kinds';
import type { Asked } from './asked';
import { dayOf, type QueryWorld } from './world';

/** How a value is compared: texts by words, numbers and dates by size, others are there or not. */
export type NameType = 'text' | 'number' | 'date' | 'bytes' | 'seconds' | 'presence';

/** Something that a query can name. */
export interface QueryName {
  /** In lower case; several words are separated by one space. */
  readonly name: string;
  readonly type: NameType;
  /** An explanation, if the name does not give one. */
  readonly means: string;
  /** Its values; empty for none. Numbers in base units: bytes, seconds, pixels, hertz. */
  readonly of: (asked: Asked, world: QueryWorld) => readonly (string | number)[];
}

const one = <V extends string | number>(value: V | null | undefined): readonly V[] =>
  value === null || value === undefined || value === '' ? [] : [value];

function ofField(name: FieldName): QueryName['of'] {
  return ({ fields }) => {
    const value = fields[name];
    if (value === null) return [];
    if (typeof value === 'object') return value;
    return typeof value === 'boolean' ? one(value ? 'yes' : null) : one(value);
  };
}

const TYPES = {
  text: 'text',
  language: 'text',
  lines: 'text',
  texts: 'text',
  number: 'number',
  gain: 'number',
  date: 'date',
  yesno: 'presence',
} as const;

const widest = (streams: readonly Stream[], of: (stream: Stream) => number | null): number | null => {
  let most: number | null = null;
  for (const stream of streams) {
    const value = of(stream);
    if (value !== null && (most === null || value > most)) most = value;
  }
  return most;
};

/** The largest number of its kind among the streams. */
const most = (name: string, means: string, of: (stream: Stream) => number | null): QueryName => ({
  name,
  type: 'number',
  means,
  of: ({ streams }) => one(widest(streams, of)),
});

const count = (name: string, means: string, of: (asked: Asked) => number): QueryName => ({
  name,
  type: 'presence',
  means,
  of: (asked) => (of(asked) > 0 ? [of(asked)] : []),
});

const namesOfCodec = (code: string): readonly string[] => {
  const name = codecName(code);
  return name === code ? [code] : [name, code];
};

/** Codecs that keep every sample, by name or code. */
const LOSSLESS =
  /^(flac|alac|pcm|lpcm|wav|aiff|sowt|twos|in24|in32|fl32|ape|wavpack|tta|dsd|a_flac|a_alac|a_pcm)/i;

const DERIVED: readonly QueryName[] = [
  { name: 'year', type: 'number', means: 'of its date', of: ({ fields }) => one(yearOf(fields)) },
  {
    name: 'kind',
    type: 'text',
    means: 'song, film, episode …',
    of: ({ kind }) => one(kind && KIND_FACTS[kind].one),
  },
  { name: 'format', type: 'text', means: 'MP3, FLAC, Opus …', of: ({ format }) => one(FORMAT_NAMES[format]) },
  {
    name: 'codec',
    type: 'text',
    means: 'of any of its streams, by its name or code',
    of: ({ streams }) => streams.flatMap(({ codec }) => (codec ? namesOfCodec(codec) : [])),
  },
  { name: 'path', type: 'text', means: 'below its source', of: ({ path }) => [path] },
  { name: 'folder', type: 'text', means: 'that its file lies in', of: ({ path }) => one(folderOf(path)) },
  { name: 'file name', type: 'text', means: 'with its ending', of: ({ path }) => [nameOf(path)] },
  { name: 'ending', type: 'text', means: 'of its file name', of: ({ path }) => one(extensionOf(path)) },
  { name: 'size', type: 'bytes', means: 'such as 300 kB or 2 GB', of: ({ size }) => [size] },
  {
    name: 'length',
    type: 'seconds',
    means: 'such as 3:20, 90 s or 2 h',
    of: ({ durationSeconds }) => one(durationSeconds),
  },
  {
    name: 'bitrate',
    type: 'number',
    means: 'of its sound where that is known alone, else of its whole file, in kbit/s',
    of: ({ size, soundBytes = size, durationSeconds }) =>
      one(durationSeconds ? Math.round((soundBytes * 8) / durationSeconds / 1000) : null),
  },
  most('sample rate', 'in hertz', ({ sampleRate }) => sampleRate),
  most('bit depth', 'bits a sample of its sound', ({ bits }) => bits ?? null),
  most('channels', 'of its sound', ({ channels }) => channels),
  most('width', 'of its moving picture, in pixels', ({ width }) => width),
  most('height', 'of its moving picture, in pixels', ({ height }) => height),
  {
    name: 'added',
    type: 'date',
    means: 'when it came in',
    of: ({ arrival }, { addedAt }) => {
      const at = addedAt(arrival);
      return at === null ? [] : [dayOf(at)];
    },
  },
  { name: 'changed', type: 'date', means: 'when its file was', of: ({ modified }) => [dayOf(modified)] },
  { name: 'list', type: 'text', means: 'that it stands in', of: ({ id }, { listsOf }) => listsOf(id) },
  { name: 'player', type: 'text', means: 'that has it', of: ({ id }, { playersOf }) => playersOf(id) },
  {
    name: 'plays on',
    type: 'text',
    means: 'a player that takes it as it is',
    of: (asked, { playsOn }) => playsOn(asked),
  },
  {
    name: 'played',
    type: 'number',
    means: 'to its end, so many times',
    of: ({ id }, { playsOf }) => [playsOf(id)?.count ?? 0],
  },
  {
    name: 'last played',
    type: 'date',
    means: 'to its end',
    of: ({ id }, { playsOf }) => {
      const last = playsOf(id);
      return last ? [dayOf(last.at)] : [];
    },
  },
  count('picture', 'in its file or chosen for it', ({ pictures }) => pictures),
  count('lossless', 'all of its sound', ({ format, streams }) => {
    const sound = streams.filter(({ type }) => type === 'sound');
    const isKept = sound.length > 0 && sound.every(({ codec }) => LOSSLESS.test(codec ?? ''));
    return Number(isLossless(format) || isKept);
  }),
  count('chapters', '', ({ chapters }) => chapters),
  count('timed lyrics', 'lines with their times', ({ timedLines }) => timedLines),
  count('edits', 'said here and not by its file', ({ isEdited }) => Number(isEdited)),
];

/** Everything that a query can name, fields first. */
export const QUERY_NAMES: readonly QueryName[] = [
  ...FIELDS.map(({ name, label, type }): QueryName => ({
    name: label,
    type: TYPES[type],
    means: '',
    of: ofField(name),
  })),
  ...DERIVED,
];

const byName = new Map(QUERY_NAMES.map((own) => [own.name, own]));
/** Names whose answers do not come from the item, and can change without it. */
export const WORLD_NAMES: ReadonlySet<string> = new Set([
  ...['added', 'list', 'player', 'plays on', 'played', 'last played'],
]);
/** Words of the longest name. */
export const MOST_NAME_WORDS = Math.max(...QUERY_NAMES.map(({ name }) => name.split(' ').length));

/** @param words in lower case, separated by single spaces */
export const findName = (words: string): QueryName | null => byName.get(words) ?? null;
