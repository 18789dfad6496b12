import type { IAudioMetadata } from 'music-metadata';
import { requireField, type Fields } from '$lib/core/items';

type Said = Pick<Fields, 'show' | 'season' | 'episode' | 'narrator' | 'date' | 'description' | 'lyrics'>;

/** Native names of each field: Vorbis comment, ID3 frame, item of MP4. The first that is there counts. */
const NAMES: Readonly<Record<keyof Said, readonly string[]>> = {
  show: ['SHOW', 'TXXX:SHOW', 'TXX:SHOW', 'TVSH'],
  season: ['SEASON', 'TXXX:SEASON', 'TXX:SEASON', 'TVSN'],
  episode: ['EPISODE', 'TXXX:EPISODE', 'TXX:EPISODE', 'TVES'],
  narrator: ['NARRATOR', 'TXXX:NARRATOR', 'TXX:NARRATOR', '----:NARRATOR'],
  date: ['RELEASEDATE', 'TXXX:RELEASEDATE', 'TXX:RELEASEDATE', 'TDRL', '----:RELEASEDATE'],
  description: ['DESCRIPTION', 'TXXX:DESCRIPTION', 'TXX:DESCRIPTION', 'TDES', 'DESC', 'ANNO'],
  lyrics: ['LYRICS', 'UNSYNCEDLYRICS', 'USLT', 'ULT', '\u00a9LYR'],
};
const ALL_NAMES = new Set(Object.values(NAMES).flat());

/** Fields that the parsing package has no common name for, or reads in fewer formats than we write. */
export function saidFields({ native }: Pick<IAudioMetadata, 'native'>): Said {
  const values = new Map<string, string[]>();
  for (const tags of Object.values(native))
    for (const { id, value } of tags) {
      // Named items of MP4 come in any domain.
      const name = id.toUpperCase().replace(/^----:.*:/, '----:');
      const text = ALL_NAMES.has(name) ? textOf(value) : '';
      if (text === '') continue;
      const known = values.get(name);
      if (known) known.push(text);
      else values.set(name, [text]);
    }
  const text = (field: keyof Said): string | null => {
    const found = NAMES[field].map((name) => values.get(name)).find(Boolean);
    return (requireField(field).many ? found?.join('; ') : found?.[0]) ?? null;
  };
  const number = (field: 'season' | 'episode'): number | null => {
    const value = Number.parseInt(text(field) ?? '', 10);
    return Number.isFinite(value) && value > 0 ? value : null;
  };
  const day = /^\d{4}(-\d{2}){0,2}/.exec(text('date') ?? '')?.[0] ?? null;
  return {
    show: text('show'),
    season: number('season'),
    episode: number('episode'),
    narrator: text('narrator'),
    date: day,
    description: text('description'),
    lyrics: text('lyrics'),
  };
}

/** Lyrics come as an object with their language beside them. */
function textOf(value: unknown): string {
  if (typeof value === 'object' && value !== null && 'text' in value) return String(value.text);
  return typeof value === 'string' || typeof value === 'number' ? String(value) : '';
}
