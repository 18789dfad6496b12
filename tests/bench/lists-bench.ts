import { ASKING } from '../../src/lib/core/browse';
import { editItem, type Item, type ItemId } from '../../src/lib/core/items';
import {
  LiveLists,
  moveTo,
  newHandList,
  newRuleList,
  putIn,
  type HandList,
  type ListId,
  type RuleList,
} from '../../src/lib/core/lists';
import { handRows } from '../../src/lib/state/lists/list-rows';
import { makeLibrary } from './plan-bench';

type Own = Item & { readonly isGone: boolean };
const LISTS = 200;
const EDITS = 60;

/** 200 rule lists over a made library of 100,000 items, and a list by hand of 20,000 entries. */
export function benchLists(): {
  /** All lists made, once. */
  makeMs: number;
  /** All of them brought up to one edit, with what each comes to: usually, and at worst. */
  editMs: number;
  worstEditMs: number;
  /** One entry of the long list moved from its end to its middle, with the rows that are drawn. */
  moveMs: number;
} {
  const items = makeLibrary(100_000).map((item): Own => ({ ...item, isGone: false }));
  const live = new LiveLists<Own>(ASKING);
  live.change(items, []);
  const start = performance.now();
  live.know({ lists: rules(), arrivals: [], players: [], now: Date.now() });
  live.digests();
  const makeMs = performance.now() - start;

  const edits = Array.from({ length: EDITS }, (_, index) => {
    const item = items[index * 1500] as Own;
    const title = `Another ${index}`;
    const before = performance.now();
    live.change([{ ...editItem(item, { title, date: '1999' }), isGone: false }], []);
    live.know({ now: Date.now() });
    live.digests();
    return performance.now() - before;
  }).sort((a, b) => a - b);

  const byId = new Map<ItemId, Item>(items.map((item) => [item.id, item]));
  const long: HandList = putIn(
    newHandList('long' as ListId, 'Long'),
    items.slice(0, 20_000).map(({ id }) => id),
    null,
  ).list;
  const moves = Array.from({ length: 15 }, () => {
    const before = performance.now();
    const { list } = moveTo(long, new Set([19_999]), 10_000);
    handRows(list, (id) => byId.get(id) ?? null, null);
    return performance.now() - before;
  }).sort((a, b) => a - b);
  return {
    makeMs,
    editMs: edits[EDITS / 2] as number,
    worstEditMs: edits.at(-1) as number,
    moveMs: moves[7] as number,
  };
}

/** Of every sort: by field, by words, by size; sorted and shuffled; with and without a limit; one that asks for another. */
function rules(): readonly RuleList[] {
  return Array.from({ length: LISTS }, (_, index): RuleList => {
    const decade = 1960 + (Math.floor(index / 6) % 6) * 10;
    const queries = [
      `date from ${decade} to ${decade + 9} and ${index % 10}`,
      `artist is "Artist ${index}"`,
      `title ends ${index}`,
      `${index} and genre is folk and track under 4`,
      index % 30 === 4 ? 'kind is song' : `album has ${index}`,
      index > 10 ? 'in list "List 1" and no composer' : 'album has 7',
    ];
    return {
      ...newRuleList(`list-${index}` as ListId, `List ${index}`),
      query: queries[index % queries.length] as string,
      order:
        index % 3 === 0
          ? { type: 'shuffled', seed: index }
          : { type: 'terms', terms: [{ by: index % 3 === 1 ? 'title' : 'date', down: index % 2 === 0 }] },
      limit: index % 2 === 0 ? { by: 'items', most: 500 } : null,
    };
  });
}
