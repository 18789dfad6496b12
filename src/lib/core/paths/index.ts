export { extensionOf, folderOf, isBelow, nameOf, stemOf, withoutExtension } from './paths';
