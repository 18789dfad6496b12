import { EMPTY_FIELDS, makerOf, yearOf, type Fields, type ItemId } from '../../items';
import { folderOf, nameOf, stemOf } from '../../paths';
import type { Kind } from '../../kinds';
import {
  picturesFor,
  placesAt,
  sidecarFor,
  sidecarPath,
  type FileRole,
  type GroupPart,
  type Place,
  type Rulebook,
} from '../../rulebooks';
import { readSidecar } from './sidecar';
import { shownLists, type ShownList } from './shown-lists';

/** A file of a planned tree, with what a player can read of it. */
export interface TreeFile {
  readonly path: string;
  readonly role: FileRole;
  /** The item that it comes from, and its kind; null for foreign files. */
  readonly item: ItemId | null;
  readonly kind: Kind | null;
  /** The content of its tags; null if unknown here. */
  readonly fields: Fields | null;
  /** The content of a sidecar; null if unknown here. */
  readonly text: string | null;
}

/** The facts that players report about what they show. */
export const FACTS = [
  'title',
  'maker',
  'artist',
  'year',
  'disc',
  'track',
  'season',
  'episode',
  'picture',
] as const;
export type Fact = (typeof FACTS)[number];
export type ShownFacts = Readonly<Partial<Record<Fact, string | number | null>>>;

/** A node that a player shows: an album, a show, a folder, or, at the end of a branch, a file. */
export interface ShownNode {
  /** Equal for equal nodes of one showing. */
  readonly key: string;
  readonly kind: Kind | null;
  readonly facts: ShownFacts;
  /** The path of the file; null for a node with children. */
  readonly path: string | null;
  readonly item: ItemId | null;
  readonly nodes: readonly ShownNode[];
}

export type UnplacedCode = 'noSuchFolder' | 'depth' | 'missing' | 'namesDiffer' | 'noSidecar' | 'badSidecar';

export interface Unplaced {
  readonly path: string;
  readonly code: UnplacedCode;
  readonly detail: string;
}

/** What a player would show of a tree of files, and what it would not. */
export interface Showing {
  readonly nodes: readonly ShownNode[];
  readonly unplaced: readonly Unplaced[];
  /** Playlists whose files are known here. */
  readonly lists: readonly ShownList[];
}

/** The value of one part of a grouping level for an item at a path. */
function partOf(part: GroupPart, fields: Fields, place: Place, path: string): string | number | null {
  switch (part) {
    case 'album':
      return fields.album?.trim() ?? null;
    case 'maker':
      return makerOf(fields, place.various)?.trim() ?? null;
    case 'year':
      return yearOf(fields);
    case 'show':
      return fields.show?.trim() ?? null;
    case 'season':
      return fields.season;
    case 'folder1':
    case 'folder2':
      return foldersBelow(place, path)[part === 'folder1' ? 0 : 1] ?? null;
  }
}

/** Folders between the place's own folder and the file. */
function foldersBelow({ folder }: Place, path: string): string[] {
  const below = folder === '' ? path : path.slice(folder.length + 1);
  return below.split('/').slice(0, -1);
}

const FACT_OF: Readonly<Record<GroupPart, Fact>> = {
  album: 'title',
  maker: 'maker',
  year: 'year',
  show: 'title',
  season: 'season',
  folder1: 'title',
  folder2: 'title',
};

/** The values by which a player groups, as one text. Equal for items that it shows together. */
export function groupKey(kind: Kind | null, fields: Fields, place: Place, path: string): string {
  const parts = place.groups.flat().map((part) => partOf(part, fields, place, path) ?? '');
  return [kind, ...parts].join('\n');
}

interface Growing extends ShownNode {
  readonly nodes: Growing[];
}

/** Applies a rulebook's reading rules to a tree of files: what the player would show, and what it would not. */
export function rehearse(files: readonly TreeFile[], rulebook: Rulebook): Showing {
  const beside = new Map<string, TreeFile>();
  for (const file of files) if (file.role !== 'media') beside.set(file.path, file);
  return rehearseWhole(
    files.filter(({ role }) => role === 'media'),
    beside,
    rulebook,
  );
}

/** @param media all media files of the player @param beside files beside them that are not media, by path */
export function rehearseWhole(
  media: readonly TreeFile[],
  beside: ReadonlyMap<string, TreeFile>,
  rulebook: Rulebook,
): Showing {
  const paths = new Set(media.map(({ path }) => path));
  const lists = shownLists(beside.values(), rulebook, (path) => paths.has(path));
  return { ...rehearseAmong(media, beside, rulebook), lists };
}

/** What a player shows of some media files. @param beside files beside them that are not media, by path */
export function rehearseAmong(
  files: Iterable<TreeFile>,
  beside: ReadonlyMap<string, TreeFile>,
  rulebook: Rulebook,
): Omit<Showing, 'lists'> {
  const growth = new Growth(rulebook, beside);
  const unplaced: Unplaced[] = [];
  for (const file of files) {
    const read = readOf(file, rulebook, beside);
    if (read === null) continue;
    if ('code' in read) unplaced.push(read);
    else growth.add(read, file);
  }
  return { nodes: growth.sorted(), unplaced };
}

/** What a player reads of a file, and the place whose rules it uses. */
export interface Read {
  readonly place: Place;
  readonly kind: Kind;
  readonly fields: Fields;
}

/** What is read of a media file, or why the player does not show it; null if its tags are unknown. */
export function readOf(
  file: TreeFile,
  rulebook: Rulebook,
  beside: ReadonlyMap<string, TreeFile>,
): Read | Unplaced | null {
  const place = placeOf(file, rulebook);
  if (!place) return { path: file.path, code: 'noSuchFolder', detail: '' };
  const kind = kindAt(file, place);
  const read = readFile(file, place, kind, rulebook, beside);
  if ('code' in read) return { path: file.path, ...read };
  const { fields } = read;
  if (!fields) return null;
  const missing = place.reads.needs.find((need) => fields[need] === null);
  return missing ? { path: file.path, code: 'missing', detail: missing } : { place, kind, fields };
}

/** The path of the sidecar that is read for a media file, whether it exists or not; null if its place reads none. */
export function sidecarOf(file: TreeFile, rulebook: Rulebook): string | null {
  const place = placeOf(file, rulebook);
  if (place?.reads.from !== 'sidecar') return null;
  const rules = sidecarFor(rulebook, kindAt(file, place));
  return rules && sidecarPath(file.path, rules);
}

function placeOf({ path, kind }: TreeFile, rulebook: Rulebook): Place | undefined {
  const places = placesAt(rulebook, path);
  return places.find(({ kinds }) => kind !== null && kinds.includes(kind)) ?? places[0];
}

const kindAt = ({ kind }: TreeFile, { kinds }: Place): Kind =>
  kind !== null && kinds.includes(kind) ? kind : (kinds[0] as Kind);

function readFile(
  file: TreeFile,
  place: Place,
  kind: Kind,
  rulebook: Rulebook,
  beside: ReadonlyMap<string, TreeFile>,
): { readonly fields: Fields | null } | { readonly code: UnplacedCode; readonly detail: string } {
  const folder = nameOf(folderOf(file.path));
  if (place.alike && stemOf(file.path) !== folder) return { code: 'namesDiffer', detail: folder };
  if (place.reads.from === 'path') {
    const levels = place.groups.flat().filter((part) => part === 'folder1' || part === 'folder2').length;
    const depth = foldersBelow(place, file.path).length;
    if (levels > 0 && depth !== levels) return { code: 'depth', detail: String(levels) };
    return { fields: { ...EMPTY_FIELDS, title: stemOf(file.path) } };
  }
  const rules = place.reads.from === 'sidecar' ? sidecarFor(rulebook, kind) : null;
  if (!rules) return { fields: file.fields };
  const path = sidecarPath(file.path, rules);
  const sidecar = beside.get(path);
  if (sidecar?.role !== 'sidecar') return { code: 'noSidecar', detail: nameOf(path) };
  if (sidecar.text === null) return { fields: null };
  const fields = readSidecar(rules, sidecar.text);
  return fields ? { fields } : { code: 'badSidecar', detail: nameOf(path) };
}

/** The kind whose section shows what is in a place. If it holds several, others stand among those of the first. */
const sectionOf = ({ kinds }: Place): Kind => kinds[0] as Kind;

/** The values that a file is grouped by, outermost first. */
function* levelsOf({ place, fields }: Read, path: string): Generator<Pick<ShownNode, 'key' | 'facts'>> {
  let key: string = sectionOf(place);
  for (const level of place.groups) {
    const values = level.map((part) => partOf(part, fields, place, path));
    key = levelKey(key, values);
    const facts = Object.fromEntries(level.map((part, index) => [FACT_OF[part], values[index] ?? null]));
    yield { key, facts };
  }
}

const leafOf = ({ place, kind, fields }: Read, { path, item }: TreeFile): Growing => ({
  key: path,
  kind,
  facts: leafFacts(fields, place, path),
  path,
  item,
  nodes: [],
});

/** The key of the outermost node of a file, without making the node. */
export function outermostKey({ place, fields }: Read, { path }: TreeFile): string {
  const [level] = place.groups;
  if (!level) return path;
  return levelKey(
    sectionOf(place),
    level.map((part) => partOf(part, fields, place, path)),
  );
}

const levelKey = (above: string, values: readonly (string | number | null)[]): string =>
  `${above}\n${values.map((value) => value ?? '').join('\n')}`;

/** The outermost node of a file: the file itself if its place does not group. */
export function outermostOf(read: Read, file: TreeFile): Omit<ShownNode, 'item' | 'nodes'> {
  const [first] = levelsOf(read, file.path);
  return first ? { ...first, kind: sectionOf(read.place), path: null } : leafOf(read, file);
}

/** The nodes of a showing while files are added to them. */
class Growth {
  private readonly roots: Growing[] = [];
  private readonly groups = new Map<string, Growing>();

  constructor(
    private readonly rulebook: Rulebook,
    private readonly beside: ReadonlyMap<string, TreeFile>,
  ) {}

  add(read: Read, file: TreeFile): void {
    const { place } = read;
    const kind = sectionOf(place);
    const { path } = file;
    let nodes = this.roots;
    let depth = -1;
    for (const { key, facts } of levelsOf(read, path)) {
      depth++;
      let node = this.groups.get(key);
      if (!node) {
        const picture = this.pictureOf(kind, place, path, depth);
        const all = picture === undefined ? facts : { ...facts, picture };
        node = { key, kind, facts: all, path: null, item: null, nodes: [] };
        this.groups.set(key, node);
        nodes.push(node);
      }
      nodes = node.nodes;
    }
    nodes.push(leafOf(read, file));
  }

  sorted(): readonly ShownNode[] {
    sortNodes(this.roots);
    return this.roots;
  }

  /** The picture of a node, null if it does not exist; undefined if the player shows none at this depth. */
  private pictureOf(kind: Kind, place: Place, path: string, depth: number): string | null | undefined {
    const innermost = depth === place.groups.length - 1;
    const rules = picturesFor(this.rulebook, kind).find(({ of }) =>
      of === 'folder' ? innermost : depth === 0 && !innermost,
    );
    if (!rules) return undefined;
    const at = `${rules.of === 'folder' ? folderOf(path) : topFolderOf(place, path)}/${rules.name}`;
    return this.beside.get(at)?.role === 'picture' ? at : null;
  }
}

/** The first folder below a place on the way to a path; the place's own folder if the path lies in that. */
export function topFolderOf(place: Place, path: string): string {
  const [first] = foldersBelow(place, path);
  return [place.folder, first].filter(Boolean).join('/');
}

/** A file without a title is shown under its file name. */
function leafFacts(fields: Fields, place: Place, path: string): ShownFacts {
  const title = fields.title ?? stemOf(path);
  if (place.reads.from === 'path') return { title };
  const { track, disc, season, episode } = fields;
  const artist = fields.artist?.join('; ') ?? null;
  const shown = place.groups.flat().includes('show');
  return shown ? { title, season, episode } : { title, artist, track, disc };
}

const order = (a: string | number | null | undefined, b: string | number | null | undefined) =>
  (a ?? '') < (b ?? '') ? -1 : (a ?? '') > (b ?? '') ? 1 : 0;

/** By kind; then groups by artist, year and title, and files by disc, track and path. */
function sortNodes(nodes: Growing[], by: (a: Shown, b: Shown) => number = inShownOrder): void {
  nodes.sort(by);
  for (const { nodes: inner } of nodes) if (inner.length > 0) sortNodes(inner, inOneSection);
}

type Shown = Pick<ShownNode, 'path' | 'kind' | 'facts'>;

export const inShownOrder = (a: Shown, b: Shown): number => order(a.kind, b.kind) || inOneSection(a, b);

/** The order below a node: files of several kinds stand together, by their numbers. */
function inOneSection(a: Shown, b: Shown): number {
  const first = Number(a.path !== null) - Number(b.path !== null);
  if (first !== 0) return first;
  return a.path === null
    ? order(a.facts.maker, b.facts.maker) ||
        (Number(a.facts.year) || 0) - (Number(b.facts.year) || 0) ||
        order(a.facts.title, b.facts.title)
    : (Number(a.facts.disc) || 1) - (Number(b.facts.disc) || 1) ||
        (Number(a.facts.track) || 0) - (Number(b.facts.track) || 0) ||
        order(a.path, b.path);
}

/** Files of a showing with the nodes that contain them, outermost first. */
export function* leavesOf(
  nodes: readonly ShownNode[],
  above: readonly ShownNode[] = [],
): Generator<{ readonly leaf: ShownNode; readonly above: readonly ShownNode[] }> {
  for (const node of nodes)
    if (node.path !== null) yield { leaf: node, above };
    else yield* leavesOf(node.nodes, [...above, node]);
}
