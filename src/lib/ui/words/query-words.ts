import type { QueryProblem } from '$lib/core/query';

/** What is wrong with a query. Its place is shown beside it. */
export function queryProblemWords({ code, text }: QueryProblem): string {
  switch (code) {
    case 'begunName':
      return `“${text}” begins a field; add a space to search for it as a word`;
    case 'needsCompare':
      return `${text} needs a comparison: is, has, under, over …`;
    case 'needsText':
      return `a text must follow “${text}”`;
    case 'needsAmount':
      return `a number or a date must follow ${text}`;
    case 'noAmount':
      return `${text} needs a number or a date`;
    case 'needsTo':
      return 'from … needs to …';
    case 'needsName':
      return `“${text}” needs a field, such as “${text} picture”`;
    case 'needsTerm':
      return 'a search term is missing here';
    case 'unclosedQuote':
      return 'this quote is not closed';
    case 'unclosedBracket':
      return 'this bracket is not closed';
    case 'unopenedBracket':
      return 'this bracket has no opening bracket';
    case 'noSuchList':
      return `there is no list “${text}”`;
    case 'wrongCompare':
      return `${text} cannot be compared in this way`;
  }
}
