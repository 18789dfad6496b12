import type { ByteSource } from '$lib/core/bytes';
import { cachedSource } from '$lib/core/bytes';
import { FIELDS, fieldText, type Fields } from '$lib/core/items';
import { StepError, type WritingStep } from '$lib/core/run';
import { FormatError, WRITABLE, type NewPicture } from '$lib/formats';
import { readPicture, readTags } from '$lib/formats/reading';
import { blobSource } from '$lib/io/blob-source';
import { PictureError, toJpeg } from '$lib/io/pictures';
import { spanBlob } from '$lib/io/span-blob';
import type { LibraryStorage } from '$lib/io/storage/library-storage';
import { OpenError, openItem } from '$lib/io/take-in/open-item';

type CopyStep = Extract<WritingStep, { type: 'copy' }>;
type PictureStep = Extract<WritingStep, { type: 'writePicture' }>;

/** The bytes that a step puts on the player. @throws {StepError} when they cannot be made */
export async function makeContent(step: WritingStep, storage: LibraryStorage): Promise<Blob> {
  switch (step.type) {
    case 'writeSidecar':
      return new Blob([step.text], { type: 'application/xml' });
    case 'writePicture':
      return makePicture(step, storage);
    case 'copy':
      return makeCopy(step, storage);
  }
}

async function openOriginal({ original }: CopyStep | PictureStep, storage: LibraryStorage): Promise<Blob> {
  try {
    const blob = await openItem(storage, original.source, original.path);
    if (blob.size !== original.size)
      throw new StepError('unreadable', `${original.path} has changed since it was taken in`);
    return blob;
  } catch (error) {
    if (error instanceof OpenError) throw new StepError('unreadable', `${original.path}: ${error.code}`);
    throw error;
  }
}

async function makeCopy(step: CopyStep, storage: LibraryStorage): Promise<Blob> {
  const original = await openOriginal(step, storage);
  if (!step.changes) return original;
  const format = WRITABLE.get(step.format);
  if (!format) throw new StepError('cannotRewrite', `tags of ${step.format} cannot be written`);
  const { edits, picture } = step.changes;
  try {
    const { rewrite } = await format.load();
    const newPicture = picture && (await chosenPicture(picture.id, picture.width, picture.height, storage));
    const { spans } = await rewrite(cachedSource(blobSource(original)), {
      fields: edits,
      picture: newPicture,
    });
    return spanBlob(original, spans);
  } catch (error) {
    if (error instanceof FormatError) throw new StepError('cannotRewrite', `${error.code}: ${error.message}`);
    throw error;
  }
}

async function chosenPicture(
  id: Parameters<LibraryStorage['findPicture']>[0],
  width: number,
  height: number,
  storage: LibraryStorage,
): Promise<NewPicture> {
  const blob = await storage.findPicture(id);
  if (!blob) throw new StepError('unreadable', 'the chosen picture is gone from the browser');
  return { mime: 'image/jpeg', width, height, bytes: new Uint8Array(await blob.arrayBuffer()) };
}

async function makePicture(step: PictureStep, storage: LibraryStorage): Promise<Blob> {
  const { picture } = step;
  try {
    if (picture.chosen) {
      const chosen = await storage.findPicture(picture.chosen);
      if (!chosen) throw new StepError('unreadable', 'the chosen picture is gone from the browser');
      return (await toJpeg(chosen)).blob;
    }
    const own = await readPicture(
      blobSource(await openOriginal(step, storage)),
      step.original.path,
      picture.index,
    );
    if (!own) throw new StepError('unreadable', `${step.original.path} holds no picture any more`);
    return (await toJpeg(new Blob([own.bytes as Uint8Array<ArrayBuffer>], { type: own.mime }))).blob;
  } catch (error) {
    if (error instanceof PictureError) throw new StepError('cannotRewrite', error.message);
    throw error;
  }
}

/** Reads back what was written and holds it against the step. @throws {StepError} on any difference */
export async function checkWritten(step: WritingStep, written: ByteSource): Promise<void> {
  if (step.type !== 'copy') return;
  if (!step.expect) {
    if (written.size !== step.original.size)
      throw new StepError('readBackDiffers', `${written.size} bytes came through`);
    return;
  }
  const { fields } = await readTags(written, step.path);
  const differing = FIELDS.filter(({ name }) => !sameValue(step.expect as Fields, fields, name)).map(
    ({ label }) => label,
  );
  if (differing.length > 0)
    throw new StepError('readBackDiffers', `reads back otherwise: ${differing.join(', ')}`);
}

/** Readers part several values in ways of their own, and drop blanks around them. */
function sameValue(wanted: Fields, found: Fields, name: keyof Fields): boolean {
  const plain = (value: Fields[keyof Fields]) =>
    fieldText(value === false ? null : value)
      .replace(/\s*[;/]\s*/g, '/')
      .replace(/\s+/g, ' ')
      .trim();
  return plain(wanted[name]) === plain(found[name]);
}
