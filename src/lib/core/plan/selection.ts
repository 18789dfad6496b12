import { searchText, type ItemId } from '../items';
import { askedOf, queryOf, testOf, type Asking } from '../query';
import type { Kind } from '../kinds';
import type { ListId } from '../lists';
import type { PlanItem } from './outgoing/plan-item';

/** Which items a player is to have, of those that it takes. */
export interface Selection {
  /** Null for all kinds. */
  readonly kinds: readonly Kind[] | null;
  /** A query that an item is to meet; empty for no such condition. */
  readonly text: string;
  /** Single items that it is to have whatever else is said. Those that it is not to have are left out by choice. */
  readonly with: readonly ItemId[];
  /** It is to have these alone. */
  readonly only?: true;
  /** Lists that it gets, in their order. */
  readonly lists?: readonly ListId[];
  /** Of all that it may have, it is to have what is in its lists alone. */
  readonly onlyListed?: true;
  /** Its list whose items come first where room runs out. */
  readonly firstList?: ListId;
  /** Kinds that come first where room runs out, the most important one first; others come after them. */
  readonly order: readonly Kind[];
  /** What comes first within one kind where room runs out; in order of arrival unless told. */
  readonly first?: FirstOfKind;
}

/** What comes first within a kind: the highest rated, the latest by its date, or the smallest, so that more of them fit. */
export const FIRST_OF_KIND = ['rated', 'latest', 'smallest'] as const;
export type FirstOfKind = (typeof FIRST_OF_KIND)[number];

/** How much comes before an item of its kind: the lower, the sooner it is let in. */
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

/** Tells whether an item is selected, whatever form it has. @param listed items of the player's lists */
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
    // A kind that is open is asked about, whatever the player is to have.
    if (wanted && kind !== null && !wanted.has(kind)) return false;
    return meets(item);
  };
}

/** Tells whether an item is selected, as planning knows it. @param listed items of the player's lists */
export const selectionTest = (
  selection: Selection,
  listed: ReadonlySet<ItemId> = NOTHING,
): ((item: PlanItem) => boolean) => selectionTestBy(selection, ASKING, ({ kind }) => kind, listed);
const NOTHING: ReadonlySet<ItemId> = new Set();
