export { releaseOfOwn, ownReferencesFor, textOfEntries } from './own-reference';
export type { OwnReference } from './own-reference';
export { readTrackList } from './read-list';
export type { ListedEntry, ListedRelease } from './listed';
