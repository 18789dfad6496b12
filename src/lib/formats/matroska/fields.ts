import type { Fields } from '$lib/core/items';
import { addText, readRows } from '../tag-map';
import type { MatroskaFacts } from './facts';
import { MATROSKA_MAP } from './tag-map';

/** What its tags say, and its own title where they give none. */
export function matroskaFields({ title, tags }: Pick<MatroskaFacts, 'title' | 'tags'>): Fields {
  const texts = new Map<string, string[]>();
  for (const { target, name, value } of tags) addText(texts, `${target}:${name.toUpperCase()}`, value);
  addText(texts, 'segment:TITLE', title ?? '');
  return readRows(MATROSKA_MAP.rows, texts);
}
