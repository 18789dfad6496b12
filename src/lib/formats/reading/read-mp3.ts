import type { ByteSource } from '$lib/core/bytes';
import { readId3, saidById3, type Id3Tag } from '../id3';
import {
  findFirstFrame,
  isFrameHeader,
  readMp3,
  readStreamLength,
  reckonSeconds,
  type FrameHeader,
} from '../mp3';
import { soundStream, type FormatRead, type PictureBytes } from './media-read';
import { packagePictures, readPackaged } from './read-packaged';
import { id3Pictures, readId3Said } from './read-id3';
import { mp3View } from './view';
import { checkMp3, firstMp3Frame } from './whole';

/**
 * An MP3 file by its leading tag and its first frame. One whose tag says nothing may have older tags behind the sound:
 * those the parsing package reads.
 * @throws {FormatError} when no sound follows its tag, or its end is missing
 */
export async function readMp3Media(source: ByteSource, evenCut: boolean): Promise<FormatRead> {
  const tag = await readId3(source);
  const start = await soundStart(source, tag?.size ?? 0);
  if (!evenCut) await checkMp3(source, start);
  const { at, header } = await firstMp3Frame(source, start);
  const length = readStreamLength(await source.read(at, at + 512));
  const read = tag && saidById3(tag);
  if (!read) return readPackaged(mp3View(source, tag, start), 'mp3', null);
  const end = length.bytes === null ? (await readMp3(source)).audioEnd : at + length.bytes;
  const { seconds, isAbout } =
    length.frames === null
      ? await reckonSeconds(source, at, end, header)
      : { seconds: countedSeconds(header, length.frames), isAbout: false };
  const { native, sort, ...file } = readId3Said(tag, read);
  return {
    format: 'mp3',
    native,
    file,
    facts: {
      tagFormats: [sort],
      streams: [
        soundStream(`MPEG ${header.version} Layer ${header.layer}`, header.channels, header.sampleRate),
      ],
      durationSeconds: seconds,
      soundBytes: Math.max(0, end - at),
      ...(isAbout && { isAbout }),
    },
  };
}

const countedSeconds = ({ samples, sampleRate }: FrameHeader, frames: number): number =>
  (frames * samples) / sampleRate;

/** The bytes of its pictures, in the order in which its facts list them. */
export async function mp3Pictures(source: ByteSource): Promise<readonly PictureBytes[]> {
  const tag: Id3Tag | null = await readId3(source);
  if (tag && saidById3(tag)) return id3Pictures(tag);
  const start = await soundStart(source, tag?.size ?? 0);
  return packagePictures(mp3View(source, tag, start), 'mp3');
}

/** Tags before the sound beside the first; more are damage. */
const MOST_LEADING_TAGS = 8;

async function soundStart(source: ByteSource, first: number): Promise<number> {
  let at = first;
  for (let count = 0; first > 0 && count < MOST_LEADING_TAGS; count++) {
    const next = await readId3(source, at);
    if (!next) break;
    at += next.size;
  }
  const head = await source.read(at, at + 4);
  return isFrameHeader(head, 0) ? at : ((await findFirstFrame(source, at)) ?? at);
}
