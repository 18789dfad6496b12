export { HEADER_PACKETS, readHeaderPackets, readLastPage, readOggDuration, readPreSkip } from './duration';
