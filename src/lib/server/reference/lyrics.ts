import { random } from '../sound/tunes.js';
import { findEntryRelease } from './search';

const LINES = [
  'Count the gulls on the harbour wall',
  'Write them down in the salt and all',
  'Haul for the lamp that is slow to show',
  'Low is the water and long is the tow',
  'Who kept the book when the keeper slept',
  'What the tide owed and what it kept',
  'Stone in the keel and the bell below',
  'Nobody asks where the ferries go',
];

/** Words of a song, or null when the reference has none. */
export function lyricsOf(entryId: string): string | null {
  const entry = findEntryRelease(entryId)?.entries.find(({ id }) => id === entryId);
  if (!entry?.hasLyrics) return null;
  const next = random([...entryId].reduce((sum, letter) => sum + letter.charCodeAt(0), 0));
  const verse = () => Array.from({ length: 4 }, () => LINES[Math.floor(next() * LINES.length)]).join('\n');
  return `${verse()}\n\n${verse()}`;
}
