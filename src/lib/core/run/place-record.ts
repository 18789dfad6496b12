import { UTF8, memorySource } from '../bytes';
import { parseJson } from '../json';
import { isPlaceRecord } from '../library';
import { HOLD_FOLDER, ownedFile, type PlacedFile } from '../plan';
import type { DigestOf } from './effects';
import { StoreError, type Store } from './store';

/*
 * A place remembers whose files lie there: each library that runs into it keeps a record of its own in the place's hidden
 * folder. A browser that knows nothing of the place finds its own files by it, and tells those of another library from
 * files that nobody's run put there. A record is a claim, never a proof: what it says of a file counts only where the
 * file's digest says so too.
 */

/** Folder of a place in which the records lie. */
export const RECORD_FOLDER = `${HOLD_FOLDER}/libraries`;

/** The largest record in bytes that is read; larger ones are not ours. */
export const LARGEST_RECORD = 256 * 1024 * 1024;
/** Records of a place that are read. */
export const MOST_RECORDS = 50;

/** The files that one library's runs left at a place, according to that library. */
export interface PlaceRecord {
  readonly version: 2;
  /** Identifies the library in its browser: a copy in another browser is another writer. */
  readonly writer: string;
  /** The target of that library by which its runs came here. */
  readonly target: string;
  /** Milliseconds since 1970. */
  readonly at: number;
  readonly files: readonly PlacedFile[];
  /** Paths to which a run that had begun was about to write. */
  readonly coming: readonly string[];
}

/** The file name of a record. Each version has a number of its own, so that none is overwritten. */
const recordPath = ({ writer, target }: Pick<PlaceRecord, 'writer' | 'target'>, serial: number): string =>
  `${startOf(writer, target)}${serial}.json`;

const startOf = (writer: string, target: string): string => `${RECORD_FOLDER}/${writer}.${target}.`;

const serialOf = (path: string): number => Number(/\.(\d{1,15})\.json$/.exec(path)?.[1] ?? 0);

/** A record's file: its digest in the first line, itself in the second. */
export async function recordBytes(record: PlaceRecord, digest: DigestOf): Promise<Uint8Array> {
  const encoder = new TextEncoder();
  const body = encoder.encode(JSON.stringify(record));
  const head = encoder.encode(`${await digest(memorySource(body))}\n`);
  const bytes = new Uint8Array(head.length + body.length);
  bytes.set(head);
  bytes.set(body, head.length);
  return bytes;
}

/** Reads a record's file; null for one that is cut, damaged, or of another version. */
export async function readRecord(bytes: Uint8Array, digest: DigestOf): Promise<PlaceRecord | null> {
  const end = bytes.indexOf(0x0a);
  const body = bytes.subarray(end + 1);
  if (end < 0 || (await digest(memorySource(body))) !== UTF8.decode(bytes.subarray(0, end))) return null;
  const told = parseJson(UTF8.decode(body));
  // Up to version 1 every file belonged to an item.
  if (!isPlaceRecord(told)) return null;
  const record = told as PlaceRecord;
  return { ...record, version: 2, files: record.files.map(ownedFile) };
}

/**
 * Replaces a record: the new one is written in full before the old one is removed. An empty one is removed for good. If
 * the place refuses it, the earlier record or none remains, which does no harm.
 */
export async function keepRecord<Content>(
  store: Store<Content>,
  record: PlaceRecord,
  make: (record: PlaceRecord) => Promise<Content>,
): Promise<void> {
  try {
    const start = startOf(record.writer, record.target);
    const before = (await store.listHeld(RECORD_FOLDER)).filter(({ path }) => path.startsWith(start));
    const serial = 1 + Math.max(0, ...before.map(({ path }) => serialOf(path)));
    const isEmpty = record.files.length + record.coming.length === 0;
    if (!isEmpty) await store.write(recordPath(record, serial), await make(record));
    for (const { path } of before) await store.remove(path);
    if (isEmpty) for (const folder of [RECORD_FOLDER, HOLD_FOLDER]) await store.removeEmptyFolder(folder);
  } catch (error) {
    if (!(error instanceof StoreError)) throw error;
  }
}

/** Of several records of one writer, the last that was written whole. */
export function newestRecords(read: ReadonlyMap<string, PlaceRecord | null>): readonly PlaceRecord[] {
  const newest = new Map<string, { readonly serial: number; readonly record: PlaceRecord }>();
  for (const [path, record] of read) {
    if (!record || !path.startsWith(startOf(record.writer, record.target))) continue;
    const key = `${record.writer} ${record.target}`;
    const serial = serialOf(path);
    if ((newest.get(key)?.serial ?? 0) < serial) newest.set(key, { serial, record });
  }
  return [...newest.values()].map(({ record }) => record);
}
