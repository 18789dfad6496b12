export { bytesOf, children, float, number, readContent, readElement, text } from './elements';
export type { Element } from './elements';
