import type { QueryProblem } from '$lib/core/query';

/** What is wrong with a query. Its place is shown beside it. */
export function queryProblemWords({ code, text }: QueryProblem): string {
  switch (code) {
    case 'begunName':
      return `“${text}” begins a field; a blank behind it makes it a word to look for`;
    case 'needsCompare':
      return `what ${text} is to be has to follow: is, has, under, over …`;
    case 'needsText':
      return `a text has to follow “${text}”`;
    case 'needsAmount':
      return `${text} is compared with a number or a date, which has to follow`;
    case 'noAmount':
      return `${text} is compared with a number or a date; this is none`;
    case 'needsTo':
      return 'from … goes with to …';
    case 'needsName':
      return `“${text}” goes before a field, such as “${text} picture”`;
    case 'needsTerm':
      return 'something to look for has to stand here';
    case 'unclosedQuote':
      return 'this quote is not closed';
    case 'unclosedBracket':
      return 'this bracket is not closed';
    case 'unopenedBracket':
      return 'no bracket was opened for this one';
    case 'noSuchList':
      return `there is no list “${text}”`;
    case 'wrongCompare':
      return `${text} cannot be compared in this way`;
  }
}
