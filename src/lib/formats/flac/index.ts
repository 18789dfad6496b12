export { readFlac } from './reader';
export { rewrite } from './writer';
