import { ValidationError } from 'yup';
import {
  FORMAT_ENDINGS,
  fieldOf,
  kindOf,
  type FieldName,
  type Fields,
  type FieldValue,
  type FormatId,
  type Item,
  type Stream,
} from '../items';
import { extensionOf, isBelow, nameOf, withoutExtension } from '../paths';
import { KINDS, type Kind } from '../kinds';
import { LIST_FILE_ENDINGS } from '../list-files';
import { contradictionIn } from './contradictions';
import { migrateRulebook } from './migrations/rulebook';
import {
  rulebookSchema,
  type PictureRules,
  type ListRules,
  type Place,
  type Rulebook,
  type SidecarRules,
  type Take,
} from './schema';

/**
 * A rulebook from JSON that came from outside, of any version.
 * @throws {ValidationError} naming the place that is wrong, or what contradicts itself; RangeError for a newer version
 */
export function readRulebook(json: unknown): Rulebook {
  const migrated = rulebookSchema.validateSync(migrateRulebook(json), { strict: true, abortEarly: true });
  const rulebook: Rulebook = rulebookSchema.cast(migrated);
  const contradiction = contradictionIn(rulebook);
  if (contradiction !== null) throw new ValidationError(contradiction);
  return rulebook;
}

/** What is asked of a rulebook for every item and file, looked up once. */
interface Index {
  /** The deepest folders first. */
  readonly places: readonly Place[];
  readonly byKind: ReadonlyMap<Kind, OfKind>;
}
interface OfKind {
  readonly place: Place | null;
  readonly takes: readonly Take[];
  readonly sidecar: SidecarRules | null;
  readonly pictures: readonly PictureRules[];
}

const indexes = new WeakMap<Rulebook, Index>();

function indexOf(rulebook: Rulebook): Index {
  let index = indexes.get(rulebook);
  if (!index) {
    const { takes, places, beside } = rulebook;
    const ofKind = (kind: Kind): OfKind => {
      const own = beside.filter((one) => one.type !== 'list' && one.kinds.includes(kind));
      return {
        place: places.find(({ kinds }) => kinds.includes(kind)) ?? null,
        takes: takes.filter(({ kinds }) => kinds.includes(kind)),
        sidecar: own.find((one) => one.type === 'sidecar') ?? null,
        pictures: own.filter((one) => one.type === 'picture'),
      };
    };
    index = {
      places: [...places].sort((a, b) => b.folder.length - a.folder.length),
      byKind: new Map(KINDS.map((kind) => [kind, ofKind(kind)])),
    };
    indexes.set(rulebook, index);
  }
  return index;
}

const rulesFor = (rulebook: Rulebook, kind: Kind): OfKind => indexOf(rulebook).byKind.get(kind) as OfKind;

/** The place that takes a kind, or null when the player has none for it. */
export function findPlace(rulebook: Rulebook, kind: Kind | null): Place | null {
  return kind === null ? null : rulesFor(rulebook, kind).place;
}

/** The places that may contain a path below a player's root: the deepest folders first, several if they share one. */
export function placesAt(rulebook: Rulebook, path: string): readonly Place[] {
  return indexOf(rulebook).places.filter(({ folder }) => isBelow(path, folder));
}

/** The rules of what it takes of a kind. */
export const takesOf = (rulebook: Rulebook, kind: Kind): readonly Take[] => rulesFor(rulebook, kind).takes;

/** The sidecar of a kind. */
export const sidecarFor = (rulebook: Rulebook, kind: Kind): SidecarRules | null =>
  rulesFor(rulebook, kind).sidecar;
export const picturesFor = (rulebook: Rulebook, kind: Kind): readonly PictureRules[] =>
  rulesFor(rulebook, kind).pictures;

/** Whether it uses pictures of top folders. */
export const asksForTopFolders = ({ beside }: Rulebook): boolean =>
  beside.some((rules) => rules.type === 'picture' && rules.of === 'topFolder');

/** How it reads lists; null if it has none. */
export const listsFor = ({ beside }: Rulebook): ListRules | null =>
  beside.find((rules) => rules.type === 'list') ?? null;

export const sidecarPath = (path: string, { extension }: SidecarRules): string =>
  `${withoutExtension(path)}.${extension}`;

/** The properties of an item's file that decide whether a player takes it. */
export interface Playable {
  readonly format: FormatId;
  readonly size: number;
  readonly durationSeconds: number | null;
  readonly streams: readonly Stream[];
}

/** Why a player does not take a file: its format, a codec in it, or the limit that it passes. */
export type Refusal = 'format' | 'codec' | keyof Take['most'];

/**
 * Null if the player takes it as it is; otherwise what the closest of its rules refuses, or that the file is too large
 * for its disk.
 */
export function refusalOf(rulebook: Rulebook, kind: Kind, file: Playable): Refusal | null {
  let nearest: Refusal = 'format';
  for (const take of rulesFor(rulebook, kind).takes) {
    if (!take.formats.includes(file.format)) continue;
    const refusal = refusedBy(take, file);
    if (refusal === null) return isTooLarge(rulebook, file) ? 'bytes' : null;
    nearest = refusal;
  }
  return nearest;
}

const isTooLarge = ({ disk }: Rulebook, { size }: Playable): boolean =>
  disk.largestFile !== null && size > disk.largestFile;

function refusedBy({ codecs, most }: Take, { size, durationSeconds, streams }: Playable): Refusal | null {
  const heard = streams.filter(({ type }) => type !== 'subtitle');
  const known = codecs?.map((codec) => codec.toLowerCase());
  if (known && !heard.every(({ codec }) => codec !== null && known.includes(codec.toLowerCase())))
    return 'codec';
  const passes = (value: number | null, limit: number | null) =>
    value !== null && limit !== null && value > limit;
  if (passes(size, most.bytes)) return 'bytes';
  if (passes(durationSeconds, most.seconds)) return 'seconds';
  const ofStreams = ['sampleRate', 'bits', 'channels', 'width', 'height'] as const;
  return ofStreams.find((name) => heard.some((stream) => passes(stream[name] ?? null, most[name]))) ?? null;
}

/** Empty fields that a place requires. A compilation needs no album artist. */
export function missingAsks(place: Place, fields: Fields): Place['asks'] {
  const missing = place.asks.filter(({ field }) => lacks(field, (name) => fields[name]));
  return missing.length === 0 ? NO_ASKS : missing;
}

const lacks = (field: FieldName, valueOf: (name: FieldName) => FieldValue): boolean =>
  valueOf(field) === null && !(field === 'albumArtist' && valueOf('compilation'));

/**
 * Counts the empty fields that an item's place requires. Boards call this for all items, so it makes no intermediate
 * objects.
 */
export function countGaps(rulebook: Rulebook): (item: Item) => number {
  return (item) => {
    let count = 0;
    const valueOf = (name: FieldName) => fieldOf(item, name);
    for (const { field } of findPlace(rulebook, kindOf(item))?.asks ?? NO_ASKS)
      if (lacks(field, valueOf)) count++;
    return count;
  };
}
const NO_ASKS: Place['asks'] = [];

/** Whether a file is in the folder of lists and is named like one. */
const isListPath = ({ folder, format }: ListRules, path: string): boolean =>
  isBelow(path, folder) && extensionOf(path) === LIST_FILE_ENDINGS[format];

/**
 * The role of a file on a player by its name: media that it plays, something that the rulebook puts beside items, or
 * unknown.
 */
export type FileRole = 'media' | 'sidecar' | 'picture' | 'list' | 'unknown';

export function roleOf(rulebook: Rulebook, path: string): FileRole {
  const name = nameOf(path).toLowerCase();
  for (const one of rulebook.beside) {
    if (one.type === 'sidecar' && name.endsWith(`.${one.extension}`)) return 'sidecar';
    if (one.type === 'picture' && name === one.name.toLowerCase()) return 'picture';
    if (one.type === 'list' && isListPath(one, path)) return 'list';
  }
  const ending = extensionOf(path);
  const plays = rulebook.takes.some(({ formats }) =>
    formats.some((format) => FORMAT_ENDINGS[format].includes(ending)),
  );
  return plays ? 'media' : 'unknown';
}
