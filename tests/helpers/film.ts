import { readFile } from 'node:fs/promises';

/** A short film with a picture, three sounds and two subtitles, as numbers for a page. */
export const film = async (ending: string): Promise<number[]> => [
  ...(await readFile(new URL(`../fixtures/containers/film.${ending}`, import.meta.url))),
];
