import { searchText, type ItemId } from '../items';
import { askedOf, queryOf, testOf, type Asking } from '../query';
import type { Kind } from '../kinds';
import type { ListId } from '../lists';
import type { PlanItem } from './outgoing/plan-item';

/** Which items a player gets, among those that it can take. */
export interface Selection {
  /** Null for all kinds. */
  readonly kinds: readonly Kind[] | null;
  /** A query that items must match; empty for no such condition. */
  readonly text: string;
  /** Items that it gets in any case. Those that it never gets are left out by choice. */
  readonly with: readonly ItemId[];
  /** It gets only these items. */
  readonly only?: true;
  /** Its lists, in their order. */
  readonly lists?: readonly ListId[];
  /** It gets only items that are in its lists. */
  readonly onlyListed?: true;
  /** The list whose items have priority when space runs out. */
  readonly firstList?: ListId;
  /** Kinds by priority when space runs out. Kinds that are not named come last. */
  readonly order: readonly Kind[];
  /** The priority within a kind when space runs out; by arrival if absent. */
  readonly first?: FirstOfKind;
}

/** Priority within a kind: highest rating, latest date, or smallest file, so that more of them fit. */
export const FIRST_OF_KIND = ['rated', 'latest', 'smallest'] as const;
export type FirstOfKind = (typeof FIRST_OF_KIND)[number];

/** The rank of an item within its kind: the lowest is added first. */
export function turnOf({ fields, size }: PlanItem, first: FirstOfKind | undefined): number {
  switch (first) {
    case 'rated':
      return -(fields.rating ?? 0);
    case 'latest':
      return -Number((fields.date ?? '').replaceAll('-', '').padEnd(8, '0').slice(0, 8) || 0);
    case 'smallest':
      return size;
    default:
      return 0;
  }
}

export const SELECT_ALL: Selection = { kinds: null, text: '', with: [], order: [] };

const ASKING: Asking<PlanItem> = {
  asked: askedOf,
  text: ({ fields, path }) => searchText(fields, path),
};

/** Tells whether an item is selected, for any representation of items. @param listed items of the player's lists */
export function selectionTestBy<T extends { readonly id: ItemId }>(
  { kinds, text, with: single, only, onlyListed }: Selection,
  asking: Asking<T>,
  kindOf: (item: T) => Kind | null,
  listed: ReadonlySet<ItemId>,
): (item: T) => boolean {
  const own = new Set(single);
  if (only) return ({ id }) => own.has(id);
  const wanted = kinds && new Set(kinds);
  if (!wanted && !onlyListed && text.trim() === '') return () => true;
  const meets = testOf(queryOf(text), asking);
  return (item) => {
    if (own.has(item.id)) return true;
    if (onlyListed && !listed.has(item.id)) return false;
    const kind = kindOf(item);
    // An item without a kind needs a decision, whatever the selection is.
    if (wanted && kind !== null && !wanted.has(kind)) return false;
    return meets(item);
  };
}

/**
 * Tells whether an item is selected, for items as planning represents them.
 * @param listed items of the player's lists
 */
export const selectionTest = (
  selection: Selection,
  listed: ReadonlySet<ItemId> = NOTHING,
): ((item: PlanItem) => boolean) => selectionTestBy(selection, ASKING, ({ kind }) => kind, listed);
const NOTHING: ReadonlySet<ItemId> = new Set();
