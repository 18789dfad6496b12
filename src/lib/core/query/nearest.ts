import { wordsOf } from '../items';
import { testOf, type Asking } from './meets';
import { findName } from './names';
import { parseQuery, type Query } from './parse';
import { nowhere } from './world';

/** Candidates that are tried: each is held against all items until one meets it. */
const MOST_TRIED = 6;

/** The words of a query that are searched in all text because they are not names. */
export function wordsAsText(query: Query): readonly string[] {
  switch (query.type) {
    case 'all':
    case 'either':
      return query.parts.flatMap(wordsAsText);
    case 'not':
      return wordsAsText(query.part);
    case 'words':
      return query.words;
    case 'name':
      return [];
  }
}

/** Items that are looked at in one step. */
const AT_ONCE = 1500;

/**
 * The closest query that matches something, for one that matches nothing; null if there is none. Steps are short,
 * because a large library is searched several times.
 */
export function* nearestQuerySteps<T>(
  text: string,
  items: readonly T[],
  asking: Asking<T>,
  world = nowhere(),
): Generator<void, string | null> {
  for (const candidate of candidates(text).slice(0, MOST_TRIED)) {
    const parsed = parseQuery(candidate, world);
    if (parsed.type !== 'query') continue;
    const test = testOf(parsed.query, asking, world);
    for (let at = 0; at < items.length; at += AT_ONCE) {
      if (items.slice(at, at + AT_ONCE).some(test)) return candidate;
      yield;
    }
  }
  return null;
}

/** First, names that the query may have meant, with everything after them; then the query with one word less. */
function candidates(text: string): readonly string[] {
  const words = wordsOf(text);
  const named = words.flatMap((_, at): string[] => {
    const name = nameIn(words, at);
    const rest = name && words.slice(at + name.words);
    if (!name || !rest || rest.length === 0) return [];
    const before = words.slice(0, at);
    const own = name.isText ? `${name.name} has ${rest.join(' ')}` : `${name.name} is ${rest.join(' ')}`;
    return [[...before, own].join(' ')];
  });
  const fewer =
    words.length > 1 ? words.map((_, at) => words.filter((__, index) => index !== at).join(' ')) : [];
  return [...named, ...fewer];
}

function nameIn(words: readonly string[], at: number) {
  for (let count = 3; count > 0; count--) {
    const name = findName(words.slice(at, at + count).join(' '));
    if (name) return { name: name.name, words: count, isText: name.type === 'text' };
  }
  return null;
}
