import { iso6392 } from 'iso-639-2';
import { languageTag } from '$lib/core/items';

const THREE = new Map(
  iso6392.flatMap(({ iso6391, iso6392T, iso6392B }) =>
    iso6391 ? [[iso6391, iso6392T ?? iso6392B] as const] : [],
  ),
);

/**
 * The code that ID3 and Matroska have for a language: three letters of ISO 639-2, terminological. What that does not tell
 * apart, such as a region, is lost. A tag that has no such code stays as it is.
 */
export function threeLetters(tag: string): string {
  const [language = ''] = tag.split('-');
  return THREE.get(language) ?? (language.length === 3 ? language : tag);
}

/**
 * How a track says its language: a code of three letters for older players, and beside it the tag where that does not say
 * all of it. `und` is a language that is not known.
 */
export function codeAndTag(language: string | null): { readonly code: string; readonly tag: string | null } {
  if (language === null) return { code: 'und', tag: null };
  const code = threeLetters(language);
  const isCode = /^[a-z]{3}$/.test(code);
  return { code: isCode ? code : 'und', tag: isCode && code === language ? null : language };
}

/** What a file says of its language, as the tag of one where it is: `eng` is `en`. */
export const languageOrText = (text: string): string => languageTag(text) ?? text;
