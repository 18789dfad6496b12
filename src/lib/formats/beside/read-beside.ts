import { XMLParser } from 'fast-xml-parser';
import {
  EMPTY_FIELDS,
  FIELDS,
  allTracksOf,
  kindOf,
  languageTag,
  newTrackId,
  parseFieldText,
  yearDate,
  type Edits,
  type FieldName,
  type FieldValue,
  type Item,
  type Overlay,
} from '../../core/items';
import { languageIn, type BesideType } from '../../core/beside';
import { extensionOf } from '../../core/paths';
import { readSidecar } from '../../core/plan';
import type { SidecarRules } from '../../core/rulebooks';
import { chapterTextOf, readChapterFile, readSubtitles } from '../../core/timing';
import { readLrc } from '../lrc';

/** Letters of a text beside a file; a longer one is not about a single file. */
export const MOST_LETTERS = 2_000_000;

/**
 * What the text of a file beside an item says of the item; null if nothing in it is recognised.
 * @param type what the file can be, judging by its name
 * @param dialects sidecars of rulebooks: one with the root and the extension of a dialect is read by its elements
 */
export function readBeside(
  type: BesideType,
  path: string,
  text: string,
  item: Item,
  dialects: readonly SidecarRules[] = [],
): Overlay | null {
  if (text.length > MOST_LETTERS) return null;
  try {
    return READERS[type](text, path, item, dialects);
  } catch {
    // A file that is not what its name promises says nothing.
    return null;
  }
}

type Reader = (text: string, path: string, item: Item, dialects: readonly SidecarRules[]) => Overlay | null;

const READERS: Readonly<Record<BesideType, Reader>> = {
  picture: () => null,
  sidecar: (text, path, _item, dialects) => {
    if (chapterTextOf(text) === 'xml' && /<Chapters[\s>]/.test(text)) return chaptersOf(text);
    const fields = fieldsInDialect(text, path, dialects) ?? fieldsInXml(text);
    return fields && { fields };
  },
  lyrics: (text) => {
    const timed = readLrc(text);
    return timed && { timed };
  },
  chapters: chaptersOf,
  subtitles: (text, path, item) => {
    if (!item.facts.streams.some((stream) => stream.type === 'picture')) return null;
    const language = languageIn(path);
    // Tracks of files that are ignored keep their numbers too.
    const found = (item.foundBeside ?? []).flatMap(({ says }) => says.tracks ?? []);
    return {
      tracks: [
        {
          id: newTrackId([...allTracksOf(item), ...found]),
          added: readSubtitles(text),
          language: language ? languageTag(language) : null,
        },
      ],
    };
  },
  text: (text, _path, item) => {
    const timed = readLrc(text);
    if (timed) return { timed };
    if (chapterTextOf(text) !== null) return chaptersOf(text);
    const words = text.replace(/^\ufeff/, '').trim();
    if (words === '') return null;
    return { fields: { [kindOf(item) === 'song' ? 'lyrics' : 'description']: words } };
  },
};

function chaptersOf(text: string): Overlay {
  return { chapters: readChapterFile(text).chapters };
}

/** Names of elements for fields whose own name differs, in lower case and without separators. */
const ELEMENTS: Readonly<Record<string, FieldName>> = {
  summary: 'description',
  year: 'date',
  released: 'date',
  performer: 'artist',
  author: 'artist',
  seriestitle: 'show',
  showname: 'show',
  episodenumber: 'episode',
  seasonnumber: 'season',
  tracknumber: 'track',
  discnumber: 'disc',
};

const BY_NAME: ReadonlyMap<string, FieldName> = new Map([
  ...FIELDS.flatMap(({ name, label }): [string, FieldName][] => [
    [plainName(label), name],
    [name.toLowerCase(), name],
  ]),
  ...Object.entries(ELEMENTS),
]);

function plainName(name: string): string {
  return name.toLowerCase().replace(/[^a-z]/g, '');
}

/** The fields of a sidecar in the dialect of a rulebook; null if it is in none of these. */
function fieldsInDialect(text: string, path: string, dialects: readonly SidecarRules[]): Edits | null {
  if (/<!ENTITY/i.test(text)) return null;
  for (const rules of dialects) {
    const fields = rules.extension === extensionOf(path) ? readSidecar(rules, text) : null;
    const said = Object.entries(fields ?? {}).filter(([, value]) => value !== null);
    if (said.length > 0) return Object.fromEntries(said);
  }
  return null;
}

let parser: XMLParser | null = null;

/**
 * The fields of an XML sidecar with any root element, recognised by the names of the elements below it. Several elements of
 * one name are several values. Null if no field is recognised, or if it declares entities of its own.
 */
export function fieldsInXml(text: string): Edits | null {
  if (/<!ENTITY/i.test(text)) return null;
  parser ??= new XMLParser({
    ignoreAttributes: true,
    ignoreDeclaration: true,
    parseTagValue: false,
    trimValues: true,
    processEntities: true,
  });
  const roots = Object.values(parser.parse(text, true) as Record<string, unknown>);
  const root = roots.find((one) => typeof one === 'object' && one !== null && !Array.isArray(one));
  if (!root) return null;
  const read: Partial<Record<FieldName, FieldValue>> = {};
  for (const [element, value] of Object.entries(root)) {
    const field = BY_NAME.get(plainName(element));
    if (!field || read[field] !== undefined) continue;
    const texts = (Array.isArray(value) ? value : [value]).filter((one) => typeof one === 'string');
    const parsed = valueIn(field, texts.join('; '));
    if (parsed !== null) read[field] = parsed;
  }
  return Object.keys(read).length > 0 ? (read as Edits) : null;
}

function valueIn(field: FieldName, text: string): FieldValue {
  if (text === '' || !(field in EMPTY_FIELDS)) return null;
  const typed = field === 'date' && /^\d{1,4}$/.test(text) ? yearDate(Number(text)) : text;
  const parsed = parseFieldText(field, typed);
  return parsed.type === 'value' ? parsed.value : null;
}
