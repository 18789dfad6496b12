export { MOST_LETTERS, readBeside } from './read-beside';
