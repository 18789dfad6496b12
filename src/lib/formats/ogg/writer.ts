import {
  cachedSource,
  concat,
  fresh,
  kept,
  u24,
  type ByteRange,
  type ByteSource,
  type Span,
} from '$lib/core/bytes';
import { FormatError, limitParts, type NativeRead, type Rewrite, type TagChanges } from '../format';
import {
  OPUS_MAP,
  VORBIS_MAP,
  changeCommentPictures,
  changeVorbisComment,
  emptyComment,
  parseVorbisComment,
  readComment,
  vorbisCommentBytes,
} from '../vorbis-comment';
import { headerPages, readPage, renumbered } from './pages';
import { COMMENT_MARK_BYTES, codecOf, commentBytes, readHeaderPackets, type OggCodec } from './stream';

/** Pages of one file: a day of sound at one page a tenth of a second has a million. */
const MOST_PAGES = 2_000_000;
/** Bytes that are read at once where all pages are looked at: one in ten thousand of them is a header. */
const READ_BYTES = 1_048_576;
/** A FLAC block's length is a 24-bit number (RFC 9639, section 8.1). */
const MOST_BLOCK_BYTES = 0xffffff;

const mapOf = (codec: OggCodec | null) => (codec === 'opus' ? OPUS_MAP : VORBIS_MAP);

/** What its comments say. @throws {FormatError} when its header packets cannot be read */
export async function readNative(source: ByteSource): Promise<NativeRead | null> {
  const headers = await readHeaderPackets(source);
  const codec = codecOf(headers.packets[0] ?? new Uint8Array(0));
  const comment = codec && commentBytes(headers, codec);
  return comment && readComment(parseVorbisComment(comment), mapOf(codec));
}

/**
 * An Ogg file of one stream with changed comments (RFC 3533; RFC 7845, section 5.2; Vorbis I, section 5). Its header
 * packets are laid in pages anew, in as many as before where they can; else the pages behind them are counted anew, and
 * keep their bodies.
 * @throws {FormatError} `damaged` where several streams are mixed, or pages do not follow each other
 */
export async function rewrite(source: ByteSource, changes: TagChanges): Promise<Rewrite> {
  const { packets, end, isApart } = await readHeaderPackets(source);
  const [first, old, ...others] = packets;
  const codec = first && codecOf(first);
  const opening = await readPage(source, 0);
  if (!codec || !old || !opening) throw new FormatError('damaged', 'it has no comment packet');
  if (!isApart) throw new FormatError('damaged', 'sound lies on the pages of its header packets');
  const pages = await countPages(source, opening.serial, end);
  const packet = commentPacket(old, codec, changes);
  const headers = headerPages([packet, ...others], opening.serial, opening.sequence + 1, pages - 1);
  const behind = await pagesBehind(source, end, opening.serial, headers.length - (pages - 1));
  return {
    spans: [kept(0, opening.end), ...headers.map(fresh), ...behind.spans],
    payload: behind.payload,
  };
}

/** Pages up to `end`, which must all be of one stream. */
async function countPages(source: ByteSource, serial: number, end: number): Promise<number> {
  let count = 0;
  for (let at = 0; at < end; count++) {
    const page = await readPage(source, at);
    if (page?.serial !== serial) throw new FormatError('damaged', 'several streams begin in it');
    at = page.end;
  }
  return count;
}

/** The packet with the comments, with what stands before and behind them. */
function commentPacket(old: Uint8Array, codec: OggCodec, changes: TagChanges): Uint8Array {
  const mark = COMMENT_MARK_BYTES[codec];
  if (codec === 'oggFlac' && ((old[0] ?? 0) & 0x7f) !== 4)
    throw new FormatError('damaged', 'its second packet holds no comments');
  const body = old.subarray(mark);
  const before = body.length > 0 ? parseVorbisComment(body) : emptyComment();
  const tail = body.subarray(vorbisCommentBytes(before).length);
  const changed = changeVorbisComment(before, changes, mapOf(codec));
  const bytes = vorbisCommentBytes(changeCommentPictures(changed, changes.pictures ?? new Map()));
  switch (codec) {
    case 'vorbis':
      // A framing bit closes it (Vorbis I, section 5.2.3).
      return concat([old.subarray(0, mark), bytes, Uint8Array.of(1)]);
    case 'opus':
      // What is marked by its lowest bit stays (RFC 7845, section 5.2); other room behind the comments does not.
      return concat([old.subarray(0, mark), bytes, (tail[0] ?? 0) & 1 ? tail : new Uint8Array(0)]);
    case 'oggFlac':
      if (bytes.length > MOST_BLOCK_BYTES)
        throw new FormatError('tooLarge', 'a FLAC block holds at most 16 MiB');
      return concat([old.subarray(0, 1), u24(bytes.length), bytes]);
  }
}

/**
 * What lies behind the header packets, with the pages of the stream counted anew by so many.
 * @returns bodies of the pages as its payload, for they are all that has to stay
 */
async function pagesBehind(
  source: ByteSource,
  start: number,
  serial: number,
  by: number,
): Promise<{ spans: Span[]; payload: ByteRange[] }> {
  // Nothing moves: what follows is one piece.
  if (by === 0) return { spans: [kept(start, source.size)], payload: [{ start, end: source.size }] };
  const spans: Span[] = [];
  const payload: ByteRange[] = [];
  const reading = cachedSource(source, READ_BYTES, 2);
  let at = start;
  for (let count = 1; at < source.size; count++) {
    limitParts(count, 'pages', MOST_PAGES);
    const page = await readPage(reading, at);
    if (!page) throw new FormatError('damaged', `no page begins at byte ${at}`);
    const end = Math.min(page.end, source.size);
    // Another stream may follow when this one is over: its pages are counted for themselves.
    if (page.serial !== serial) {
      spans.push(kept(at, source.size));
      payload.push({ start: at, end: source.size });
      break;
    }
    const head = renumbered(await reading.read(at, page.body), page, page.sequence + by);
    spans.push(fresh(head), kept(at + head.length, end));
    payload.push({ start: page.body, end });
    at = end;
  }
  return { spans, payload };
}
