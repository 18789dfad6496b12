import { array, mixed, number, object, string } from 'yup';
import { FORMAT_IDS, editsSchema, type Item } from '../items';
import { LIBRARY_VERSION, migrateHead, migrateItem, type LibraryHead } from './head';

/** Items in one file of an exported library. */
export const EXPORT_CHUNK = 1000;

/** Name of a library's parts inside its ZIP; `docs/library-file.md` describes them. */
export const headFile = 'library.json';
export const itemsFile = (index: number): string => `items/${String(index).padStart(4, '0')}.json`;
export const pictureFile = (id: string): string => `pictures/${id}`;

/** Items as far as they must hold before they are trusted; the rest of an item is carried as it is. */
const itemsSchema = array(
  object({
    id: string().required(),
    arrival: string().required(),
    source: string().required(),
    path: string().required(),
    size: number().integer().min(0).required(),
    modified: number().required(),
    format: mixed()
      .oneOf([...FORMAT_IDS])
      .required(),
    facts: object({
      streams: array().required(),
      pictures: array().required(),
      chapters: array().required(),
    }).required(),
    native: array().required(),
    fileFields: object().required(),
    guess: object({ certainty: string().required(), evidence: array().required() }).required(),
    settled: string().nullable().defined(),
    edits: editsSchema.required(),
    picture: object({ id: string().required() }).nullable().defined().default(undefined),
    beside: array(string().required()).required(),
  }),
).required();

const headSchema = object({
  version: number().oneOf([LIBRARY_VERSION]).required(),
  chunks: number().integer().min(0).required(),
  sources: array(object({ id: string().required(), label: string().defined() })).required(),
  arrivals: array(object({ id: string().required(), source: string().required() })).required(),
  players: object().required(),
  folderKinds: array(
    object({
      source: string().required(),
      folder: string().defined(),
      kind: string().required(),
      by: mixed().oneOf(['rule', 'correction']).required(),
    }),
  ).required(),
  feeds: array(
    object({ id: string().required(), title: string().required(), episodes: array().required() }),
  ).required(),
  watched: array(object({ source: string().required(), rules: array().required() })).required(),
  lists: array(object({ id: string().required(), name: string().required() })).required(),
}).required();

/** @throws {ValidationError | RangeError} when the text is no head of a library, or of a newer version */
export function readHead(text: string): LibraryHead {
  const head = migrateHead(JSON.parse(text));
  headSchema.validateSync(head, { strict: true });
  return head;
}

/** @throws {ValidationError} naming the place that is wrong */
export function readItems(text: string): readonly Item[] {
  const items: unknown = JSON.parse(text);
  itemsSchema.validateSync(items, { strict: true });
  return (items as Item[]).map(migrateItem);
}
