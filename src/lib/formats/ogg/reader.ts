import { readU16, readU32le, type ByteSource } from '$lib/core/bytes';
import type { Stream } from '$lib/core/items';
import { parseVorbisComment, type VorbisComment } from '../vorbis-comment';
import {
  codecOf,
  commentBytes,
  preSkipOf,
  readHeaderPackets,
  readOggDuration,
  type OggCodec,
} from './stream';

/** What an Ogg file of one stream says of itself. */
export interface OggRead {
  readonly stream: Stream;
  readonly durationSeconds: number | null;
  readonly comment: VorbisComment | null;
}

const CODEC_NAMES: Readonly<Record<OggCodec, string>> = { opus: 'Opus', vorbis: 'Vorbis I', oggFlac: 'FLAC' };
/** Opus says what was recorded, and may leave that open; it is played at this rate (RFC 7845, section 5.1). */
const OPUS_RATE = 48_000;
/** The mapping's header, the mark and the header of the block before what STREAMINFO holds (RFC 9639, section 10.1). */
const STREAM_INFO_AT = 17;

/** @throws {FormatError} when its header packets cannot be read */
export async function readOgg(source: ByteSource, codec: OggCodec): Promise<OggRead> {
  const headers = await readHeaderPackets(source);
  const [first = new Uint8Array(0)] = headers.packets;
  const { channels, rate } = soundOf(first, codecOf(first) ?? codec);
  const comment = commentBytes(headers, codec);
  const isOpus = codec === 'opus';
  const durationSeconds = await readOggDuration(
    source,
    isOpus ? null : rate || 44_100,
    isOpus ? preSkipOf(headers) : 0,
  );
  return {
    stream: {
      type: 'sound',
      codec: CODEC_NAMES[codec],
      channels: channels || null,
      sampleRate: rate || null,
      width: null,
      height: null,
    },
    durationSeconds,
    comment: comment && parseVorbisComment(comment),
  };
}

/** Channels, and hertz, as the first packet says them; 0 where it does not. */
function soundOf(first: Uint8Array, codec: OggCodec): { channels: number; rate: number } {
  switch (codec) {
    case 'opus':
      return { channels: first[9] ?? 0, rate: readU32le(first, 12) || OPUS_RATE };
    case 'vorbis':
      return { channels: first[11] ?? 0, rate: readU32le(first, 12) };
    case 'oggFlac': {
      const at = STREAM_INFO_AT + 10;
      const bits = first[at + 2] ?? 0;
      return {
        channels: first.length > at + 2 ? ((bits >> 1) & 7) + 1 : 0,
        rate: (readU16(first, at) << 4) | (bits >> 4),
      };
    }
  }
}
