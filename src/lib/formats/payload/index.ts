export { payloadRanges } from './payload';
