import { namesIn, parseQuery, sameName, type Query, type QueryProblem, type QueryWorld } from '../query';
import type { ListId, PlayList, RuleList } from './list';

/** What keeps a rule from being followed. */
export type RuleProblem =
  | { readonly type: 'query'; readonly problem: QueryProblem }
  /** It would contain itself, directly or through this list. */
  | { readonly type: 'holdsItself'; readonly by: string };

/** A parsed rule list: its query, and the lists that it refers to. */
export interface ReadRule {
  readonly list: RuleList;
  readonly query: Query;
  readonly problem: RuleProblem | null;
  /** Lists by id: the ones it refers to, or all hand lists and folder lists if it can match any. */
  readonly needs: ReadonlySet<ListId>;
  /** Names in the query whose answers do not come from the item itself. */
  readonly asks: ReadonlySet<string>;
}

const NOTHING: Query = { type: 'either', parts: [] };

/**
 * Parses rules, those that others need first. A rule with a wrong query, or one that would contain itself, matches
 * nothing and gives the reason.
 */
export function readRules(lists: readonly PlayList[], world: QueryWorld): readonly ReadRule[] {
  const rules = lists.filter((list) => list.type === 'rule');
  const fixed = lists.filter(({ type }) => type !== 'rule').map(({ id }) => id);
  const read = new Map(rules.map((list) => [list.id, readRule(list, lists, fixed, world)]));
  const names = new Map(lists.map(({ id, name }) => [id, name]));
  const ordered = new Map<ListId, ReadRule>();
  const visited = new Set<ListId>();
  const visit = (id: ListId): void => {
    const rule = read.get(id);
    if (!rule || visited.has(id)) return;
    visited.add(id);
    for (const need of rule.needs) visit(need);
    const by = [...rule.needs].find((need) => leadsTo(need, id, read));
    const problem: RuleProblem | null =
      by === undefined ? rule.problem : { type: 'holdsItself', by: names.get(by) ?? '' };
    ordered.set(id, problem ? { ...rule, query: NOTHING, problem } : rule);
  };
  for (const { id } of rules) visit(id);
  return [...ordered.values()];
}

/** Whether a list is another one or needs it, directly or through others. */
function leadsTo(from: ListId, to: ListId, rules: ReadonlyMap<ListId, ReadRule>): boolean {
  const seen = new Set<ListId>();
  const waiting = [from];
  for (let id = waiting.pop(); id !== undefined; id = waiting.pop()) {
    if (id === to) return true;
    if (seen.has(id)) continue;
    seen.add(id);
    waiting.push(...(rules.get(id)?.needs ?? []));
  }
  return false;
}

function readRule(
  list: RuleList,
  lists: readonly PlayList[],
  fixed: readonly ListId[],
  world: QueryWorld,
): ReadRule {
  const parsed = parseQuery(list.query, world);
  if (parsed.type === 'wrong') {
    const problem = { type: 'query', problem: parsed.problem } as const;
    return { list, query: NOTHING, problem, needs: new Set(), asks: new Set() };
  }
  const needs = new Set<ListId>();
  const asks = new Set<string>(list.order.type === 'terms' ? list.order.terms.map(({ by }) => by) : []);
  for (const { name, compare } of namesIn(parsed.query)) {
    asks.add(name.name);
    if (name.name !== 'list') continue;
    if (compare.type === 'is')
      for (const { id, name: own } of lists) if (sameName(own, compare.text)) needs.add(id);
    if (compare.type !== 'is') for (const id of fixed) needs.add(id);
  }
  return { list, query: parsed.query, problem: null, needs, asks };
}
