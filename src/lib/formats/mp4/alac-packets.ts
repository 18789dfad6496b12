import { readAscii, readU32, type ByteSource } from '$lib/core/bytes';
import { readConfig, type AlacConfig } from '../alac';
import { FormatError } from '../format';
import { findPath, parseBoxes, type Box } from './boxes';
import { readMp4, wholeBox } from './reader';
import { readPlaces } from './sample-tables';

/** Apple Lossless in an MP4: what its decoder needs, and where its packets lie. */
export interface AlacTrack {
  readonly config: AlacConfig;
  readonly packets: readonly { readonly start: number; readonly size: number }[];
}

/** Bytes of a sample entry before the boxes in it (section 12.2.3). */
const ENTRY_BYTES = 36;

/** The first sound of a file, where it is Apple Lossless; null where it is something else. @throws {FormatError} */
export async function readAlacTrack(source: ByteSource): Promise<AlacTrack | null> {
  const structure = await readMp4(source);
  const { moovBytes } = structure;
  const whole = wholeBox(structure);
  for (const trak of parseBoxes(moovBytes, whole.content, whole.end)) {
    const config = trak.type === 'trak' ? configIn(moovBytes, trak) : null;
    if (!config) continue;
    const table = findPath(moovBytes, trak, 'mdia', 'minf', 'stbl');
    const sizes = table && findPath(moovBytes, table, 'stsz');
    if (!table || !sizes) throw new FormatError('damaged', 'it does not say where its sound lies');
    // No more than the file has room for: what its table says beyond that is a lie.
    const uniform = readU32(moovBytes, sizes.content + 4);
    const room = uniform > 0 ? source.size / uniform : (sizes.end - sizes.content - 12) / 4;
    const count = Math.min(readU32(moovBytes, sizes.content + 8), Math.floor(room));
    return { config, packets: readPlaces(moovBytes, table, count) };
  }
  return null;
}

function configIn(bytes: Uint8Array, trak: Box): AlacConfig | null {
  const description = findPath(bytes, trak, 'mdia', 'minf', 'stbl', 'stsd');
  if (!description) return null;
  const entry = description.content + 8;
  if (readAscii(bytes, entry + 4, 4) !== 'alac') return null;
  const end = Math.min(description.end, entry + readU32(bytes, entry));
  // Movie files wrap it once more.
  const boxes = parseBoxes(bytes, entry + ENTRY_BYTES, end);
  const own = boxes.find(({ type }) => type === 'alac') ?? null;
  const wrapped = own ?? boxes.map((box) => findPath(bytes, box, 'alac')).find((box) => box !== null) ?? null;
  if (!wrapped) throw new FormatError('damaged', 'it does not say how its ALAC is decoded');
  return readConfig(bytes.subarray(wrapped.content + 4, wrapped.end));
}
