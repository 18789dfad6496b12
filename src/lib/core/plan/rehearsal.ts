import { yearOf, type Fields, type ItemId } from '../items';
import { extensionOf, folderOf, nameOf, stemOf } from '../paths';
import type { Kind } from '../kinds';
import type { Rulebook, Section } from '../rulebooks';
import { readSidecar } from './sidecar';

/** A file of a planned tree, as much as a player could read of it. */
export type TreeFile =
  | {
      readonly type: 'media';
      readonly path: string;
      readonly item: ItemId | null;
      /** Null for a file that was there before and whose tags are unknown here. */
      readonly fields: Fields | null;
      readonly durationSeconds: number | null;
    }
  | { readonly type: 'sidecar'; readonly path: string; readonly text: string | null }
  | { readonly type: 'picture'; readonly path: string };

export interface ShownItem {
  readonly path: string;
  readonly item: ItemId | null;
  readonly title: string;
  readonly artist: string | null;
  readonly track: number | null;
  readonly disc: number | null;
}

/** What a player shows as one: an album, or the videos of one artist. */
export interface Shelf {
  readonly key: string;
  readonly kind: Kind;
  readonly title: string | null;
  readonly maker: string | null;
  readonly year: number | null;
  readonly picture: string | null;
  readonly items: readonly ShownItem[];
}

export type UnplacedCode = 'noSuchFolder' | 'missing' | 'namesDiffer' | 'noSidecar' | 'badSidecar';

export interface Unplaced {
  readonly path: string;
  readonly code: UnplacedCode;
  readonly detail: string;
}

export interface Showing {
  readonly shelves: readonly Shelf[];
  readonly unplaced: readonly Unplaced[];
}

/** What stands for the album artist: itself, "various" for a compilation, else the artist. */
export function makerOf(fields: Fields, section: Section): string | null {
  return (
    fields.albumArtist ??
    (fields.compilation ? section.reading.variousArtists : (fields.artist?.join('; ') ?? null))
  );
}

/** The values by which a player groups, as one text; equal for items of one shelf. */
export function shelfKey(fields: Fields, section: Section): string {
  const values = {
    album: fields.album?.trim(),
    maker: makerOf(fields, section)?.trim(),
    year: yearOf(fields),
  };
  return section.kind + section.reading.groupBy.map((part) => `\n${values[part] ?? ''}`).join('');
}

/** Applies a rulebook's reading rules to a tree of files: what the player would show, and what not. */
export function rehearse(files: readonly TreeFile[], rulebook: Rulebook): Showing {
  const sections = new Map(rulebook.sections.map((section) => [section.root, section]));
  const beside = new Map<string, TreeFile>();
  for (const file of files) if (file.type !== 'media') beside.set(file.path, file);
  const shelves = new Map<string, Shelf & { items: ShownItem[] }>();
  const unplaced: Unplaced[] = [];
  for (const file of files) {
    if (file.type !== 'media') continue;
    const section = sections.get(file.path.slice(0, file.path.indexOf('/')));
    const read = section ? readItem(file, section, beside) : ({ code: 'noSuchFolder', detail: '' } as const);
    if ('code' in read) {
      unplaced.push({ path: file.path, ...read });
      continue;
    }
    if (read.fields === null || !section) continue;
    place(shelves, read.fields, section, file, beside);
  }
  for (const shelf of shelves.values()) shelf.items.sort(byPlace);
  return { shelves: [...shelves.values()].sort(byShelf), unplaced };
}

const order = (a: string | null, b: string | null) =>
  (a ?? '') < (b ?? '') ? -1 : (a ?? '') > (b ?? '') ? 1 : 0;
const byPlace = (a: ShownItem, b: ShownItem) =>
  (a.disc ?? 1) - (b.disc ?? 1) || (a.track ?? 0) - (b.track ?? 0) || order(a.path, b.path);
const byShelf = (a: Shelf, b: Shelf) =>
  order(a.kind, b.kind) ||
  order(a.maker, b.maker) ||
  (a.year ?? 0) - (b.year ?? 0) ||
  order(a.title, b.title);

type Media = Extract<TreeFile, { type: 'media' }>;
type Read = { readonly fields: Fields | null } | { readonly code: UnplacedCode; readonly detail: string };

function readItem(file: Media, section: Section, beside: ReadonlyMap<string, TreeFile>): Read {
  if (section.alike && stemOf(file.path) !== nameOf(folderOf(file.path)))
    return { code: 'namesDiffer', detail: nameOf(folderOf(file.path)) };
  const read =
    section.reading.from === 'sidecar' ? readBeside(file, section, beside) : { fields: file.fields };
  if ('code' in read || read.fields === null) return read;
  const fields = read.fields;
  const missing = section.reading.needs.find((need) => fields[need] === null);
  return missing ? { code: 'missing', detail: missing } : read;
}

function readBeside(file: Media, section: Section, beside: ReadonlyMap<string, TreeFile>): Read {
  const rules = section.sidecar;
  if (!rules) return { fields: file.fields };
  const path = `${file.path.slice(0, -(extensionOf(file.path).length + 1))}.${rules.extension}`;
  const sidecar = beside.get(path);
  if (sidecar?.type !== 'sidecar') return { code: 'noSidecar', detail: nameOf(path) };
  if (sidecar.text === null) return { fields: null };
  const values = readSidecar(rules, sidecar.text);
  if (!values) return { code: 'badSidecar', detail: nameOf(path) };
  return { fields: values };
}

function place(
  shelves: Map<string, Shelf & { items: ShownItem[] }>,
  fields: Fields,
  section: Section,
  file: Media,
  beside: ReadonlyMap<string, TreeFile>,
): void {
  const key = shelfKey(fields, section);
  let shelf = shelves.get(key);
  if (!shelf) {
    const groups = section.reading.groupBy;
    const cover = section.folderPicture && `${folderOf(file.path)}/${section.folderPicture.name}`;
    shelf = {
      key,
      kind: section.kind,
      title: groups.includes('album') ? fields.album : null,
      maker: makerOf(fields, section),
      year: groups.includes('year') ? yearOf(fields) : null,
      picture: cover !== null && beside.has(cover) ? cover : null,
      items: [],
    };
    shelves.set(key, shelf);
  }
  shelf.items.push({
    path: file.path,
    item: file.item,
    title: fields.title ?? stemOf(file.path),
    artist: fields.artist?.join('; ') ?? null,
    track: fields.track,
    disc: fields.disc,
  });
}
