import { readU32 } from '$lib/core/bytes';
import type { Chapter } from '$lib/core/items';
import { HEADER_BYTES, readSyncSafe, type Id3Tag } from './layout';
import { decodeText, frameContent } from './reader';

/** Chapters of CHAP frames in order of time (ID3v2 Chapter Frame Addendum, section 3.1). */
export function id3Chapters(tag: Id3Tag): readonly Chapter[] {
  const chapters = tag.frames
    .filter((frame) => frame.id === 'CHAP')
    .flatMap((frame) => {
      const content = frameContent(frame, tag.version);
      return content ? [parseChapter(content, tag.version)] : [];
    });
  return chapters.sort((a, b) => a.startSeconds - b.startSeconds);
}

function parseChapter(content: Uint8Array, version: number): Chapter {
  const timesAt = content.indexOf(0) + 1;
  const startSeconds = readU32(content, timesAt) / 1000;
  const subframes = content.subarray(timesAt + 16);
  let title = '';
  for (let at = 0; at + HEADER_BYTES <= subframes.length;) {
    const id = String.fromCharCode(...subframes.subarray(at, at + 4));
    const size = version === 4 ? readSyncSafe(subframes, at + 4) : readU32(subframes, at + 4);
    const data = subframes.subarray(at + HEADER_BYTES, at + HEADER_BYTES + size);
    if (id === 'TIT2') title = decodeText(data[0] ?? 0, data.subarray(1));
    at += HEADER_BYTES + size;
  }
  return { startSeconds, title };
}
