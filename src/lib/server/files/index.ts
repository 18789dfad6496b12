export { digestOf, rangeResponse, sizeOf, standInPath } from './stand-in-files';
