import {
  fieldText,
  homeOf,
  isEdited,
  requireField,
  type Edits,
  type FieldName,
  type FieldValue,
  type FrontPicture,
  type ItemId,
} from '../../items';
import { TYPE_OF_KIND } from '../../identify';
import { KIND_FACTS, type Kind } from '../../kinds';
import { foldCase } from '../../naming';
import { folderOf, nameOf } from '../../paths';
import type { PictureRules, Refusal } from '../../rulebooks';
import { bytesMade, madeTo } from '../../twins';
import { inAFewWords, rivalOf, type Rival } from '../outgoing/apart';
import { areEditions, markingOf, type Marking } from '../outgoing/edition';
import type { ItemPlan, Planned } from '../outgoing/item-plan';
import { itemOf } from '../owner';
import type { Unheld } from '../outgoing/plan-item';
import { choiceOf, isConflict, type Drift } from '../there/drift';
import type { Permission } from '../there/permission';
import type { TooLong } from '../names/too-long';
import type { FailedStep } from '../step';
import type { FindingCode, Severity } from './finding';
import type { PlacedFile, ThereFile } from '../there/files';
import type { PlayerChoices } from '../choices';
import type { Side, SideChoice } from '../there/sides';

/** The remedy of a remark for its item. */
export type Mend =
  | { readonly type: 'edit'; readonly edits: Edits }
  | { readonly type: 'settleKind'; readonly kind: Kind }
  | { readonly type: 'part'; readonly rival: Rival }
  | { readonly type: 'edition'; readonly item: ItemId; readonly mark: string }
  | { readonly type: 'renames'; readonly renames: PlayerChoices['renames'] }
  /** A side has to be chosen. If `side` is set, only that one is offered. */
  | { readonly type: 'decide'; readonly file: Omit<SideChoice, 'side'>; readonly side?: Side }
  | { readonly type: 'describe' | 'identify' | 'squarePicture' | 'leaveOut' | 'shorten' | 'makeTwins' }
  | { readonly type: 'replace'; readonly file: Permission };

/** One remark about one item, or about a foreign file on the player. A finding collects those of one sort. */
export interface Remark {
  /** Equal for remarks that one finding collects and one button resolves. */
  readonly finding: string;
  readonly code: FindingCode;
  readonly severity: Severity;
  readonly item: ItemId | null;
  /** The order of its item; remarks without an item come first. */
  readonly order: number;
  readonly places: readonly string[];
  readonly words: Readonly<Record<string, string>>;
  readonly mend: Mend | null;
}

export const NONE: readonly Remark[] = [];

/** Whether two remarks are equal. */
export function isSame(a: Remark, b: Remark): boolean {
  return a.finding === b.finding && a.item === b.item && JSON.stringify(a) === JSON.stringify(b);
}

function about(
  { id, order }: Planned,
  finding: string,
  code: FindingCode,
  severity: Severity,
  place: string,
  words: Remark['words'] = {},
  mend: Mend | null = null,
): Remark {
  return { finding, code, severity, item: id, order, places: [place], words, mend };
}

const oneOf = (kind: Kind | null) => (kind ? KIND_FACTS[kind].one : 'item');
const manyOf = (kind: Kind | null) => (kind ? KIND_FACTS[kind].many : 'items');

/** An empty field that the place requires. */
export interface Lack {
  readonly field: FieldName;
  readonly severity: 'blocks' | 'warns';
  /** The value suggested by its name and its neighbours; null if there is none. */
  readonly proposal: FieldValue;
}

/** An item without any of these cannot be recognised: it has to be identified first, and the rest follows from that. */
const NAMING = ['title', 'album', 'artist', 'show'] as const;
/** The file name always supplies a title, so only these show that the item has been described. */
const MAKERS: ReadonlySet<FieldName> = new Set(['album', 'artist', 'show']);

/**
 * The remedy for an item's empty fields: identify it if nothing is known; otherwise fill in the values that its name
 * and its neighbours suggest, all at once. The rest is entered by hand.
 */
export function missingFields(entry: Planned, lacks: readonly Lack[]): readonly Remark[] {
  if (lacks.length === 0) return NONE;
  const { kind, path, fields } = entry.item;
  const words = { kind: oneOf(kind), kinds: manyOf(kind) };
  const said = (code: FindingCode, own: readonly Lack[], mend: Mend, more: Remark['words'] = {}) => {
    const severity = own.some((one) => one.severity === 'blocks') ? 'blocks' : 'warns';
    const labels = own.map(({ field }) => requireField(field).label).join(', ');
    const id = `${code} ${severity} ${labels} ${kind} ${mend.type}`;
    return about(entry, id, code, severity, path, { ...words, ...more, fields: labels }, mend);
  };
  const isTold = lacks.some(({ field, proposal }) => proposal !== null && MAKERS.has(field));
  // No reference knows home videos and the like.
  const isKnowable = kind !== null && TYPE_OF_KIND[kind] !== undefined;
  if (isKnowable && lacks.length > 1 && !isTold && NAMING.every((field) => fields[field] === null))
    return [said('unknownItem', lacks, { type: 'identify' })];
  const told = lacks.filter(({ proposal }) => proposal !== null);
  const open = lacks.filter(({ proposal }) => proposal === null);
  const edits = Object.fromEntries(told.map(({ field, proposal }) => [field, proposal])) as Edits;
  const values = told.map(({ field, proposal }) => `${requireField(field).label} ${fieldText(proposal)}`);
  return [
    ...(told.length > 0
      ? [said('missingField', told, { type: 'edit', edits }, { value: values.join(', ') })]
      : []),
    ...(open.length > 0 ? [said('missingField', open, { type: 'describe' })] : []),
  ];
}

/** A number that no release has, such as track 1,000,000: read from a file, or mistyped. */
export function oddValue(entry: Planned, field: FieldName, value: number): Remark {
  const words = { field: requireField(field).label, value: String(value) };
  return about(entry, `odd ${field}`, 'oddValue', 'warns', entry.item.path, words, { type: 'describe' });
}

export const kindOpen = (entry: Planned): Remark =>
  about(entry, 'kindOpen', 'kindOpen', 'blocks', entry.item.path, {}, { type: 'describe' });

export function kindGuess(entry: Planned, kind: Kind): Remark {
  const words = { kind: oneOf(kind) };
  return about(entry, `guess ${kind}`, 'kindGuess', 'warns', entry.item.path, words, {
    type: 'settleKind',
    kind,
  });
}

/**
 * The player has no place for its kind, so it stays here. An uncertain kind is worth a look, but that a player has a
 * place for another one makes it no likelier.
 */
export function noSection(entry: Planned): Remark {
  const { kind, settled, certainty, path } = entry.item;
  const isShaky = !settled && (certainty === 'guess' || certainty === 'open');
  const words = { kind: kind ? manyOf(kind) : '', ...(isShaky && { shaky: '1' }) };
  const id = `noSection ${kind} ${isShaky}`;
  return isShaky
    ? about(entry, id, 'noSection', 'warns', path, words, { type: 'describe' })
    : about(entry, id, 'noSection', 'note', path, words);
}

/** Refusals that conversion resolves. */
const CONVERTED: ReadonlySet<Refusal> = new Set([
  'format',
  'codec',
  'sampleRate',
  'bits',
  'channels',
  'width',
  'height',
]);

/**
 * @param refusal what the closest of the player's rules rejects
 * @param twin the conversion that would help, or why there is none
 */
export function formatRefused(entry: Planned, refusal: Refusal, twin: ItemPlan['twin']): Remark {
  const { format, kind, streams, path, durationSeconds } = entry.item;
  const words = { format, kind: oneOf(kind), kinds: manyOf(kind), refusal };
  const mend = { type: 'leaveOut' } as const;
  const recipe = typeof twin === 'string' ? null : twin;
  if (!recipe && !CONVERTED.has(refusal)) {
    const id = `format ${format} ${kind} ${refusal}`;
    return about(entry, id, 'formatRefused', 'blocks', path, words, mend);
  }
  const codec = refusal === 'codec' ? streams.map(({ codec: one }) => one ?? '').join(', ') : '';
  const seconds = durationSeconds ?? 0;
  const more = { codec, seconds: String(Math.round(seconds)) };
  if (!recipe) {
    const why = typeof twin === 'string' ? twin : '';
    return about(entry, `twin ${kind} ${why}`, 'needsTwin', 'warns', path, { ...words, ...more, why }, mend);
  }
  const made = { ...more, bytes: String(bytesMade(recipe, entry.item)), to: madeTo(recipe) };
  return about(
    entry,
    `twin ${kind}`,
    'needsTwin',
    'warns',
    path,
    { ...words, ...made },
    { type: 'makeTwins' },
  );
}

export const nameMended = (entry: Planned, path: string): Remark =>
  about(entry, 'mended', 'nameMended', 'note', path);

/** @param severity blocks for an item's own file, warns for a shared picture */
export function tooLong(
  entry: Planned,
  path: string,
  { code, length, limit, unit }: TooLong,
  severity: 'blocks' | 'warns',
): Remark {
  const words = { limit: String(limit), length: String(length), unit };
  return about(entry, `${code} ${severity}`, code, severity, path, words, {
    type: severity === 'blocks' ? SHORTENED[code] : 'describe',
  });
}

const SHORTENED = { nameTooLong: 'shorten', pathTooLong: 'describe', endingTooLong: 'leaveOut' } as const;

/** Its folder already has as many files as the player allows. */
export const folderFull = (entry: Planned, path: string, limit: number): Remark =>
  about(entry, 'folderFull', 'folderFull', 'blocks', path, { limit: String(limit) }, { type: 'leaveOut' });

/**
 * The player plays files in the order in which they were written, and files that belong after this one already exist.
 */
export const writtenLate = (entry: Planned, path: string): Remark =>
  about(entry, `late ${folderOf(path)}`, 'writtenLate', 'note', path, { folder: folderOf(path) });

/** Its name looks like that of another file in its folder, as far as the player displays names. */
export const shownAlike = (entry: Planned, path: string, letters: number): Remark =>
  about(entry, 'shownAlike', 'shownAlike', 'note', path, { letters: String(letters) });

/** An item that would have the same name as another. @param other the item that keeps the name */
export function sameName(entry: Planned, other: Planned, path: string): Remark {
  const marking = areEditions(entry.item, other.item) ? markingOf(entry.item, other.item) : null;
  return marking === null ? collision(entry, other, path) : twoEditions(entry, marking, 'blocks');
}

/** An item whose name differs from another one's only by its extension: the player shows both on one shelf. */
export function besideEdition(entry: Planned, other: Planned): readonly Remark[] {
  const marking = areEditions(entry.item, other.item) ? markingOf(entry.item, other.item) : null;
  return marking === null ? NONE : [twoEditions(entry, marking, 'warns')];
}

/** Two editions of one release have the same name: one of them has to be marked, with all its tracks. */
function twoEditions(entry: Planned, { item, other, mark }: Marking, severity: 'blocks' | 'warns'): Remark {
  const [home, otherHome] = [homeOf(item.path), homeOf(other.path)];
  const isTold = nameOf(home) !== nameOf(otherHome);
  const album = item.fields.album ?? '';
  const words = {
    album,
    mark,
    own: isTold ? nameOf(home) : home,
    other: isTold ? nameOf(otherHome) : otherHome,
    is: inAFewWords(item, false),
    otherIs: inAFewWords(other, false),
  };
  const id = `editions ${severity} ${foldCase(album)}\n${home}\n${mark}`;
  return about(entry, id, 'twoEditions', severity, entry.item.path, words, {
    type: 'edition',
    item: item.id,
    mark,
  });
}

function collision(entry: Planned, other: Planned, path: string): Remark {
  const rival = rivalOf(entry.item, other.item);
  const words = {
    path,
    own: entry.item.path,
    other: other.item.path,
    is: inAFewWords(entry.item),
    otherIs: inAFewWords(other.item),
    better: rival.better > 0 ? entry.item.path : other.item.path,
  };
  const id = `collision ${path.toLowerCase()}`;
  return about(entry, id, 'collision', 'blocks', entry.item.path, words, { type: 'part', rival });
}

/** Others have priority, and its copy does not fit beside them. */
export const noRoom = (entry: Planned, path: string): Remark =>
  about(entry, 'noRoom', 'noRoom', 'warns', path, {}, { type: 'leaveOut' });

/**
 * @param file the foreign file that is in the way
 * @param by when the other library that wrote it last ran, in milliseconds since 1970; null if none did
 */
export function occupied(
  entry: Planned,
  { path, size, digest }: ThereFile,
  severity: 'blocks' | 'warns',
  by: number | null,
): Remark {
  const file = { path, was: { size, digest } };
  const { id, words } = byOther(`occupied ${severity}`, by);
  return about(entry, id, 'occupied', severity, path, words, { type: 'replace', file });
}

/** Files written by another library have findings of their own. */
const byOther = (id: string, by: number | null): { readonly id: string; readonly words: Remark['words'] } =>
  by === null ? { id, words: {} } : { id: `${id} by another library ${by}`, words: { by: String(by) } };

/** A folder that is not empty occupies the path of a file of ours. */
export const folderThere = (entry: Planned, path: string, severity: 'blocks' | 'warns'): Remark =>
  about(entry, `folderThere ${severity}`, 'folderThere', severity, path, { path }, { type: 'leaveOut' });

/** The last run failed to write it. */
export const failedBefore = (entry: Planned, { path, code, detail }: FailedStep): Remark =>
  about(
    entry,
    `failedBefore ${code}`,
    'failedBefore',
    'warns',
    path,
    { code, detail, path },
    { type: 'leaveOut' },
  );

/** @param place the path that a foreign file gets by a rename that the curator asked for */
export const comingThere = (entry: Planned, place: string, severity: 'blocks' | 'warns'): Remark =>
  about(entry, `occupied ${severity} by a rename`, 'occupied', severity, place, {}, { type: 'leaveOut' });

const decide = (drift: Drift): Mend => ({
  type: 'decide',
  file: choiceOf(drift),
});

const isChangedHere = ({ id, known }: Planned, { placed }: Drift): boolean =>
  itemOf(placed?.owner) === id && placed?.signature !== known.signature;

/** Files restored from a backup have findings of their own. */
const ofDrift = (id: string, { by, past }: Drift) =>
  past === null ? byOther(id, by) : { id: `${id} back`, words: { past: String(past) } };

/** A file that a run wrote and that was changed on the player. */
export function changedThere(entry: Planned, drift: Drift, severity: 'blocks' | 'warns'): Remark {
  const { signature } = entry.known;
  const both =
    isChangedHere(entry, drift) && isConflict(drift, { signature, fields: entry.known.copyFields });
  const code = both && severity === 'blocks' ? 'changedBoth' : 'changedThere';
  const { id, words } = ofDrift(`${code} ${severity}`, drift);
  return about(entry, id, code, severity, drift.file?.path ?? '', words, decide(drift));
}

/** An item whose file was changed on the player waits for a decision. */
export function waits(entry: Planned, drift: Drift): Remark {
  if (drift.type === 'changed') return changedThere(entry, drift, 'blocks');
  const both = isChangedHere(entry, drift);
  const code = drift.type === 'moved' ? 'movedThere' : both ? 'removedBoth' : 'removedThere';
  const places = [drift.placed?.path ?? '', ...(drift.file ? [drift.file.path] : [])];
  const { id, words } = ofDrift(code, drift);
  return { ...about(entry, id, code, 'warns', '', words, decide(drift)), places };
}

const ofNobody = (code: FindingCode, places: readonly string[], mend: Mend): Remark => ({
  finding: code,
  code,
  severity: 'note',
  item: null,
  order: -1,
  places,
  words: {},
  mend,
});

/** What became of a file that nothing is wanted of any more, or that others added; null where nothing is to be said. */
export function drifted(drift: Drift): Remark | null {
  if (drift.type === 'removed' || !drift.file) return null;
  const code = drift.type === 'added' ? 'addedThere' : 'changedUnwanted';
  const { id, words } = ofDrift(code, drift);
  return { ...ofNobody(code, [drift.file.path], decide(drift)), finding: id, words };
}

/** It was removed there, and both sides agree on that. */
export const staysAway = (entry: Planned, { path }: PlacedFile): Remark =>
  about(
    entry,
    'staysAway',
    'staysAway',
    'note',
    path,
    {},
    {
      type: 'decide',
      file: { path, was: null },
      side: 'here',
    },
  );

/** It stays where the player has it, by agreement. */
export const keptThere = (entry: Planned, { path, size, digest }: PlacedFile): Remark =>
  about(
    entry,
    'keptThere',
    'keptThere',
    'note',
    path,
    {},
    {
      type: 'decide',
      file: { path, was: { size, digest } },
      side: 'here',
    },
  );

/** How an item differs from the release that it belongs to. */
export interface Apart {
  readonly entry: Planned;
  /** The edits that join it; null if no edit does, or if it is unclear which. */
  readonly edits: Edits | null;
  readonly fields: readonly FieldName[];
  readonly found: readonly string[];
  /** No edit reaches the player, because the item's format cannot store it. */
  readonly isStuck: boolean;
}

/** An item that splits a release. @param rest how many items stay together without it */
export function splitAlbum(
  album: string,
  { groups, rest }: { readonly groups: number; readonly rest: number },
  { entry, edits, fields, found, isStuck }: Apart,
  usual: readonly string[],
): Remark {
  const words = {
    album,
    kind: oneOf(entry.item.kind),
    kinds: manyOf(entry.item.kind),
    groups: String(groups),
    rest: String(rest),
    fields: fields.map((field) => requireField(field).label).join(', '),
    found: found.join(' / '),
    usual: usual.join(', '),
    ...(isStuck && { stuck: '1' }),
    ...(!edits && !isStuck && { open: '1' }),
  };
  const id = `split ${album} ${usual.join('|')}`;
  const mend = edits ? ({ type: 'edit', edits } as const) : isStuck ? null : ({ type: 'describe' } as const);
  return about(entry, id, 'splitAlbum', 'splits', entry.item.path, words, mend);
}

export const sidecarMismatch = (
  path: string,
  sidecar: string | null,
  renames: PlayerChoices['renames'],
): Remark => ({
  finding: `sidecar ${path}`,
  code: 'sidecarMismatch',
  severity: 'warns',
  item: null,
  order: -1,
  places: [path],
  words: { name: nameOf(path), folder: nameOf(folderOf(path)), sidecar: sidecar ?? '' },
  mend: renames.length > 0 ? { type: 'renames', renames } : null,
});

export function besideMismatch(entry: Planned, sidecar: string, path: string): Remark {
  const words = { sidecar: nameOf(sidecar), name: nameOf(path) };
  return about(entry, `beside ${entry.id}`, 'besideMismatch', 'note', entry.item.path, words);
}

export function cannotWrite(entry: Planned): Remark {
  const { item } = entry;
  const edited = isEdited(item);
  const words = { format: item.format, edited: edited ? 'yes' : '', locked: item.locked ?? '' };
  const id = `write ${item.format} ${edited} ${item.locked}`;
  return about(entry, id, 'cannotWrite', edited ? 'warns' : 'note', item.path, words);
}

/** @param version of its tag, which the player does not read */
export const tagVersion = (entry: Planned, version: string): Remark =>
  about(entry, `tags ${version}`, 'tagVersion', 'warns', entry.item.path, { version });

/** A part of the item's description that its format cannot store, or that readers would take for something else. */
export function cannotHold(entry: Planned, part: Unheld): Remark {
  const { format, path } = entry.item;
  return about(entry, `hold ${format} ${part}`, 'cannotHold', 'warns', path, { format, part });
}

/** @param of what the picture would be of */
export const noPicture = (entry: Planned, of: PictureRules['of'], folder: string): Remark =>
  about(entry, `noPicture ${of}`, 'noPicture', 'warns', folder, { of }, { type: 'describe' });

/**
 * One finding for each picture in each folder: its remedy makes one picture for all its items.
 * @param least the smallest side in pixels that the player asks for; null if the picture only has to be square
 */
export function pictureShape(
  entry: Planned,
  picture: FrontPicture,
  folder: string,
  least: number | null,
): Remark {
  const words = {
    shape: `${picture.width ?? '?'}×${picture.height ?? '?'}`,
    folder: nameOf(folder),
    least: least === null ? '' : String(least),
    kind: oneOf(entry.item.kind),
    kinds: manyOf(entry.item.kind),
  };
  const id = `pictureShape ${picture.key} ${folder}`;
  return about(entry, id, 'pictureShape', 'warns', folder, words, { type: 'squarePicture' });
}
