import type { PatternProblem } from '$lib/core/naming';

/** What is wrong with a pattern, and where. Columns are told from 1. */
export function problemWords({ code, column, text }: PatternProblem): string {
  const at = `at letter ${column + 1}`;
  switch (code) {
    case 'unknownField':
      return text === '' ? `the field name is missing ${at}` : `unknown field ${text} ${at}`;
    case 'unclosed':
      return `the { ${at} has no matching }`;
    case 'unopened':
      return `the } ${at} has no matching {`;
    case 'nothingEscaped':
      return `nothing follows the \\ ${at}`;
    case 'nested':
      return `optional parts cannot be nested: close the first one before the { ${at}`;
    case 'folderInOptional':
      return `a / is not allowed inside { }, ${at}`;
    case 'noField':
      return 'it is empty: a pattern needs at least one field';
  }
}
