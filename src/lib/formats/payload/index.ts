export { locate } from './locate';
