import { parseQuery, sameName, type Query, type QueryProblem, type QueryWorld } from '../query';
import type { ListId, PlayList, RuleList } from './list';

/** What keeps a rule from being followed. */
export type RuleProblem =
  | { readonly type: 'query'; readonly problem: QueryProblem }
  /** It would hold itself, by way of this list or at once. */
  | { readonly type: 'holdsItself'; readonly by: string };

/** A rule list as it is read: what it asks, and which lists it asks about. */
export interface ReadRule {
  readonly list: RuleList;
  readonly query: Query;
  readonly problem: RuleProblem | null;
  /** Lists by their ids; those by hand and of folders where it asks about any. */
  readonly needs: ReadonlySet<ListId>;
  /** Names of what it asks that no item says of itself. */
  readonly asks: ReadonlySet<string>;
}

const NOTHING: Query = { type: 'either', parts: [] };

/**
 * Reads rules, those that others need before them. One whose query is wrong, or that would hold itself, holds nothing and
 * says why.
 */
export function readRules(lists: readonly PlayList[], world: QueryWorld): readonly ReadRule[] {
  const rules = lists.filter((list) => list.type === 'rule');
  const fixed = lists.filter(({ type }) => type !== 'rule').map(({ id }) => id);
  const read = new Map(rules.map((list) => [list.id, readRule(list, lists, fixed, world)]));
  const done = new Map<ListId, ReadRule>();
  const visit = (id: ListId, above: readonly ListId[]): RuleProblem | null => {
    const rule = read.get(id);
    if (!rule) return null;
    const known = done.get(id);
    if (known) return known.problem?.type === 'holdsItself' ? known.problem : null;
    const at = above.indexOf(id);
    if (at >= 0) {
      const by = above[at + 1] ?? id;
      return { type: 'holdsItself', by: lists.find((list) => list.id === by)?.name ?? '' };
    }
    let { problem } = rule;
    for (const need of rule.needs) problem ??= visit(need, [...above, id]);
    done.set(id, problem ? { ...rule, query: NOTHING, problem } : rule);
    return problem;
  };
  for (const { id } of rules) visit(id, []);
  return [...done.values()];
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

function* namesIn(query: Query): Generator<Extract<Query, { type: 'name' }>> {
  if (query.type === 'all' || query.type === 'either') for (const part of query.parts) yield* namesIn(part);
  else if (query.type === 'not') yield* namesIn(query.part);
  else if (query.type === 'name') yield query;
}
