import { FORMAT_NAMES, codecName, requireField, type FormatId } from '$lib/core/items';
import { nameOf } from '$lib/core/paths';
import type { Finding, FindingCode, WayApart } from '$lib/core/plan';
import type { FailureCode } from '$lib/core/run';
import type { Unmakeable } from '$lib/core/twins';
import { bytes, counted } from './amounts';
import { failureWords } from './run-words';
import { MADE_LABELS, UNMAKEABLE } from './twin-words';

/** A finding as a curator reads it: what, why, and what its button says. */
export interface FindingWords {
  readonly what: string;
  readonly why: string;
  /** Null where there is nothing to press. */
  readonly remedy: string | null;
  /** What the other button says, where one of two sides is to be chosen: the first is the library's. */
  readonly other?: string;
  /** What a third button says, which removes the files of others that it is about. */
  readonly third?: string;
}

/** What a player's disk counts names in. */
const UNITS: Readonly<Record<string, string>> = { bytes: 'bytes', utf16: 'characters' };

type Words = Readonly<Record<string, string>>;
type Writer = (count: number, words: Words, player: string) => FindingWords;

const DAY = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', year: 'numeric' });
const dayOf = (time: string): string => DAY.format(Number(time));

/** @param by when another library that wrote there last ran, in milliseconds since 1970 */
const otherHand = (by: string | undefined): string =>
  by ? `the run of another library on ${dayOf(by)}` : 'another program';

/** @param past until when it lay there by our hand, in milliseconds since 1970 */
const cameBack = (past: string): string =>
  `the same as until ${dayOf(past)}, so probably restored from a backup`;

/** Why a list that was changed on a player is not merged. */
const LIST_WAITS: Readonly<Record<string, (conflicts: string) => string>> = {
  conflict: (count) =>
    `${counted(Number(count), 'entry was', 'entries were')} moved or removed on both sides in different ways`,
  byRule: () => 'entries were added there, but a rule fills this list',
  ofFolder: () => 'it mirrors a folder, so entries cannot be added or removed on a player',
  unreadable: () => 'its file there cannot be read as a list',
};

const items = (count: number) => counted(count, 'item');
const leaveOut = (count: number) => `Leave ${items(count)} out`;
const has = (count: number) => (count === 1 ? 'has' : 'have');

const formatName = (id: string | undefined) => FORMAT_NAMES[id as FormatId] ?? id ?? '';

const REFUSALS: Readonly<Record<string, string>> = {
  bytes: 'the file is too large',
  seconds: 'it is too long',
};

/** `5 FLAC, 2 Opus` from what a finding tells of formats. */
function formatList(told = ''): string {
  const all = told.split('|').map((one) => {
    const at = one.lastIndexOf(':');
    const [id, ...rest] = one.slice(0, at).split(' ');
    const format = formatName(id);
    const codecs = rest.join(' ').split(', ').map(codecName).join(' and ');
    return `${one.slice(at + 1)} ${format}${codecs === '' || codecs === format ? '' : ` with ${codecs}`}`;
  });
  return all.join(', ');
}

/** A stretch of time in words: 40 seconds, 12 minutes, 3 hours. */
function span(seconds: number): string {
  if (seconds < 90) return counted(seconds, 'second');
  if (seconds < 90 * 60) return counted(Math.round(seconds / 60), 'minute');
  return counted(Math.round(seconds / 3600), 'hour');
}

const UNHELD: Readonly<Record<string, string>> = {
  chapters: 'Chapters',
  chapterEnds: 'Ends of chapters',
  chapterLinks: 'Links of chapters',
  chapterPictures: 'Pictures of chapters',
  timed: 'Timed lyrics',
  tracks: 'Names and languages of tracks',
  subtitles: 'Subtitles of its file',
  pictures: 'Pictures beside the front',
};
/** What of an item a format cannot hold, as a sentence begins. */
export const unheldWords = (part: string): string => UNHELD[part] ?? `The ${labelOf(part)}`;
const labelOf = (part: string | undefined) => requireField(part ?? 'title').label;

const WRITE_REASONS: Readonly<Record<string, string>> = {
  fragmented: 'the file is fragmented, with no room for new tags',
  foreignTags: 'its tags use a scheme that cannot be written',
};

const WRITERS: Readonly<Record<FindingCode, Writer>> = {
  unknownItem: (count, { kind, kinds, fields }) => ({
    what: `${counted(count, kind ?? 'item', kinds)} not identified`,
    why: (fields ?? '')
      .split(', ')
      .map((field) => `no ${field}`)
      .join(', '),
    remedy: `Identify ${counted(count, kind ?? 'item', kinds)}`,
  }),
  missingField: (count, { fields, value, kind, kinds }) => ({
    what: `${counted(count, kind ?? 'item', kinds)} ${has(count)} no ${fields}`,
    why: value
      ? count === 1
        ? `the file name or its neighbours suggest: ${value}`
        : 'file names or neighbours suggest values; open the finding to see them'
      : 'nothing nearby suggests a value',
    remedy: value
      ? count === 1
        ? `Fill in ${fields}`
        : `Fill in ${counted(count, 'item')}`
      : (fields ?? '').includes(',')
        ? `Describe ${counted(count, 'item')}`
        : `Write the ${fields}`,
  }),
  needsTwin: (count, { kind, kinds, formats, seconds, bytes: size, to = '', why = '' }, player) => {
    const what = `${counted(count, kind ?? 'item', kinds)} ${count === 1 ? 'needs' : 'need'} a twin`;
    const refused = `${player} does not play ${formatList(formats)}`;
    if (to === '')
      return {
        what,
        why: [refused, ...(why in UNMAKEABLE ? [UNMAKEABLE[why as Unmakeable]] : [])].join('; '),
        remedy: leaveOut(count),
      };
    const made = to
      .split('|')
      .map((made) => MADE_LABELS[made] ?? made)
      .join(' and ');
    return {
      what,
      why: `${refused}; ${span(Number(seconds))} to convert to ${made}, about ${bytes(Number(size))}`,
      remedy: `Make ${counted(count, 'twin')}`,
    };
  },
  noRoom: (count, _words, player) => ({
    what: `No room for ${items(count)}`,
    why: `items with higher priority fill ${player}; set the order on its card`,
    remedy: leaveOut(count),
  }),
  oddValue: (count, { field, value }) => ({
    what: `${items(count)} with an odd ${field}`,
    why: count === 1 ? `it is ${value}` : `the last of them is ${value}`,
    remedy: `Check the ${field}`,
  }),
  kindOpen: (count) => ({
    what: `${items(count)} without a kind`,
    why: 'the evidence is balanced; not copied until you choose a kind',
    remedy: `Choose the kind`,
  }),
  kindGuess: (count, { kind }) => ({
    what: `${items(count)} only guessed to be ${kind}`,
    why: 'the plan uses the guess',
    remedy: `Confirm ${items(count)}`,
  }),
  noSection: (count, { kind, shaky }, player) => ({
    what: `${player} has no folder for ${kind}`,
    why: `${items(count)} stay${count === 1 ? 's' : ''} here${shaky ? ', and the kind is only guessed' : ''}`,
    remedy: shaky ? 'Look at the kind' : null,
  }),
  formatRefused: (count, { format, kind, refusal }, player) => ({
    what: `${player} does not accept ${count === 1 ? 'this' : 'these'} ${formatName(format)} as ${kind}`,
    why: `${REFUSALS[refusal ?? ''] ?? ''}; ${items(count)} will not be copied`,
    remedy: leaveOut(count),
  }),
  nameMended: (count) => ({
    what: `${counted(count, 'name')} adjusted by rule`,
    why: 'characters that the player’s disk does not allow are replaced',
    remedy: null,
  }),
  nameTooLong: (count, { limit, length, unit }, player) => ({
    what: `${counted(count, 'name')} longer than ${limit} ${UNITS[unit ?? 'bytes']}`,
    why: `the longest has ${length}; ${player} could not open ${count === 1 ? 'it' : 'them'}`,
    remedy: `Shorten ${counted(count, 'name')}`,
  }),
  pathTooLong: (count, { limit, length, unit }) => ({
    what: `${counted(count, 'path')} longer than ${limit} ${UNITS[unit ?? 'bytes']}`,
    why: `the longest has ${length}; shorten album or artist`,
    remedy: 'Show the longest paths',
  }),
  endingTooLong: (count, { limit, unit }, player) => ({
    what: `${counted(count, 'name')} with an ending longer than ${limit} ${UNITS[unit ?? 'bytes']}`,
    why: `${player} could not open ${count === 1 ? 'it' : 'them'}`,
    remedy: leaveOut(count),
  }),
  folderFull: (count, { limit }, player) => ({
    what: `${items(count)} ${count === 1 ? 'does not fit in its folder' : 'do not fit in their folders'}`,
    why: `${player} allows ${limit} files in a folder; the first ones are copied`,
    remedy: leaveOut(count),
  }),
  writtenLate: (count, { folder }, player) => ({
    what: `${items(count)} will play last in ${folder}`,
    why: `${player} plays files in the order they were written. To rewrite the folder in order, leave its items out for one run, then include them again`,
    remedy: null,
  }),
  shownAlike: (count, { letters }, player) => ({
    what: `${counted(count, 'name')} ${count === 1 ? 'looks like another one' : 'look like others'} on ${player}`,
    why: `it shows only the first ${letters} letters of a name, and other names in the folder begin the same way`,
    remedy: null,
  }),
  twoEditions: (count, { album, mark, own, other, is, otherIs }) => ({
    what: `Two editions of ${album}: ${counted(count, 'title')} would be listed twice`,
    why:
      is === otherIs
        ? `from ${other} and from ${own}, both ${is}`
        : `from ${other}, ${otherIs}, and from ${own}, ${is}`,
    remedy: `Mark the second [${mark}]`,
  }),
  collision: (count, { path, own, other, is, otherIs }) => ({
    what: `${count + 1} files would all be called ${path}`,
    why:
      is === otherIs
        ? `from ${other} and ${own}, both ${is}`
        : `from ${other}, ${otherIs}, and from ${own}, ${is}`,
    remedy: null,
  }),
  occupied: (count, { by }, player) => ({
    what: `${counted(count, 'place')} occupied by files of ${by ? 'another library' : `${player}’s own`}`,
    why: `${by ? `its run of ${dayOf(by)} put` : 'no run of ours put'} them there; the replaced file is kept until you accept the run`,
    remedy: `Replace ${counted(count, 'file')}`,
  }),
  folderThere: (count, { path }, player) => ({
    what: `${counted(count, 'folder')} of ${player}’s own ${count === 1 ? 'is' : 'are'} in the way of a file`,
    why:
      count === 1
        ? `${path} is not empty; move or rename it, or leave the item out`
        : 'they are not empty; move or rename them, or leave the items out',
    remedy: leaveOut(count),
  }),
  failedBefore: (count, { code, detail, path }, player) => {
    const { why, remedy } = failureWords(code as FailureCode, detail ?? '');
    return {
      what: `${counted(count, 'file')} could not be written to ${player} by the last run`,
      why: count === 1 ? `${path}: ${why}; ${remedy}` : `${why}; ${remedy}`,
      remedy: leaveOut(count),
    };
  },
  changedThere: (count, { by, past }, player) => ({
    what: past
      ? `${counted(count, 'file')} on ${player} ${count === 1 ? 'is' : 'are'} what our runs left earlier`
      : `${counted(count, 'file')} changed on ${player} since our run`,
    why: `${past ? cameBack(past) : `${otherHand(by)} wrote there`}; the replaced file is kept until you accept the run`,
    remedy: `Replace ${counted(count, 'file')}`,
    other: `Take ${player}’s`,
  }),
  listChanged: (_, { list = '', why = '', conflicts = '' }, player) => ({
    what: `The list ${list} was changed on ${player}`,
    why: LIST_WAITS[why]?.(conflicts) ?? 'you decide which version is kept',
    remedy: 'Keep ours',
    other: `Take ${player}’s`,
  }),
  listRemoved: (_, { list = '' }, player) => ({
    what: `The list ${list} was removed on ${player}`,
    why: 'Copy it back, or leave it off this player. The list itself stays in the library.',
    remedy: 'Copy it back',
    other: 'Leave it off',
  }),
  listAway: (_, { list = '' }, player) => ({
    what: `The list ${list} stays off ${player}`,
    why: 'its file was removed there, and you accepted that',
    remedy: 'Copy it back',
  }),
  listOccupied: (_, { list = '' }, player) => ({
    what: `The list ${list} cannot be written on ${player}`,
    why: 'another file stands in its place; the replaced file is kept until you accept the run',
    remedy: 'Replace the file',
  }),
  listTooLong: (_, { list = '', length = '', limit = '', unit = '' }) => ({
    what: `The name of the list ${list} is too long`,
    why: `its path has ${length} ${UNITS[unit] ?? unit}, and the player takes ${limit}. Rename the list.`,
    remedy: null,
  }),
  changedBoth: (count, { by, past }, player) => ({
    what: `${counted(count, 'file')} changed here and on ${player}`,
    why: `${past ? `${cameBack(past)}; ` : by ? `${otherHand(by)} wrote there; ` : ''}only one version can be kept; the replaced file is kept until you accept the run`,
    remedy: count === 1 ? 'Keep ours' : `Keep ours, all ${count}`,
    other: `Keep ${player}’s`,
  }),
  removedThere: (count, { past }, player) => ({
    what: `${items(count)} removed on ${player} since our run`,
    why: `${past ? `other files are ${cameBack(past)}; ` : ''}${count === 1 ? 'it waits' : 'they wait'} for your decision`,
    remedy: `Copy ${items(count)} back`,
    other: 'Leave as it is',
  }),
  removedBoth: (count, _words, player) => ({
    what: `${items(count)} changed here and removed on ${player}`,
    why: `${count === 1 ? 'it waits' : 'they wait'} for your decision`,
    remedy: `Copy ${items(count)} back`,
    other: 'Leave as it is',
  }),
  movedThere: (count, _words, player) => ({
    what: `${items(count)} moved or renamed on ${player}`,
    why: 'recognised by content: the bytes are those of our last run',
    remedy: `Move ${items(count)} back`,
    other: 'Leave as it is',
  }),
  changedUnwanted: (count, { by, past }, player) => ({
    what: `${counted(count, 'file')} of ours changed on ${player}, and no longer wanted there`,
    why: `${past ? cameBack(past) : `${otherHand(by)} wrote there`}, so it stays`,
    remedy: `Remove ${counted(count, 'file')}`,
    other: `Let ${player} keep it`,
  }),
  addedThere: (count, { by, past }, player) => ({
    what: past
      ? `${counted(count, 'file')} on ${player} that earlier runs replaced or removed`
      : `${counted(count, 'file')} of ${by ? 'another library' : `${player}’s own`}`,
    why: `${
      past ? cameBack(past) : `${by ? `its run of ${dayOf(by)}` : 'no run of ours'} put them there`
    }; they stay as they are, unless you add them to the library or remove them`,
    remedy: 'Leave as it is',
    other: count === 1 ? 'Add it to the library' : `Add ${count} to the library`,
    third: `Remove ${count === 1 ? 'it' : `all ${count}`} from ${player}`,
  }),
  keptThere: (count, _words, player) => ({
    what: `${items(count)} ${count === 1 ? 'lies' : 'lie'} where ${player} has ${count === 1 ? 'it' : 'them'}`,
    why: 'moved or added there, and accepted; its rulebook would use another name',
    remedy: 'Rename by the rulebook',
  }),
  staysAway: (count, _words, player) => ({
    what: `${items(count)} ${count === 1 ? 'stays' : 'stay'} off ${player}`,
    why: 'removed there, and accepted',
    remedy: `Copy ${items(count)} back`,
  }),
  splitAlbum: (count, { album, groups, fields, found, usual, stuck, open, kind, kinds }) => {
    const toDescribe = Number(open ?? 0);
    const mendable = count - Number(stuck ?? 0) - toDescribe;
    const bound = stuck
      ? `; tags of ${stuck} cannot be written, so ${stuck === '1' ? 'it stays' : 'they stay'} on another shelf`
      : '';
    return {
      what: `${album} would be split over ${groups} shelves`,
      why: `${counted(count, kind ?? 'item', kinds)} with a different ${(fields ?? '').split(', ').join(' or ')} (${found}); the others have ${usual}${bound}`,
      remedy:
        mendable > 0
          ? `Join ${counted(mendable, kind ?? 'item', kinds)}`
          : toDescribe > 0
            ? `Describe ${counted(toDescribe, kind ?? 'item', kinds)}`
            : null,
    };
  },
  sidecarMismatch: (_count, { name, folder, sidecar }, player) => ({
    what: `${player} does not read ${name}`,
    why: sidecar
      ? `folder ${folder}, video and sidecar ${sidecar} differ in name`
      : `folder ${folder} has no sidecar named after the video`,
    remedy: sidecar ? 'Match the names' : null,
  }),
  besideMismatch: (_count, { sidecar, name }) => ({
    what: `The sidecar ${sidecar} matches no video`,
    why: `a new one is written, named after ${name}`,
    remedy: null,
  }),
  cannotWrite: (count, { format, edited, locked }) => ({
    what: `${counted(count, `${formatName(format)} file`)} copied without new tags`,
    why: `${WRITE_REASONS[locked ?? ''] ?? 'tags of this format cannot be written yet'}${
      edited ? ': the player will show the old ones' : '; nothing was changed'
    }`,
    remedy: null,
  }),
  cannotHold: (count, { format, part }) => ({
    what: `${unheldWords(part ?? '')} of ${items(count)} will not be written`,
    why: `${formatName(format)} cannot store ${part === 'chapters' ? 'that many, or such long ones' : 'this value'}; ${count === 1 ? 'its copy keeps' : 'copies keep'} what the file has`,
    remedy: null,
  }),
  tagVersion: (count, { version }, player) => ({
    what: `${player} does not read ${version ?? ''}`,
    why: `tags of ${items(count)} stay in that version; the player may show file names instead`,
    remedy: null,
  }),
  noPicture: (count, { of }) => ({
    what: `${items(count)} without a picture${of === 'topFolder' ? ' for their top folder' : ''}`,
    why:
      of === 'topFolder'
        ? 'none of its files has one; choose one on the card'
        : 'no file in the folder has one',
    remedy: of === 'topFolder' ? null : 'Set a picture',
  }),
  pictureShape: (count, { shape, least, folder, kind, kinds }) => ({
    what: `Picture of ${shape} pixels in ${folder}, for ${counted(count, kind ?? 'song', kinds)}`,
    why: least
      ? `the player wants it square, ${least} pixels or more`
      : 'podcasts are shown with square pictures',
    remedy: 'Make it square',
  }),
};

/** The sentence for a finding. */
export function findingWords(finding: Pick<Finding, 'code' | 'words'>, player: string): FindingWords {
  return WRITERS[finding.code](Number(finding.words.count), finding.words, player);
}

/** What the buttons say that tell items of one name apart. */
export function wayWords(way: WayApart, { mark, better }: Words): string {
  switch (way) {
    case 'mark':
      return `Add ${mark} to the ${mark?.includes('], [') ? 'names' : 'name'}`;
    case 'number':
      return 'Number the files';
    case 'better':
      return `Only ${nameOf(better ?? '')}`;
  }
}
