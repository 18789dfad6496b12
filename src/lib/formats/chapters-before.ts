import type { Chapter } from '$lib/core/items';

/**
 * Which of the chapters before goes on with each of the new ones, so that what belongs to it stays with it when it is moved
 * or called otherwise: one is known by its start, else by its title, else by its place where there are as many as before.
 * @param hasMore whether something belongs to one that the new chapter does not say itself
 * @returns for each new chapter the one before; null where there is none to go on
 */
export function goingOn<T extends { readonly chapter: Chapter }>(
  chapters: readonly Chapter[],
  before: readonly T[],
  hasMore: (old: T) => boolean,
): readonly (T | null)[] {
  const left = new Set(before.filter(hasMore));
  const found = new Map<Chapter, T>();
  const match = (isOne: (own: Chapter, old: T, index: number) => boolean) => {
    if (left.size === 0) return;
    for (const [index, own] of chapters.entries()) {
      if (found.has(own)) continue;
      const old = [...left].find((one) => isOne(own, one, index));
      if (!old) continue;
      found.set(own, old);
      left.delete(old);
    }
  };
  const milliseconds = ({ startSeconds }: Chapter) => Math.round(startSeconds * 1000);
  match((own, { chapter }) => milliseconds(own) === milliseconds(chapter));
  match((own, { chapter }) => own.title !== '' && own.title === chapter.title);
  if (chapters.length === before.length) match((_, old, index) => before[index] === old);
  return chapters.map((own) => found.get(own) ?? null);
}
