/** What the disks of devices refuse of names, each by its own file system. */

/** The file system of Attic counts the bytes of a name. */
export function refusedByServer(path: string): string | null {
  return path.split('/').some((part) => Buffer.byteLength(part) > 240)
    ? 'a name is too long for this disk'
    : null;
}

const RESERVED = /^(con|prn|aux|nul|com[1-9]|lpt[1-9])(\.|$)/i;

/** FAT32 with long names: some letters stand for something else, and names end in neither dot nor blank. */
export function refusedByFat(path: string): string | null {
  if (path.length > 250) return 'a path is too long for this disk';
  for (const part of path.split('/')) {
    if (part.length > 255) return 'a name is too long for this disk';
    // eslint-disable-next-line no-control-regex
    if (/[<>:"|?*\u0000-\u001f]/.test(part)) return 'a letter of the name is not one for this disk';
    if (/[. ]$/.test(part)) return 'a name cannot end so on this disk';
    if (RESERVED.test(part)) return 'a name that stands for a device on this disk';
  }
  return null;
}

/** A phone's shared storage counts bytes, and refuses the letters that a card would refuse. */
export function refusedByPhone(path: string): string | null {
  for (const part of path.split('/')) {
    if (Buffer.byteLength(part) > 255) return 'a name is too long for this disk';
    // eslint-disable-next-line no-control-regex
    if (/[<>:"|?*\u0000-\u001f\u007f]/.test(part)) return 'a letter of the name is not one for this disk';
  }
  return null;
}
