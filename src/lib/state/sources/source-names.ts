import type { NameRules } from '$lib/core/naming';

/** Names of files that come from discs, shelves and feeds: such as every file system takes. */
export const SOURCE_NAMES: NameRules = {
  unsafe: '<>:"|?*',
  replacements: { ':': ' -', '/': '-', '\\': '-', '"': "'" },
  fallback: '_',
  unicode: 'NFC',
  alphabet: 'any',
  allowed: null,
  deviceNames: true,
  caseSensitive: false,
  leadingDot: null,
  unit: 'bytes',
  maxName: 200,
  maxPath: 900,
  numberWidth: 2,
};
