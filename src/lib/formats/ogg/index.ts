export { readMissingBytes, readOggDuration, readPreSkip } from './duration';
