export { readLrc, writeLrc } from './lrc';
