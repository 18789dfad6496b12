import { extensionOf, stemOf } from '../paths';
import {
  LIST_FILE_ENDINGS,
  ListFileError,
  MOST_ENTRIES,
  MOST_LIST_BYTES,
  tooMany,
  type ListFileType,
  type ListOnFile,
} from './list-file';
import { readM3u, writeM3u } from './m3u';
import { readPls, writePls } from './pls';
import { readXspf, writeXspf } from './xspf';

/** How a list is written. */
export interface ListFileWishes {
  readonly type: ListFileType;
  readonly lineEnd: '\n' | '\r\n';
  /** Only M3U and plain text can use the older encoding. Letters outside of it become question marks. */
  readonly encoding: ListEncoding;
}

export type ListEncoding = 'utf-8' | 'windows-1252';

/**
 * Reads a list; its type is detected from its content.
 * @param path of the file, whose name is used if the content has none
 * @throws {ListFileError} if it is not a list, with the line if possible
 */
export function readListFile(
  bytes: Uint8Array,
  path: string,
): ListOnFile & { readonly name: string; readonly type: ListFileType } {
  return readListText(listTextOf(bytes), path);
}

/** @throws {ListFileError} if it is too large for a list, or not text */
export function listTextOf(bytes: Uint8Array): string {
  if (bytes.length > MOST_LIST_BYTES) throw new ListFileError('it is too large for a list');
  return textOf(bytes);
}

/** The same for a text. @throws {ListFileError} if it is not a list, with the line if possible */
export function readListText(
  text: string,
  path: string,
): ListOnFile & { readonly name: string; readonly type: ListFileType } {
  const type = typeOf(text, path);
  const read = READERS[type](text);
  if (read.entries.length === 0) throw new ListFileError('it has no entries');
  if (read.entries.length > MOST_ENTRIES) throw tooMany();
  return { ...read, name: read.name ?? stemOf(path), type };
}

export function writeListFile(list: ListOnFile, wishes: ListFileWishes): Uint8Array {
  return encodeListText(writeListText(list, wishes), encodingOf(wishes));
}

/** The text of a list file. Letters outside its encoding become question marks. */
export function writeListText(list: ListOnFile, wishes: ListFileWishes): string {
  const text = WRITERS[wishes.type](list)
    .map((line) => `${line}${wishes.lineEnd}`)
    .join('');
  return inEncoding(text, encodingOf(wishes));
}

/** A text after writing and reading it in an encoding. */
export const inEncoding = (text: string, encoding: ListEncoding): string =>
  encoding === 'utf-8' ? text : fromWindows1252(encodeListText(text, encoding));

export const encodeListText = (text: string, encoding: ListEncoding): Uint8Array<ArrayBuffer> =>
  encoding === 'windows-1252'
    ? Uint8Array.from(text, (letter) => byteOf(letter))
    : new TextEncoder().encode(text);

/** Only M3U and plain text may be of the older encoding. */
export const encodingOf = ({ type, encoding }: Omit<ListFileWishes, 'lineEnd'>): ListEncoding =>
  type === 'm3u' || type === 'text' ? encoding : 'utf-8';

const READERS: Readonly<Record<ListFileType, (text: string) => ListOnFile>> = {
  m3u8: readM3u,
  m3u: readM3u,
  xspf: readXspf,
  pls: readPls,
  text: readM3u,
};

const WRITERS: Readonly<Record<ListFileType, (list: ListOnFile) => readonly string[]>> = {
  m3u8: writeM3u,
  m3u: writeM3u,
  xspf: writeXspf,
  pls: writePls,
  text: (list) => writeM3u(list, false),
};

/**
 * The text of a file: by its byte order mark, otherwise as UTF-8 if that is valid, otherwise as Windows-1252.
 * @throws {ListFileError} if it is not text
 */
function textOf(bytes: Uint8Array): string {
  const [first, second] = bytes;
  const isWide = (first === 0xff && second === 0xfe) || (first === 0xfe && second === 0xff);
  if (isWide) return new TextDecoder(first === 0xff ? 'utf-16le' : 'utf-16be').decode(bytes);
  if (bytes.subarray(0, 4096).includes(0))
    throw new ListFileError('this is not a text file, so it holds no list');
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    return fromWindows1252(bytes);
  }
}

function typeOf(text: string, path: string): ListFileType {
  const head = text.slice(0, 2000).trimStart();
  if (/^\[playlist\]/i.test(head)) return 'pls';
  if (/^<\?xml|^<([\w-]+:)?playlist[\s>]/i.test(head)) return 'xspf';
  const extension = extensionOf(path);
  if (extension === LIST_FILE_ENDINGS.m3u8 || extension === LIST_FILE_ENDINGS.m3u)
    return extension as 'm3u8' | 'm3u';
  return /^#EXTM3U/i.test(head) ? 'm3u8' : 'text';
}

/** The letters of Windows-1252 beyond Latin-1, by their bytes (encoding.spec.whatwg.org, index windows-1252). */
const UPPER = '€\u0081‚ƒ„…†‡ˆ‰Š‹Œ\u008dŽ\u008f\u0090‘’“”•–—˜™š›œ\u009džŸ';

/** Decoders differ in the upper half of this encoding, so it is read by the table that it is written by. */
function fromWindows1252(bytes: Uint8Array): string {
  const parts: string[] = [];
  for (let at = 0; at < bytes.length; at += 8192)
    parts.push(
      String.fromCharCode(
        ...Array.from(bytes.subarray(at, at + 8192), (byte) =>
          byte >= 0x80 && byte < 0xa0 ? UPPER.charCodeAt(byte - 0x80) : byte,
        ),
      ),
    );
  return parts.join('');
}

function byteOf(letter: string): number {
  const code = letter.codePointAt(0) ?? 0;
  if (code < 0x80 || (code >= 0xa0 && code < 0x100)) return code;
  const at = UPPER.indexOf(letter);
  return at < 0 ? 0x3f : 0x80 + at;
}
