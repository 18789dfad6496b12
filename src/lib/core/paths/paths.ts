/* Words about paths: `/` between folders, none at the ends. */

/** Last part of a path. */
export function nameOf(path: string): string {
  return path.slice(path.lastIndexOf('/') + 1);
}

/** Path of the folder that holds it, empty at the root. */
export function folderOf(path: string): string {
  return path.slice(0, Math.max(0, path.lastIndexOf('/')));
}

/** The name without its extension. */
export function stemOf(path: string): string {
  const name = nameOf(path);
  const dot = name.lastIndexOf('.');
  return dot > 0 ? name.slice(0, dot) : name;
}

/** The extension in lower case without its dot, empty when there is none. */
export function extensionOf(path: string): string {
  const name = nameOf(path);
  const dot = name.lastIndexOf('.');
  return dot > 0 ? name.slice(dot + 1).toLowerCase() : '';
}

/** The path without its extension. */
export function withoutExtension(path: string): string {
  const folder = folderOf(path);
  return folder === '' ? stemOf(path) : `${folder}/${stemOf(path)}`;
}

/** Whether a path lies in a folder or in one below it. Everything lies in the root, which is empty. */
export function isBelow(path: string, folder: string): boolean {
  return folder === '' || path.startsWith(`${folder}/`);
}
