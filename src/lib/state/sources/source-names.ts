import {
  safeName,
  safeValue,
  writePattern,
  type NameRules,
  type Pattern,
  type PatternValues,
} from '$lib/core/naming';

/** Names of files from discs, shelves and feeds, and of those that are handed out: every file system takes them. */
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

/** The folders and the name that a pattern gives, without extension. Levels that would be empty fall away. */
export const partsBy = (pattern: Pattern, values: PatternValues): readonly string[] =>
  writePattern(pattern, values, {
    numberWidth: SOURCE_NAMES.numberWidth,
    safeValue: (text) => safeValue(text, SOURCE_NAMES),
  })
    .parts.filter((part) => part.trim() !== '')
    .map((part) => safeName(part, SOURCE_NAMES));
