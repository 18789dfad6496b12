import type { Item } from '../items';

/** What is said of an item beside its file: by the curator, or by the way it came. */
export type Said = Pick<Item, 'settled' | 'edits' | 'gone' | 'identity' | 'gathering'>;
/** What an item is and its file says, with what was guessed from that: no edit changes it. */
export type Original = Omit<Item, keyof Said>;

const NOTHING: Said = { settled: null, edits: {}, gone: null, identity: null, gathering: null };

export function originalOf(item: Item): Original {
  const { settled: _, edits: __, gone: ___, identity: ____, gathering: _____, ...original } = item;
  return original;
}

/** What is said of an item; null where nothing is. */
export function saidOf({ settled, edits, gone, identity, gathering }: Item): Said | null {
  const says =
    settled !== null ||
    gone !== null ||
    identity !== null ||
    gathering !== null ||
    Object.keys(edits).length > 0;
  return says ? { settled, edits, gone, identity, gathering } : null;
}

/** Both together. What lies with the original, as earlier versions kept it, counts where nothing lies apart. */
export function joinKept(original: Original & Partial<Said>, said: Said | null): Item {
  return { ...NOTHING, ...original, ...said };
}

/** Whether an item that was kept holds what is said of it with itself, as earlier versions kept it. */
export const holdsSaid = (kept: object): boolean => 'edits' in kept;

/** Whether a change left what is kept of the original as it was. Items never change in place. */
export function sameOriginal(a: Item, b: Item): boolean {
  for (const name in a)
    if (!(name in NOTHING) && a[name as keyof Item] !== b[name as keyof Item]) return false;
  return true;
}

const SAID = Object.keys(NOTHING) as (keyof Said)[];

export function sameSaid(a: Item, b: Item): boolean {
  return SAID.every((name) => a[name] === b[name]);
}
