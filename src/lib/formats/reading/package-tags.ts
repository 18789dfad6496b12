import type { IAudioMetadata } from 'music-metadata';
import type { Fields } from '$lib/core/items';
import { ID3_MAPS } from '../id3';
import { addText, readRows, type TagRow } from '../tag-map';
import { VORBIS_MAP } from '../vorbis-comment';

/** AIFF's own text chunks, as far as the package has no common name for them. */
const AIFF_ROWS: readonly TagRow[] = [{ field: 'description', names: ['ANNO'] }];

/** Rows for the tags of each sort, as the parsing package names the sorts. */
const ROWS: Readonly<Record<string, readonly TagRow[]>> = {
  'ID3v2.2': ID3_MAPS[2].rows,
  'ID3v2.3': ID3_MAPS[3].rows,
  'ID3v2.4': ID3_MAPS[4].rows,
  vorbis: VORBIS_MAP.rows,
  AIFF: AIFF_ROWS,
};

/**
 * Fields that the parsing package has no common name for, in tags that our own readers do not come to: ID3 chunks
 * in WAV and AIFF, text chunks.
 */
export function readPackageTags({ native }: Pick<IAudioMetadata, 'native'>): Partial<Fields> {
  const said: Partial<Fields>[] = Object.entries(native).map(([sort, tags]) => {
    const texts = new Map<string, string[]>();
    for (const { id, value } of tags) addText(texts, id.replace(/^(TXXX?:)(.*)$/, upperLabel), textOf(value));
    const fields = readRows(ROWS[sort] ?? [], texts);
    return Object.fromEntries(Object.entries(fields).filter(([, found]) => found !== null));
  });
  return Object.assign({}, ...said) as Partial<Fields>;
}

const upperLabel = (_id: string, frame: string, label: string) => frame + label.toUpperCase();

/** Lyrics come as an object with their language beside them. */
function textOf(value: unknown): string {
  if (typeof value === 'object' && value !== null && 'text' in value) return String(value.text);
  return typeof value === 'string' || typeof value === 'number' ? String(value) : '';
}
