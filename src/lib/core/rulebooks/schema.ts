import { array, boolean, mixed, number, object, string, type InferType } from 'yup';
import {
  FIELDS,
  FORMAT_IDS,
  fieldsOf,
  kindOf,
  type FieldName,
  type Fields,
  type FormatId,
  type Item,
} from '../items';
import { KINDS, type Kind } from '../kinds';
import { parsePattern } from '../naming';

/** Version of the rulebook's shape. Raise it with a migration in `readRulebook`. */
export const RULEBOOK_VERSION = 1;

const kind = () =>
  mixed<Kind>()
    .oneOf([...KINDS])
    .required();
const format = () =>
  mixed<FormatId>()
    .oneOf([...FORMAT_IDS])
    .required();
const fieldNames: FieldName[] = FIELDS.map(({ name }) => name);
const field = () => mixed<FieldName>().oneOf(fieldNames).required();
const pattern = () =>
  string()
    .required()
    .test(
      'pattern',
      ({ path, value }) => `${path} is no pattern: ${value}`,
      (text) => parsePattern(text ?? '').type === 'pattern',
    );
const folderName = () =>
  string()
    .required()
    .matches(/^[^/\\]+$/, 'is the name of one folder');

const names = object({
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
}).required();

const ask = object({
  field: field(),
  severity: string()
    .oneOf(['blocks', 'warns'] as const)
    .required(),
});

/** What fills an element of a sidecar: a field, the year of its date, or its length in whole minutes. */
export type SidecarSource = FieldName | 'year' | 'runtime';

const sidecar = object({
  extension: string()
    .required()
    .matches(/^[a-z0-9]+$/),
  root: string()
    .required()
    .matches(/^[A-Za-z][A-Za-z0-9]*$/),
  /** Element name to what fills it. */
  elements: array(
    object({
      name: string()
        .required()
        .matches(/^[A-Za-z][A-Za-z0-9]*$/),
      from: mixed<SidecarSource>()
        .oneOf([...fieldNames, 'year', 'runtime'])
        .required(),
    }),
  ).required(),
});

const section = object({
  kind: kind(),
  /** The folder that is declared to hold this kind. */
  root: folderName(),
  pattern: pattern(),
  formats: array(format()).required().min(1),
  asks: array(ask).required(),
  /** Folder, file and sidecar of one item carry exactly the same name. */
  alike: boolean().required(),
  sidecar: sidecar.nullable().default(null),
  folderPicture: object({
    name: string()
      .required()
      .matches(/^[^/\\]+\.jpg$/),
    minPixels: number().integer().min(1).required(),
    square: boolean().required(),
  })
    .nullable()
    .default(null),
  reading: object({
    /** Where the player takes its facts from. */
    from: string()
      .oneOf(['tags', 'sidecar'] as const)
      .required(),
    /** Without these the player does not place the item. */
    needs: array(field()).required(),
    /** Items share a shelf when all of these agree. `maker` is the album artist, or what stands in for it. */
    groupBy: array(
      string()
        .oneOf(['album', 'maker', 'year'] as const)
        .required(),
    ).required(),
    /** Stands for the album artist of a compilation that names none. */
    variousArtists: string().required(),
  }).required(),
});

export const rulebookSchema = object({
  version: number().oneOf([RULEBOOK_VERSION]).required(),
  id: string()
    .required()
    .matches(/^[a-z][a-z0-9-]*$/),
  name: string().required(),
  initial: string().required().length(1),
  about: string().required(),
  names,
  sections: array(section).required().min(1),
}).required();

/** What a player asks for, as plain JSON. */
export type Rulebook = InferType<typeof rulebookSchema>;
export type Section = Rulebook['sections'][number];

/**
 * A rulebook from JSON that came from outside.
 * @throws {ValidationError} naming the place that is wrong
 */
export function readRulebook(json: unknown): Rulebook {
  return rulebookSchema.validateSync(json, { strict: true, abortEarly: true });
}

/** What a section asks for and these fields lack. A compilation needs no album artist. */
export function missingAsks(section: Section, fields: Fields): Section['asks'] {
  return section.asks.filter(
    ({ field: asked }) => fields[asked] === null && !(asked === 'albumArtist' && fields.compilation),
  );
}

const gapCounts = new WeakMap<Rulebook, WeakMap<Item, number>>();

/** Counts what an item lacks of what its section asks for, each item once: boards ask for all at every change. */
export function countGaps(rulebook: Rulebook): (item: Item) => number {
  const counts = gapCounts.get(rulebook) ?? new WeakMap<Item, number>();
  gapCounts.set(rulebook, counts);
  return (item) => {
    let count = counts.get(item);
    if (count === undefined) {
      const section = findSection(rulebook, kindOf(item));
      count = section ? missingAsks(section, fieldsOf(item)).length : 0;
      counts.set(item, count);
    }
    return count;
  };
}

/** The section that takes a kind, or null when the player has no place for it. */
export function findSection(rulebook: Rulebook, kindSought: Kind | null): Section | null {
  return rulebook.sections.find((candidate) => candidate.kind === kindSought) ?? null;
}
