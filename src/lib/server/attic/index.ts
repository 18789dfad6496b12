export {
  StorageError,
  findFile,
  findFolder,
  listFiles,
  makeFolder,
  moveFile,
  readFile,
  receiveFile,
  removeEmptyFolder,
  removeFile,
} from './storage';
export type { StoredFile } from './storage';
export { scanDisk } from './scan';
