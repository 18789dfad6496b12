export { readOggDuration, readPreSkip } from './duration';
