import type { ByteSource } from '$lib/core/bytes';
import { PICTURE_ROLES } from '$lib/core/items';
import { BLOCK, readFlac, readStreamInfo, type FlacStructure } from '../flac';
import { readId3, readTag } from '../id3';
import { pictureFact } from '../picture-fact';
import {
  namedEntries,
  parsePictureBlock,
  parseVorbisComment,
  picturesIn,
  readComment,
  type PictureBlock,
  type VorbisComment,
} from '../vorbis-comment';
import { NOTHING_SAID, inTime, soundStream, type FormatRead, type PictureBytes } from './media-read';
import { commentTags } from './native-tags';
import { id3Pictures, readId3Said } from './read-id3';
import { checkFlac } from './whole';

/** @throws {FormatError} when its blocks cannot be read, or its end is missing */
export async function readFlacMedia(source: ByteSource, evenCut: boolean): Promise<FormatRead> {
  const flac = await readFlac(source);
  const [first] = flac.blocks;
  const info = readStreamInfo(await source.read(first?.start ?? 0, first?.end ?? 0));
  if (!evenCut) await checkFlac(source, flac, info);
  const { samples, sampleRate, channels, bits } = info;
  const facts = {
    streams: [soundStream('FLAC', channels, sampleRate || null, bits)],
    durationSeconds: samples > 0 && sampleRate > 0 ? samples / sampleRate : null,
  };
  const comment = await commentOf(source, flac);
  const pictures = (await blockPictures(source, flac, comment)).map(({ code, mime, bytes }) =>
    pictureFact(PICTURE_ROLES[code] ?? 'other', mime, bytes),
  );
  if (!comment) {
    // A foreign tag in front counts only where the file has no comments of its own.
    const foreign = flac.start > 0 ? await readId3(source) : null;
    const said = foreign && readId3Said(foreign, readTag(foreign));
    return {
      format: 'flac',
      native: said?.native ?? [],
      facts: { ...facts, tagFormats: said ? [said.sort] : [] },
      file: {
        fields: said?.fields ?? NOTHING_SAID.fields,
        pictures: [...(said?.pictures ?? []), ...pictures],
        chapters: [],
      },
    };
  }
  const read = readComment(comment);
  return {
    format: 'flac',
    native: commentTags(namedEntries(comment)),
    facts: { ...facts, tagFormats: ['vorbis'] },
    file: { fields: read.fields, pictures, ...inTime(read) },
  };
}

/** The bytes of its pictures, in the order in which its facts list them. */
export async function flacPictures(source: ByteSource): Promise<readonly PictureBytes[]> {
  const flac = await readFlac(source);
  const comment = await commentOf(source, flac);
  const foreign = !comment && flac.start > 0 ? await readId3(source) : null;
  return [...(foreign ? id3Pictures(foreign) : []), ...(await blockPictures(source, flac, comment))];
}

async function commentOf(source: ByteSource, { blocks }: FlacStructure): Promise<VorbisComment | null> {
  const block = blocks.find(({ type }) => type === BLOCK.vorbisComment);
  return block ? parseVorbisComment(await source.read(block.start, block.end)) : null;
}

/** Pictures of blocks, and those of comments behind them. One that cannot be read is none. */
async function blockPictures(
  source: ByteSource,
  { blocks }: FlacStructure,
  comment: VorbisComment | null,
): Promise<readonly PictureBlock[]> {
  const found: PictureBlock[] = [];
  for (const { type, start, end } of blocks) {
    if (type !== BLOCK.picture) continue;
    try {
      found.push(parsePictureBlock(await source.read(start, end)));
    } catch {
      // Its lengths lie: nothing else depends on them.
    }
  }
  return [...found, ...(comment ? picturesIn(namedEntries(comment)) : [])];
}
