export { describeAddress, describeShelf, sendTrack } from './shelf';
