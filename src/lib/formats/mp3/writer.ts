import { fresh, kept, type ByteSource, type Span } from '$lib/core/bytes';
import type { NativeRead, Rewrite, TagChanges } from '../format';
import { asId3v23, changeId3v1, chapterPicture, saidById3, writeId3 } from '../id3';
import { changeApe } from './ape';
import { readMp3 } from './reader';

/** What its ID3v2 tag says, or null where it has none or an empty one. @throws {FormatError} when the file is no MP3 */
export async function readNative(source: ByteSource): Promise<NativeRead | null> {
  const { tag } = await readMp3(source);
  return tag && saidById3(tag);
}

/** The bytes of one of its chapters' pictures. @throws {FormatError} when the file is no MP3 */
export async function readChapterPicture(
  source: ByteSource,
  hash: number,
): Promise<{ readonly mime: string; readonly bytes: Uint8Array } | null> {
  const { tag } = await readMp3(source);
  return tag && chapterPicture(tag, hash);
}

/**
 * An MP3 file with changed tags: a new ID3v2 tag, the sound kept, ID3v1 and an APE tag in step where there are any.
 * @throws {FormatError} when the file is no MP3
 */
export async function rewrite(source: ByteSource, changes: TagChanges): Promise<Rewrite> {
  const { tag, audioStart, audioEnd, ape, id3v1 } = await readMp3(source);
  const goal = tag?.version === 4 && changes.id3 === 3 ? asId3v23(tag, changes) : { tag, changes };
  const spans: Span[] = [fresh(writeId3(goal.tag, goal.changes)), kept(audioStart, audioEnd)];
  const apeEnd = source.size - (id3v1?.length ?? 0);
  if (ape) {
    const changed = changeApe(ape, changes.fields);
    spans.push(changed ? fresh(changed) : kept(audioEnd, apeEnd));
  }
  if (id3v1) spans.push(fresh(changeId3v1(id3v1, changes.fields)));
  return { spans, payload: [{ start: audioStart, end: audioEnd }] };
}
