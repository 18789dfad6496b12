import { readFileSync } from 'node:fs';
import type { Item } from '../../src/lib/core/items';
import { newPlayer, targetId, type PlayerId } from '../../src/lib/core/library';
import { Library } from '../../src/lib/state/library.svelte';
import { makeItem } from './items';

/** Libraries of tests, as the stand-in for the browser's storage keeps them. */

export const ATTIC = newPlayer('attic' as PlayerId, 'attic');
export const DEVICE = targetId(ATTIC.id, 'device');

export const kept = (name: string) => readFileSync(new URL(`../kept/${name}`, import.meta.url), 'utf8');
export const adding = (items: readonly Item[]) =>
  items.map((item) => ({ id: item.id, before: null, after: item }));
export const many = (count: number) =>
  Array.from({ length: count }, (_, index) => makeItem(`i${index}`, { title: `T${index}` }));
/** Items of which nothing is said. */
export const manyUnsaid = (count: number) => many(count).map((item) => ({ ...item, settled: null }));
export const titles = ({ items }: Library) =>
  items.map((item) => item.edits.fields?.title ?? item.file.fields.title);

export async function reopened(name = 'home'): Promise<Library> {
  const library = new Library(name);
  await library.load();
  return library;
}
