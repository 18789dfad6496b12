import { folderOf, nameOf } from '../paths';
import type { Fields } from './fields';
import { makerKey } from './maker';

const DISC_FOLDER = /^(cd|disc|disk|side|vol(ume)?|part)[ ._-]?(\d{1,2}|[a-d])$/i;
/** Folders for files of all sorts, whose contents need not belong together. */
const CATCH_ALL = /^(drop|downloads?|inbox|incoming|new|unsorted|misc|desktop|tmp|temp)?$/i;

/** The folder that represents a release: the folder of a disc belongs to the one above it. */
export function homeOf(path: string): string {
  const folder = folderOf(path);
  return DISC_FOLDER.test(nameOf(folder)) ? folderOf(folder) : folder;
}

/** The disc number in a folder's name, or null. */
export function discOf(path: string): number | null {
  const folder = nameOf(folderOf(path));
  const match = /(\d{1,2})$/.exec(DISC_FOLDER.test(folder) ? folder : '');
  return match ? Number(match[1]) : null;
}

/** Whether a folder collects unrelated files, such as an inbox. The root does. */
export function isCatchAll(folder: string): boolean {
  return CATCH_ALL.test(nameOf(folder));
}

/**
 * Equal for items of one release: one edition of one album name in one folder, with the folders of its discs. In a
 * folder for unrelated files, the artist distinguishes albums of one name. Null without an album.
 */
export function releaseKey(path: string, fields: Fields): string | null {
  const album = fields.album?.trim().toLowerCase().replace(/\s+/g, ' ');
  if (!album) return null;
  const home = homeOf(path);
  const edition = fields.edition ? `\n${fields.edition.trim().toLowerCase()}` : '';
  return `${isCatchAll(home) ? `\n${makerKey(fields)}` : home}\n${album}${edition}`;
}
