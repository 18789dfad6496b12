export { digestOf, rangeResponse, sizeOf } from './stand-in-files';
