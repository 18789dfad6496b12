import type { ByteSource } from '$lib/core/bytes';
import { readId3, readId3v1, saidById3, type Id3Tag } from '../id3';
import {
  apeFields,
  apePictures,
  apeTexts,
  findFirstFrame,
  isFrameHeader,
  readTail,
  readStreamLength,
  reckonSeconds,
  type FrameHeader,
  type Mp3Structure,
} from '../mp3';
import { EMPTY_FIELDS, type Content, type NativeTag } from '$lib/core/items';
import type { NativeRead } from '../format';
import { pictureFact } from '../picture-fact';
import { NOTHING_SAID, inTime, over, soundStream, type FormatRead, type PictureBytes } from './media-read';
import { textTags } from './native-tags';
import { id3Pictures, readId3Said } from './read-id3';
import { checkMp3, firstMp3Frame } from './whole';

/**
 * An MP3 file by its leading tag and its first frame. One whose tag says nothing may have older tags behind the sound.
 * @throws {FormatError} when no sound follows its tag, or its end is missing
 */
export async function readMp3Media(source: ByteSource, evenCut: boolean): Promise<FormatRead> {
  const tag = await readId3(source);
  const start = await soundStart(source, tag?.size ?? 0);
  if (!evenCut) await checkMp3(source, start);
  const { at, header } = await firstMp3Frame(source, start);
  const length = readStreamLength(await source.read(at, at + 512));
  const read = tag && saidById3(tag);
  let behind: ReturnType<typeof readTail> | null = null;
  const tail = () => (behind ??= readTail(source));
  const end = length.bytes === null ? (await tail()).start : at + length.bytes;
  const { seconds, isAbout } =
    length.frames === null
      ? await reckonSeconds(source, at, end, header)
      : { seconds: countedSeconds(header, length.frames), isAbout: false };
  const { native, sorts, file } = tag && read ? ofTag(tag, read) : ofOldTags(await tail(), tag);
  return {
    format: 'mp3',
    native,
    file,
    facts: {
      tagFormats: sorts,
      streams: [
        soundStream(`MPEG ${header.version} Layer ${header.layer}`, header.channels, header.sampleRate),
      ],
      durationSeconds: seconds,
      soundBytes: Math.max(0, end - at),
      ...(isAbout && { isAbout }),
    },
  };
}

/** What the tags of a file say, and of which sorts they are. */
interface TagsRead {
  readonly native: readonly NativeTag[];
  readonly sorts: readonly string[];
  readonly file: Content;
}

function ofTag(tag: Id3Tag, read: NativeRead): TagsRead {
  const { native, sort, ...file } = readId3Said(tag, read);
  return { native, sorts: [sort], file };
}

/** What tags behind the sound say: APE's has room for what ID3v1 cuts. */
function ofOldTags({ ape, id3v1 }: Pick<Mp3Structure, 'ape' | 'id3v1'>, leading: Id3Tag | null): TagsRead {
  const short = id3v1 && readId3v1(id3v1);
  // A tag of pictures alone says nothing, and shows them.
  const silent = leading && leading.frames.length > 0 ? ofTag(leading, NOTHING_SAID) : null;
  const pictures = (ape ? apePictures(ape) : []).map(({ role, bytes }) =>
    pictureFact(role, mimeOf(bytes), bytes),
  );
  return {
    native: [
      ...(silent?.native ?? []),
      ...(ape ? textTags('APEv2', apeTexts(ape)) : []),
      ...(short ? textTags('ID3v1', short.texts) : []),
    ],
    sorts: [...(silent?.sorts ?? []), ...(ape ? ['APEv2'] : []), ...(short ? ['ID3v1'] : [])],
    file: {
      fields: over(ape ? apeFields(ape) : EMPTY_FIELDS, short?.fields ?? {}),
      pictures: silent?.file.pictures.length ? silent.file.pictures : pictures,
      ...inTime(NOTHING_SAID),
    },
  };
}

/** APE's tags do not say what their pictures are. */
const mimeOf = (bytes: Uint8Array): string => (bytes[0] === 0x89 ? 'image/png' : 'image/jpeg');

const countedSeconds = ({ samples, sampleRate }: FrameHeader, frames: number): number =>
  (frames * samples) / sampleRate;

/** The bytes of its pictures, in the order in which its facts list them. */
export async function mp3Pictures(source: ByteSource): Promise<readonly PictureBytes[]> {
  const tag: Id3Tag | null = await readId3(source);
  const own = tag ? id3Pictures(tag) : [];
  if (tag && (own.length > 0 || saidById3(tag))) return own;
  const { ape } = await readTail(source);
  return ape ? apePictures(ape).map(({ bytes }) => ({ mime: mimeOf(bytes), bytes })) : [];
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
