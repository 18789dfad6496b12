import type { Chapter } from '../items';

/** Chapters in the order of their starts; those of one start stay as they were. */
export const inOrder = (chapters: readonly Chapter[]): readonly Chapter[] =>
  [...chapters].sort((a, b) => a.startSeconds - b.startSeconds);

/** Times of chapters are kept to the millisecond. */
const inMilliseconds = (seconds: number): number => Math.max(0, Math.round(seconds * 1000)) / 1000;

/** The chapters with one more that begins here. */
export const withMark = (chapters: readonly Chapter[], seconds: number, title = ''): readonly Chapter[] =>
  inOrder([...chapters, { startSeconds: inMilliseconds(seconds), endSeconds: null, title, link: null }]);

export const withoutMark = (chapters: readonly Chapter[], index: number): readonly Chapter[] =>
  chapters.filter((_, at) => at !== index);

/** The chapters with another one in the place of one of them, in the order of their starts. */
export const changedMark = (
  chapters: readonly Chapter[],
  index: number,
  change: Partial<Chapter>,
): readonly Chapter[] =>
  inOrder(
    chapters.map((one, at) => {
      if (at !== index) return one;
      const next = { ...one, ...change };
      const startSeconds = inMilliseconds(next.startSeconds);
      const { endSeconds } = next;
      return {
        ...next,
        startSeconds,
        endSeconds: endSeconds !== null && endSeconds > startSeconds ? endSeconds : null,
      };
    }),
  );

/** What is odd about a chapter. */
export type ChapterOddity = 'sameStart' | 'overlaps' | 'gap' | 'pastEnd' | 'short' | 'untitled' | 'lateStart';

/** Seconds between an end and the next start that are no gap: times are rounded. */
const SAME_TIME = 0.5;
/** A chapter under so many seconds is hardly meant. */
const SHORT_SECONDS = 2;

/** What is odd about each chapter, where something is. Chapters come in the order of their starts. */
export function chapterOddities(
  chapters: readonly Chapter[],
  durationSeconds: number | null,
): readonly (readonly ChapterOddity[])[] {
  return chapters.map((chapter, index) => {
    const { startSeconds, endSeconds, title } = chapter;
    const next = chapters[index + 1]?.startSeconds ?? null;
    const found: ChapterOddity[] = [];
    if (
      durationSeconds !== null &&
      (startSeconds >= durationSeconds || (endSeconds ?? 0) > durationSeconds + SAME_TIME)
    )
      found.push('pastEnd');
    if (index > 0 && chapters[index - 1]?.startSeconds === startSeconds) found.push('sameStart');
    if (next !== null && endSeconds !== null && endSeconds > next + SAME_TIME) found.push('overlaps');
    if (next !== null && endSeconds !== null && endSeconds < next - SAME_TIME) found.push('gap');
    if (next !== null && next > startSeconds && next - startSeconds < SHORT_SECONDS) found.push('short');
    if (index === 0 && startSeconds > SAME_TIME) found.push('lateStart');
    if (title.trim() === '') found.push('untitled');
    return found;
  });
}

/** Titles by a pattern of words in which `:number` and `:title` stand for the chapter's own. */
export const numbered = (chapters: readonly Chapter[], pattern: string, first = 1): readonly Chapter[] =>
  chapters.map((chapter, index) => ({
    ...chapter,
    title: pattern
      .replace(/:(number|title)\b/g, (_, name: string) =>
        name === 'number' ? String(first + index) : chapter.title,
      )
      .trim(),
  }));
