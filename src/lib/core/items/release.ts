import { folderOf, nameOf } from '../paths';
import type { Fields } from './fields';
import { makerKey } from './maker';

const DISC_FOLDER = /^(cd|disc|disk|side|vol(ume)?|part)[ ._-]?(\d{1,2}|[a-d])$/i;
/** Folders that things are thrown into: what lies in them does not belong together for that. */
const CATCH_ALL = /^(drop|downloads?|inbox|incoming|new|unsorted|misc|desktop|tmp|temp)?$/i;

/** The folder that stands for a release: a disc's own folder is part of the one above it. */
export function homeOf(path: string): string {
  const folder = folderOf(path);
  return DISC_FOLDER.test(nameOf(folder)) ? folderOf(folder) : folder;
}

/** The disc that a file's folder is named for, or null. */
export function discOf(path: string): number | null {
  const folder = nameOf(folderOf(path));
  const match = /(\d{1,2})$/.exec(DISC_FOLDER.test(folder) ? folder : '');
  return match ? Number(match[1]) : null;
}

/** Whether a folder gathers what does not belong together, such as an inbox; the root does. */
export function isCatchAll(folder: string): boolean {
  return CATCH_ALL.test(nameOf(folder));
}

/**
 * Equal for items of one release as its curator means it: one edition of one album name in one folder, the folders of
 * its discs taken together. In a folder that things are thrown into, the maker tells albums of one name apart. Null without an
 * album.
 */
export function releaseKey(path: string, fields: Fields): string | null {
  const album = fields.album?.trim().toLowerCase().replace(/\s+/g, ' ');
  if (!album) return null;
  const home = homeOf(path);
  const edition = fields.edition ? `\n${fields.edition.trim().toLowerCase()}` : '';
  return `${isCatchAll(home) ? `\n${makerKey(fields)}` : home}\n${album}${edition}`;
}
