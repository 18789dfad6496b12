import type { FieldName } from '../../items';
import { RULEBOOK_VERSION } from '../schema';

type Json = Readonly<Record<string, unknown>>;

interface OldSection {
  readonly kind: string;
  readonly root: string;
  readonly pattern: string;
  readonly formats: readonly string[];
  readonly asks: readonly { readonly field: FieldName | 'year'; readonly severity: string }[];
  readonly alike: boolean;
  readonly sidecar?: Json | null;
  readonly folderPicture?: Json | null;
  readonly reading: {
    readonly from: string;
    readonly needs: readonly (FieldName | 'year')[];
    readonly groupBy: readonly string[];
    readonly variousArtists: string;
  };
}

/**
 * `MIGRATIONS[n]` turns version n into n + 1. What each version changed: 2 several sections per kind, and dates in
 * place of years; 3 the name of the first folder below a place; 4 alphabets, limits of parts of names and of files,
 * playing order and tag encodings; 5 how twins are made; 7 lists.
 */
const MIGRATIONS: Readonly<Record<number, (old: Json) => Json>> = {
  1: ({ names, sections, version: _, ...rest }) => {
    const old = sections as readonly OldSection[];
    return {
      ...rest,
      version: 2,
      takes: old.map(({ kind, formats }) => ({ kinds: [kind], formats })),
      places: old.map(({ kind, root, pattern, alike, asks, reading }) => ({
        kinds: [kind],
        folder: root,
        pattern,
        alike,
        asks: asks.map(({ field, severity }) => ({ field: dated(field), severity })),
        reads: { from: reading.from, needs: reading.needs.map(dated) },
        groups: [reading.groupBy],
        various: reading.variousArtists,
      })),
      beside: old.flatMap(({ kind, sidecar, folderPicture }) => [
        ...(sidecar ? [{ type: 'sidecar', kinds: [kind], mime: 'application/xml', ...sidecar }] : []),
        ...(folderPicture ? [{ type: 'picture', kinds: [kind], of: 'folder', ...folderPicture }] : []),
      ]),
      tags: { id3: [2, 3, 4] },
      disk: names,
    };
  },
  2: ({ beside, version: _, ...rest }) => ({
    ...rest,
    version: 3,
    beside: (beside as readonly Json[]).map((rules) =>
      rules.of === 'category' ? { ...rules, of: 'topFolder' } : rules,
    ),
  }),
  3: ({ version: _, ...rest }) => ({ ...rest, version: 4 }),
  4: ({ version: _, ...rest }) => ({ ...rest, version: 5 }),
  // Video is called video; bit depth and variable rates can be set, and are not set by default.
  5: ({ version: _, filmTwins = null, videoTwins, ...rest }) => ({
    ...rest,
    version: 6,
    videoTwins: videoTwins ?? filmTwins,
  }),
  6: ({ version: _, ...rest }) => ({ ...rest, version: 7 }),
};

const dated = (field: FieldName | 'year'): FieldName => (field === 'year' ? 'date' : field);

/**
 * A rulebook of any earlier version as one of this version; what is no rulebook at all stays for the schema to refuse.
 * @throws {RangeError} when a newer version wrote it
 */
export function migrateRulebook(json: unknown): unknown {
  let kept = json as Json;
  for (;;) {
    const version = (kept as Json | null)?.version;
    if (typeof version !== 'number' || version === RULEBOOK_VERSION) return kept;
    const migrate = MIGRATIONS[version];
    if (!migrate) throw new RangeError(`version ${version} of a rulebook is not known here`);
    kept = migrate(kept);
  }
}
