import {
  FIELDS,
  editContent,
  fieldText,
  fieldsOf,
  parseFieldText,
  requireField,
  sameValue,
  toTexts,
  type ChosenPicture,
  type Edits,
  type FieldName,
  type FieldValue,
  type Item,
} from '../items';
import { inLetterCase, type LetterCase } from './letter-case';
import { presetWriter, type Preset } from './preset';
import { replacer, type Replacing } from './replace';

export { presetProblem } from './preset';
export type { Preset, PresetId } from './preset';
export { LETTER_CASES } from './letter-case';
export type { LetterCase } from './letter-case';

/** One change of many items at once. */
export type RewriteRule =
  | { readonly type: 'case'; readonly fields: readonly FieldName[]; readonly as: LetterCase }
  | ({ readonly type: 'replace'; readonly fields: readonly FieldName[] } & Replacing)
  /** Numbers them in their order. */
  | {
      readonly type: 'number';
      readonly field: 'track' | 'episode' | 'disc' | 'part';
      readonly first: number;
      /** Tells how many there are as well, where there is a field for it. */
      readonly totals: boolean;
    }
  | { readonly type: 'preset'; readonly preset: Preset }
  /** Says of all what one says. */
  | { readonly type: 'copy'; readonly fields: readonly FieldName[]; readonly from: Item };

/** Fields whose texts can be written in another letter case and looked through. */
export const TEXT_FIELDS: readonly FieldName[] = FIELDS.filter(({ type }) =>
  ['text', 'texts', 'lines'].includes(type),
).map(({ name }) => name);

const TOTALS = { track: 'tracks', disc: 'discs' } as const;

/** What an item is to become, and what cannot be. */
export interface Rewritten {
  readonly item: Item;
  /** Only what is another value than it was; empty where nothing is. */
  readonly edits: Edits;
  /** The front picture that it gets; null where that stays. */
  readonly picture: ChosenPicture | null;
  /** Why a value would not be taken; null where all are. */
  readonly wrong: string | null;
}

/** Items looked at before others get their turn. */
const AT_ONCE = 500;

/** What one change makes of some items, in their order. Nothing is changed yet. Each step is short. */
export function* rewriteSteps(
  items: readonly Item[],
  rewrite: RewriteRule,
): Generator<void, readonly Rewritten[]> {
  const valuesFor = valuesOf(rewrite, items.length);
  const all: Rewritten[] = [];
  for (const [index, item] of items.entries()) {
    all.push(rewritten(item, valuesFor(item, index), pictureFor(item, rewrite)));
    if (index % AT_ONCE === AT_ONCE - 1) yield;
  }
  return all;
}

function rewritten(item: Item, values: ReturnType<ValuesFor>, picture: ChosenPicture | null): Rewritten {
  const before = fieldsOf(item);
  const edits: Partial<Record<FieldName, FieldValue>> = {};
  let wrong: string | null = null;
  for (const [name, value] of values) {
    if (sameValue(before[name], value)) continue;
    // What is typed meets the same rules.
    const parsed = parseFieldText(name, fieldText(value));
    if (parsed.type === 'wrong') wrong ??= `${requireField(name).label} ${parsed.reason}`;
    else if (!sameValue(before[name], parsed.value)) edits[name] = parsed.value;
  }
  return { item, edits: edits as Edits, picture, wrong };
}

/** Whether anything of an item becomes another one. */
export const isChanged = ({ edits, picture }: Rewritten): boolean =>
  picture !== null || Object.keys(edits).length > 0;

/** The item as it becomes. */
export const changed = ({ item, edits, picture }: Rewritten): Item =>
  editContent(item, { fields: edits, ...(picture && { pictures: { front: picture } }) });

function pictureFor({ edits }: Item, rewrite: RewriteRule): ChosenPicture | null {
  const picture = rewrite.type === 'preset' ? rewrite.preset.picture : null;
  return picture && edits.pictures?.front?.id !== picture.id ? picture : null;
}

type ValuesFor = (item: Item, index: number) => Iterable<readonly [FieldName, FieldValue]>;

function valuesOf(rewrite: RewriteRule, count: number): ValuesFor {
  switch (rewrite.type) {
    case 'case':
      return mapping(rewrite.fields, (text) => inLetterCase(text, rewrite.as));
    case 'replace':
      return mapping(rewrite.fields, replacer(rewrite));
    case 'number': {
      const { field, first, totals } = rewrite;
      const total = totals && field in TOTALS ? TOTALS[field as keyof typeof TOTALS] : null;
      return (_, index) => [[field, first + index], ...(total ? [[total, first + count - 1] as const] : [])];
    }
    case 'preset':
      return presetWriter(rewrite.preset);
    case 'copy': {
      const from = fieldsOf(rewrite.from);
      return () => rewrite.fields.map((name) => [name, from[name]]);
    }
  }
}

/** The texts of some fields, each by itself. */
function mapping(fields: readonly FieldName[], change: (text: string) => string): ValuesFor {
  return (item) => {
    const before = fieldsOf(item);
    return fields.flatMap((name): (readonly [FieldName, FieldValue])[] => {
      const value = before[name];
      if (typeof value === 'string') return [[name, change(value)]];
      return typeof value === 'object' && value !== null ? [[name, toTexts(value.map(change))]] : [];
    });
  };
}
export { ALL_TRACKS, ruledTracks } from './track-rule';
export type { TrackRule } from './track-rule';
