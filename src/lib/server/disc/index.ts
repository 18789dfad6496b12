export { DISCS } from './discs';
export { driveState, eject, insertDisc, readTrack } from './drive';
