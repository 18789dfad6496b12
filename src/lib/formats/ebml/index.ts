export {
  bytesOf,
  children,
  elementAt,
  float,
  number,
  readContent,
  readElement,
  readVint,
  text,
} from './elements';
export type { Element } from './elements';
export { element, numberBytes, numberElement, sizeBytes, textElement, voidOf } from './write';
