export { findDevice } from './devices';
export type { Device } from './devices';
export { StorageError } from './disk';
export type { StoredFile } from './disk';
export { answering } from './answer';
