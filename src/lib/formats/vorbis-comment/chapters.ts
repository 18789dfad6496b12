import { longTime, type Chapter } from '$lib/core/items';
import type { NativeTexts } from '../tag-map';

/*
 * Chapters as comments, by the convention of chapter extensions for Vorbis comments: `CHAPTER001` holds a start as
 * `HH:MM:SS.mmm`, `CHAPTER001NAME` a title, `CHAPTER001URL` a link.
 */

const NAME = /^CHAPTER(\d{1,3})(NAME|URL)?$/;

export const isChapterName = (name: string): boolean => NAME.test(name);

export function chaptersIn(texts: NativeTexts): readonly Chapter[] {
  const chapters: Chapter[] = [];
  for (const [name, [time = '']] of texts) {
    if (!/^CHAPTER\d{1,3}$/.test(name)) continue;
    const startSeconds = secondsIn(time);
    if (startSeconds === null) continue;
    const title = texts.get(`${name}NAME`)?.[0] ?? '';
    chapters.push({ startSeconds, endSeconds: null, title, link: texts.get(`${name}URL`)?.[0] ?? null });
  }
  return chapters.sort((a, b) => a.startSeconds - b.startSeconds);
}

function secondsIn(time: string): number | null {
  const parts = /^(\d+):(\d{1,2}):(\d{1,2}(?:\.\d+)?)$/.exec(time.trim());
  if (!parts) return null;
  const [, hours, minutes, seconds] = parts.map(Number) as [number, number, number, number];
  return (hours * 3_600_000 + minutes * 60_000 + Math.round(seconds * 1000)) / 1000;
}

/** Names and texts of chapters, counted from 001. */
export function chapterTexts(chapters: readonly Chapter[]): (readonly [string, string])[] {
  return chapters.flatMap(({ startSeconds, title, link }, index) => {
    const name = `CHAPTER${String(index + 1).padStart(3, '0')}`;
    return [
      [name, longTime(startSeconds)] as const,
      ...(title === '' ? [] : [[`${name}NAME`, title] as const]),
      ...(link === null ? [] : [[`${name}URL`, link] as const]),
    ];
  });
}
