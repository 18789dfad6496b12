export { ALPHABETS, isOf, toAlphabet } from './alphabet';
export type { Alphabet } from './alphabet';
export { ASCII, foldCase } from './fold-case';
export {
  LIST_NAMES,
  PATTERN_FIELDS,
  parsePattern,
  namesIn,
  patternValues,
  sourceNames,
  requirePattern,
  writePattern,
} from './pattern';
export type {
  ParsedPattern,
  Pattern,
  PatternField,
  PatternNode,
  PatternProblem,
  PatternValues,
  ValueWriter,
  WrittenPath,
} from './pattern';
export { readPattern } from './read-pattern';
export type { Reading, ReadValues } from './read-pattern';
export { firstLetters } from './letters';
export { lengthIn, pathKey, safeName, safeValue, shorten } from './safe-name';
export type { NameRules } from './safe-name';
export { NOISE_RULES, clashesOf, readName } from './read-names';
export type { NameReading, NoiseRule } from './read-names';
export { outsideNumberIn } from './outside-number';
export { proposePatterns } from './propose-patterns';
export type { ProposedPattern } from './propose-patterns';
export { MADE_OF, madeOf, resolutionOf } from './made-of';
export type { MadeFile, MadeOf } from './made-of';
