export { assignBeside, languageIn } from './assign';
export type { BesideFile, BesideType, MediaFile } from './assign';
