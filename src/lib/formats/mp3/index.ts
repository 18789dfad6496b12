export { readMp3 } from './reader';
export { rewrite } from './writer';
