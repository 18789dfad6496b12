import { array, lazy, mixed, number, object, string, type Schema } from 'yup';
import { KINDS, type Kind } from '$lib/core/kinds';
import { FACTS, type PlayerScan, type ShownFacts, type ShownNode } from '$lib/core/plan';

/** A node as a device tells of it. */
interface ToldNode {
  readonly kind: Kind;
  readonly facts: ShownFacts;
  readonly path: string | null;
  readonly nodes: readonly ToldNode[];
}

const text = string().nullable().defined();
const fact = lazy((value) => (typeof value === 'number' ? number().defined() : text));
const facts = object(Object.fromEntries(FACTS.map((name) => [name, fact.optional()]))).noUnknown();

/** Shelves within shelves that are believed: a device that tells of more tells nonsense. */
const MOST_LEVELS = 8;

const nodes = (level: number): Schema =>
  array(
    object({
      kind: mixed<Kind>()
        .oneOf([...KINDS])
        .required(),
      facts: facts.required(),
      path: text,
      nodes: lazy(() => (level < MOST_LEVELS ? nodes(level + 1) : array().max(0).required())),
    }),
  ).required();

/** What a device's own scan answers. Checked here, since it comes from outside. */
const scanSchema = object({
  nodes: nodes(0),
  unplaced: array(object({ path: string().required(), reason: string().required() })).required(),
  lists: array(
    object({
      path: string().required(),
      name: string().defined(),
      entries: array(string().required()).required(),
    }),
  ).required(),
}).required();

/**
 * A device's shelves as what any player shows.
 * @throws {ValidationError} when the answer is none of a device's
 */
export function readDeviceScan(answer: unknown): PlayerScan {
  const scan = scanSchema.validateSync(answer, { strict: true }) as {
    readonly nodes: readonly ToldNode[];
    readonly unplaced: PlayerScan['unplaced'];
    readonly lists: PlayerScan['lists'];
  };
  const { nodes: told, unplaced, lists } = scan;
  return { nodes: told.map((node, index) => toNode(node, String(index))), unplaced, lists };
}

const toNode = ({ path, kind, facts: told, nodes: inner }: ToldNode, key: string): ShownNode => ({
  key: path ?? key,
  kind,
  facts: told,
  path,
  item: null,
  nodes: inner.map((node, index) => toNode(node, `${key}.${index}`)),
});
