import {
  FIELD_NAMES,
  fieldsOf,
  isLossless,
  type FieldName,
  valueKey,
  type Item,
  type ItemId,
} from '../items';
import { findAlikeSounds, parseFingerprint } from '../sound';

/** The result of checking one file. */
export interface Checked {
  /** Bytes and time of change of the file that was checked: another file needs another check. */
  readonly size: number;
  readonly modified: number;
  /** `whole`: all of it decodes; `part`: up to a place; `no`: the browser cannot decode it at all. */
  readonly decodes: 'whole' | 'part' | 'no';
  /** Why not, in the decoder's words; null when all is well. */
  readonly reason: string | null;
  readonly decodedSeconds: number | null;
  /** Digest of audio and video data without tags; null if the structure could not be read. */
  readonly digest: string | null;
  readonly fingerprint: string | null;
  /** Share of the sound that is spoken, 0 to 1. */
  readonly speech: number | null;
}

export type CheckFinding =
  | { readonly type: 'cannotPlay'; readonly item: ItemId; readonly reason: string }
  | {
      readonly type: 'breaksOff';
      readonly item: ItemId;
      readonly decodedSeconds: number;
      readonly saidSeconds: number | null;
    }
  | {
      readonly type: 'lengthDiffers';
      readonly item: ItemId;
      readonly decodedSeconds: number;
      readonly saidSeconds: number;
    }
  /** The same data under several names, or several versions of one recording. */
  | {
      readonly type: 'doubles';
      readonly how: 'identical' | 'alike';
      /** The one with the most information first. */
      readonly items: readonly ItemId[];
      /** Greatest share of differing bits; 0 for identical data. */
      readonly distance: number;
      readonly differing: readonly (FieldName | 'format' | 'path' | 'size')[];
    };

/** Seconds by which a container's length and the decoded one may differ: encoders pad, headers round. */
const SAME_LENGTH = 1;
const SAME_SHARE = 0.01;

export const isFresh = (checked: Checked, item: Item): boolean =>
  checked.size === item.size && checked.modified === item.modified;

/** Everything that the checks of these items say together. Linear, but for the doubles of one recording. */
export function findingsOf(
  items: readonly Item[],
  checks: ReadonlyMap<ItemId, Checked>,
): readonly CheckFinding[] {
  const fresh = items.flatMap((item) => {
    const checked = checks.get(item.id);
    return checked && isFresh(checked, item) ? [{ item, checked }] : [];
  });
  return [...fresh.flatMap(({ item, checked }) => ownFinding(item, checked) ?? []), ...doublesOf(fresh)];
}

function ownFinding(item: Item, checked: Checked): CheckFinding | null {
  const saidSeconds = item.facts.durationSeconds;
  const decodedSeconds = checked.decodedSeconds ?? 0;
  if (checked.decodes === 'no')
    return { type: 'cannotPlay', item: item.id, reason: checked.reason ?? 'no reason was given' };
  if (checked.decodes === 'part') return { type: 'breaksOff', item: item.id, decodedSeconds, saidSeconds };
  if (saidSeconds === null) return null;
  const off = Math.abs(decodedSeconds - saidSeconds);
  return off > Math.max(SAME_LENGTH, saidSeconds * SAME_SHARE)
    ? { type: 'lengthDiffers', item: item.id, decodedSeconds, saidSeconds }
    : null;
}

interface Fresh {
  readonly item: Item;
  readonly checked: Checked;
}

function doublesOf(fresh: readonly Fresh[]): readonly CheckFinding[] {
  const byDigest = new Map<string, Fresh[]>();
  for (const one of fresh) {
    const { digest } = one.checked;
    if (digest !== null) byDigest.set(digest, [...(byDigest.get(digest) ?? []), one]);
  }
  const identical = [...byDigest.values()].filter((group) => group.length > 1);
  // Identical data also sounds alike and is reported once, represented by one item.
  const standing = new Set(identical.flatMap((group) => group.slice(1).map(({ item }) => item.id)));
  const heard = fresh.filter(({ item, checked }) => checked.fingerprint !== null && !standing.has(item.id));
  const pairs = findAlikeSounds(
    heard.map(({ item, checked }) => ({
      id: item.id,
      print: parseFingerprint(checked.fingerprint as string),
    })),
  );
  const byId = new Map(fresh.map((one) => [one.item.id as string, one]));
  return [
    ...identical.map((group) => toDoubles(group, 'identical', 0)),
    ...joined(pairs).map(({ ids, distance }) =>
      toDoubles(
        ids.flatMap((id) => byId.get(id) ?? []),
        'alike',
        distance,
      ),
    ),
  ];
}

/** Pairs that share a member are one group. */
function joined(
  pairs: readonly { readonly a: string; readonly b: string; readonly distance: number }[],
): readonly { readonly ids: readonly string[]; readonly distance: number }[] {
  const groupOf = new Map<string, { ids: Set<string>; distance: number }>();
  for (const { a, b, distance } of pairs) {
    const [first, second] = [groupOf.get(a), groupOf.get(b)];
    const group = first ?? second ?? { ids: new Set<string>(), distance: 0 };
    for (const id of [a, b, ...(first && second && first !== second ? second.ids : [])]) {
      group.ids.add(id);
      groupOf.set(id, group);
    }
    group.distance = Math.max(group.distance, distance);
  }
  return [...new Set(groupOf.values())].map(({ ids, distance }) => ({ ids: [...ids], distance }));
}

/** Lossless formats first, then the item with the most fields, then the larger file. */
function toDoubles(group: readonly Fresh[], how: 'identical' | 'alike', distance: number): CheckFinding {
  const filled = ({ item }: Fresh) => Object.values(fieldsOf(item)).filter((value) => value !== null).length;
  const best = [...group].sort(
    (a, b) =>
      Number(isLossless(b.item.format)) - Number(isLossless(a.item.format)) ||
      filled(b) - filled(a) ||
      b.item.size - a.item.size,
  );
  const items = best.map(({ item }) => item);
  const differs = <T>(of: (item: Item) => T) => new Set(items.map(of)).size > 1;
  return {
    type: 'doubles',
    how,
    distance,
    items: items.map(({ id }) => id),
    differing: [
      ...(differs(({ format }) => format) ? (['format'] as const) : []),
      ...(differs(({ path }) => path) ? (['path'] as const) : []),
      ...(differs(({ size }) => size) ? (['size'] as const) : []),
      ...FIELD_NAMES.filter((name) => differs((item) => valueKey(fieldsOf(item)[name]))),
    ],
  };
}
