export { readMp3 } from './reader';
export { readNative, rewrite } from './writer';
