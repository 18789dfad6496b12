import {
  isEdited,
  parseFieldText,
  requireField,
  type Edits,
  type FieldName,
  type FieldValue,
  type ItemId,
} from '../items';
import { stemOf, folderOf, nameOf } from '../paths';
import { KIND_FACTS, type Kind } from '../kinds';
import type { PictureRules, Refusal } from '../rulebooks';
import { readPattern, requirePattern } from '../naming';
import type { PlanItem, PlanPicture, Unheld } from './plan-item';
import { SEVERITIES, type Finding, type FindingCode, type Remedy, type Severity } from './step';

interface Draft {
  readonly code: FindingCode;
  readonly severity: Severity;
  readonly items: ItemId[];
  readonly places: string[];
  readonly words: Record<string, string>;
  readonly edits: { item: ItemId; edits: Edits }[];
  remedy: Remedy | null;
}

/** Places named in a finding; more are only counted. */
const MOST_PLACES = 200;

/** Ways in which files are named, read for what a missing field may be. */
const NUMBERED = [':disc-:track :title', ':track - :title', ':track. :title', ':track :title'].map(
  requirePattern,
);
const NAMED = [':artist - :title'].map(requirePattern);

/**
 * Collects findings while a plan is made. Findings of one sort are gathered into one with many
 * items, so that one button mends them all.
 */
export class Report {
  private readonly drafts = new Map<string, Draft>();
  /** Entries so far: whether something was reported meanwhile. */
  entries = 0;
  private usual: ReadonlyMap<string, Usual> | null = null;

  constructor(private readonly items: readonly PlanItem[]) {}

  /** The gathered findings, gravest first. */
  findings(): readonly Finding[] {
    return [...this.drafts]
      .map(([id, { edits, ...draft }]): Finding => {
        const words = { ...draft.words, count: String(draft.items.length || draft.places.length) };
        const remedy = edits.length > 0 ? ({ type: 'edit', changes: edits } as const) : draft.remedy;
        return { id, ...draft, words, remedy };
      })
      .sort((a, b) => SEVERITIES.indexOf(a.severity) - SEVERITIES.indexOf(b.severity));
  }

  /** Items that something blocks, each once. */
  blocked(): readonly ItemId[] {
    const blocking = [...this.drafts.values()].filter(({ severity }) => severity === 'blocks');
    return [...new Set(blocking.flatMap(({ items }) => items))];
  }

  missingField(item: PlanItem, field: FieldName, severity: 'blocks' | 'warns'): void {
    const proposal = this.propose(item, field);
    const id = `missing ${severity} ${field} ${item.kind} ${proposal === null}`;
    const draft = this.draft(id, 'missingField', severity, item, item.path);
    draft.words.field = requireField(field).label;
    draft.words.kind = item.kind ? KIND_FACTS[item.kind].one : 'item';
    draft.words.kinds = item.kind ? KIND_FACTS[item.kind].many : 'items';
    if (proposal === null) draft.remedy = { type: 'describe', items: draft.items };
    else {
      draft.edits.push({ item: item.id, edits: { [field]: proposal } });
      draft.words.value = String(proposal);
    }
  }

  /** A number that no release has, such as a track of a million: read from a file, or typed by a slip. */
  oddValue(item: PlanItem, field: FieldName, value: number): void {
    const draft = this.draft(`odd ${field}`, 'oddValue', 'warns', item, item.path);
    draft.words.field = requireField(field).label;
    draft.words.value = String(value);
    draft.remedy = { type: 'describe', items: draft.items };
  }

  kindOpen(item: PlanItem): void {
    this.draft('kindOpen', 'kindOpen', 'blocks', item, item.path);
    this.describes('kindOpen');
  }

  kindGuess(item: PlanItem, kind: Kind): void {
    const draft = this.draft(`guess ${kind}`, 'kindGuess', 'warns', item, item.path);
    draft.words.kind = KIND_FACTS[kind].one;
    const changes = draft.remedy?.type === 'settleKind' ? draft.remedy.changes : [];
    draft.remedy = { type: 'settleKind', changes: appended(changes, { item: item.id, kind }) };
  }

  /** @param instead a kind that the player has a place for and that was next best, or null */
  noSection(item: PlanItem, instead: Kind | null): void {
    // Only an uncertain guess is worth another thought; the rest simply stays here.
    const offered =
      !item.settled && (item.certainty === 'guess' || item.certainty === 'open') ? instead : null;
    const draft = this.draft(
      `noSection ${item.kind} ${offered}`,
      'noSection',
      offered ? 'warns' : 'note',
      item,
      item.path,
    );
    draft.words.kind = item.kind ? KIND_FACTS[item.kind].many : '';
    if (!offered) return;
    draft.words.instead = KIND_FACTS[offered].one;
    const changes = draft.remedy?.type === 'settleKind' ? draft.remedy.changes : [];
    draft.remedy = { type: 'settleKind', changes: appended(changes, { item: item.id, kind: offered }) };
  }

  /** @param refusal what the nearest of the player's rules does not take of it */
  formatRefused(item: PlanItem, refusal: Refusal): void {
    const codec = refusal === 'codec' ? item.streams.map(({ codec: one }) => one ?? '').join(', ') : '';
    const draft = this.draft(
      `format ${item.format} ${item.kind} ${refusal} ${codec}`,
      'formatRefused',
      'blocks',
      item,
      item.path,
    );
    draft.words.format = item.format;
    draft.words.kind = item.kind ? KIND_FACTS[item.kind].one : '';
    draft.words.refusal = refusal;
    draft.words.codec = codec;
    draft.remedy = leaveOut(draft.items);
  }

  nameMended(item: PlanItem, path: string): void {
    this.draft('mended', 'nameMended', 'note', item, path);
  }

  nameTooLong(item: PlanItem, path: string, length: number, limit: number): void {
    this.tooLong('nameTooLong', item, path, length, limit);
  }

  pathTooLong(item: PlanItem, path: string, length: number, limit: number): void {
    this.tooLong('pathTooLong', item, path, length, limit);
  }

  private tooLong(
    code: 'nameTooLong' | 'pathTooLong',
    item: PlanItem,
    path: string,
    length: number,
    limit: number,
  ): void {
    const draft = this.draft(code, code, 'blocks', item, path);
    draft.words.limit = String(limit);
    draft.words.length = String(Math.max(length, Number(draft.words.length ?? 0)));
    draft.remedy =
      code === 'nameTooLong'
        ? { type: 'choose', add: { shorten: draft.items } }
        : { type: 'describe', items: draft.items };
  }

  collision(item: PlanItem, other: PlanItem, path: string): void {
    const draft = this.draft(`collision ${path.toLowerCase()}`, 'collision', 'blocks', item, item.path);
    draft.words.path = path;
    draft.words.other = other.path;
    draft.remedy = leaveOut(draft.items);
  }

  /** @param place what stands in the way, by no run of ours */
  occupied(item: PlanItem, place: string, severity: 'blocks' | 'warns'): void {
    const draft = this.draft(`occupied ${severity}`, 'occupied', severity, item, place);
    draft.remedy = { type: 'choose', add: { replace: draft.places } };
  }

  /** @param place a file that a run put there and that another hand has changed since */
  changedThere(item: PlanItem, place: string, severity: 'blocks' | 'warns'): void {
    const draft = this.draft(`changed ${severity}`, 'changedThere', severity, item, place);
    draft.remedy = { type: 'choose', add: { replace: draft.places } };
  }

  /** The same, where nothing goes there any more: it would have been removed. */
  changedUnwanted(place: string): void {
    const id = 'changed unwanted';
    let draft = this.drafts.get(id);
    if (!draft) {
      const places: string[] = [];
      const remedy: Remedy = { type: 'choose', add: { replace: places } };
      draft = { code: 'changedUnwanted', severity: 'note', items: [], places, words: {}, edits: [], remedy };
      this.drafts.set(id, draft);
    }
    draft.places.push(place);
  }

  /**
   * One release that the player would show as several.
   * @param apart items outside the largest group, each with the edits that would bring it in
   */
  splitAlbum(
    album: string,
    groups: number,
    apart: readonly {
      item: PlanItem;
      edits: Edits;
      fields: readonly FieldName[];
      found: readonly string[];
    }[],
    usual: readonly string[],
  ): void {
    for (const { item, edits, fields, found } of apart) {
      const draft = this.draft(`split ${album} ${usual.join('|')}`, 'splitAlbum', 'splits', item, item.path);
      draft.words.album = album;
      draft.words.groups = String(groups);
      draft.words.fields = [
        ...new Set([...(draft.words.fields ?? '').split(', '), ...fields.map((f) => requireField(f).label)]),
      ]
        .filter(Boolean)
        .join(', ');
      draft.words.found = [...new Set([...(draft.words.found ?? '').split(' / '), ...found])]
        .filter(Boolean)
        .join(' / ');
      draft.words.usual = usual.join(', ');
      // What its format cannot carry to the player, no edit mends.
      if (Object.keys(edits).length > 0) draft.edits.push({ item: item.id, edits });
      else draft.words.stuck = String(Number(draft.words.stuck ?? 0) + 1);
    }
  }

  sidecarMismatch(
    path: string,
    sidecar: string | null,
    renames: readonly { from: string; to: string }[],
  ): void {
    const id = `sidecar ${path}`;
    const draft: Draft = {
      code: 'sidecarMismatch',
      severity: 'warns',
      items: [],
      places: [path],
      words: { name: nameOf(path), folder: nameOf(folderOf(path)), sidecar: sidecar ?? '' },
      edits: [],
      remedy: renames.length > 0 ? { type: 'choose', add: { renames } } : null,
    };
    this.drafts.set(id, draft);
  }

  besideMismatch(item: PlanItem, sidecar: string, path: string): void {
    const draft = this.draft(`beside ${item.id}`, 'besideMismatch', 'note', item, item.path);
    draft.words.sidecar = nameOf(sidecar);
    draft.words.name = nameOf(path);
  }

  cannotWrite(item: PlanItem): void {
    const edited = isEdited(item);
    const draft = this.draft(
      `write ${item.format} ${edited} ${item.locked}`,
      'cannotWrite',
      edited ? 'warns' : 'note',
      item,
      item.path,
    );
    draft.words.format = item.format;
    draft.words.edited = edited ? 'yes' : '';
    draft.words.locked = item.locked ?? '';
  }

  /** @param version of its tag, which the player does not read */
  tagVersion(item: PlanItem, version: string): void {
    this.draft(`tags ${version}`, 'tagVersion', 'warns', item, item.path).words.version = version;
  }

  /** What was said and the format of the item cannot hold, or readers would take for something else. */
  cannotHold(item: PlanItem, part: Unheld): void {
    const draft = this.draft(`hold ${item.format} ${part}`, 'cannotHold', 'warns', item, item.path);
    draft.words.format = item.format;
    draft.words.part = part;
  }

  /** @param of what the picture would stand for */
  noPicture(item: PlanItem, of: PictureRules['of'], folder: string): void {
    const draft = this.draft(`noPicture ${of}`, 'noPicture', 'warns', item, folder);
    draft.words.of = of;
    draft.remedy = { type: 'describe', items: draft.items };
  }

  /** One finding for each picture in each folder: its remedy makes one picture for all its items. */
  pictureShape(item: PlanItem, picture: PlanPicture, folder: string, least: number): void {
    const id = `pictureShape ${picture.key} ${folder}`;
    const draft = this.draft(id, 'pictureShape', 'warns', item, folder);
    draft.words.shape = `${picture.width ?? '?'}×${picture.height ?? '?'}`;
    draft.words.folder = nameOf(folder);
    draft.words.least = String(least);
    draft.remedy = { type: 'squarePicture', items: draft.items };
  }

  private draft(id: string, code: FindingCode, severity: Severity, item: PlanItem, place: string): Draft {
    this.entries++;
    let draft = this.drafts.get(id);
    if (!draft) {
      draft = { code, severity, items: [], places: [], words: {}, edits: [], remedy: null };
      this.drafts.set(id, draft);
    }
    if (draft.items.at(-1) !== item.id) draft.items.push(item.id);
    if (draft.places.length < MOST_PLACES || code === 'occupied' || code === 'changedThere')
      draft.places.push(place);
    return draft;
  }

  private describes(id: string): void {
    const draft = this.drafts.get(id);
    if (draft) draft.remedy = { type: 'describe', items: draft.items };
  }

  /** What a missing field most likely is, from the file's name and its neighbours; null without a ground. */
  private propose(item: PlanItem, field: FieldName): FieldValue {
    if (field === 'album' || field === 'albumArtist' || field === 'date') {
      // Most libraries have no gap of this kind, and then nobody needs to look at all neighbours.
      this.usual ??= usualValues(this.items);
      return this.usual.get(folderOf(item.path))?.[field] ?? null;
    }
    if (field !== 'title' && field !== 'track' && field !== 'artist') return null;
    const stem = stemOf(item.path);
    for (const pattern of item.kind === 'song' ? NUMBERED : NAMED) {
      const value = readPattern(pattern, stem)[0]?.values[field];
      if (value === undefined) continue;
      const parsed = parseFieldText(field, String(value));
      if (parsed.type === 'value') return parsed.value;
    }
    return field === 'title' ? stem.replace(/_/g, ' ').trim() : null;
  }
}

const leaveOut = (items: readonly ItemId[]): Remedy => ({ type: 'choose', add: { leftOut: items } });

/** Appends in place: a remedy of 100,000 changes must not be copied 100,000 times. */
function appended<T>(list: readonly T[], entry: T): readonly T[] {
  (list as T[]).push(entry);
  return list;
}

interface Usual {
  album?: string;
  albumArtist?: string;
  date?: string;
}

/** Values that at least half of a folder's songs share: what their neighbours most likely lack. */
function usualValues(items: readonly PlanItem[]): ReadonlyMap<string, Usual> {
  const folders = new Map<string, PlanItem[]>();
  for (const item of items) {
    const folder = folderOf(item.path);
    const members = folders.get(folder);
    if (members) members.push(item);
    else folders.set(folder, [item]);
  }
  const usual = new Map<string, Usual>();
  for (const [folder, members] of folders) {
    const album = mostFrequent(members, ({ fields }) => fields.album);
    const albumArtist = mostFrequent(members, ({ fields }) => fields.albumArtist);
    const date = mostFrequent(members, ({ fields }) => fields.date);
    usual.set(folder, { album, albumArtist, date });
  }
  return usual;
}

function mostFrequent<V>(items: readonly PlanItem[], valueOf: (item: PlanItem) => V | null): V | undefined {
  const counts = new Map<V, number>();
  for (const item of items) {
    const value = valueOf(item);
    if (value !== null) counts.set(value, (counts.get(value) ?? 0) + 1);
  }
  let best: V | undefined;
  let most = items.length / 2;
  for (const [value, count] of counts) if (count >= most) [best, most] = [value, count];
  return best;
}
