import type { PatternProblem } from '$lib/core/naming';

/** What is wrong with a pattern, and where. Columns are told from 1. */
export function problemWords({ code, column, text }: PatternProblem): string {
  const at = `at letter ${column + 1}`;
  switch (code) {
    case 'unknownField':
      return text === '' ? `a field's name is missing ${at}` : `there is no field called ${text}, ${at}`;
    case 'unclosed':
      return `the part opened ${at} is not closed with }`;
    case 'unopened':
      return `a } stands ${at} that closes nothing`;
    case 'nothingEscaped':
      return `nothing follows the \\ ${at}`;
    case 'nested':
      return `a part inside a part ${at}: close the first one before`;
    case 'folderInOptional':
      return `a / cannot stand inside { }, ${at}`;
    case 'noField':
      return 'it is empty: a pattern needs at least one field';
  }
}
