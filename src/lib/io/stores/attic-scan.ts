import { array, mixed, number, object, string, type InferType } from 'yup';
import { KINDS, type Kind } from '$lib/core/kinds';
import type { PlayerScan, ShownNode } from '$lib/core/plan';

const text = () => string().defined().nullable();
const count = () => number().defined().nullable();

/** What Attic's own scan answers. Checked here, since it comes from outside. */
const scanSchema = object({
  shelves: array(
    object({
      kind: mixed<Kind>()
        .oneOf([...KINDS])
        .required(),
      title: text(),
      maker: text(),
      year: count(),
      picture: text(),
      items: array(
        object({
          path: string().required(),
          title: string().defined(),
          artist: text(),
          track: count(),
          disc: count(),
        }),
      ).required(),
    }),
  ).required(),
  unplaced: array(object({ path: string().required(), reason: string().required() })).required(),
}).required();

/**
 * Attic's shelves as what any player shows.
 * @throws {ValidationError} when the answer is none of Attic's
 */
export function readAtticScan(answer: unknown): PlayerScan {
  const { shelves, unplaced } = scanSchema.validateSync(answer, { strict: true });
  return { nodes: shelves.map(toNode), unplaced };
}

function toNode(
  { kind, items, ...facts }: InferType<typeof scanSchema>['shelves'][number],
  index: number,
): ShownNode {
  const leaf = ({ path, ...own }: (typeof items)[number]): ShownNode => ({
    key: path,
    kind,
    facts: own,
    path,
    item: null,
    nodes: [],
  });
  return { key: String(index), kind, facts, path: null, item: null, nodes: items.map(leaf) };
}
