import type { ByteSource, Span } from '$lib/core/bytes';
import { cachedSource } from '$lib/core/bytes';
import {
  EMPTY_FIELDS,
  FIELDS,
  PARTS,
  readOtherwise,
  sameInTags,
  type Chapter,
  type ChosenPicture,
  type Fields,
  type PictureId,
  type PictureRole,
} from '$lib/core/items';
import { encodeListText } from '$lib/core/list-files';
import type { OwnPicture, PictureLimits, Recipe, Retagging, SmallerPictures } from '$lib/core/plan';
import { StepError, StoreError, type WritingStep } from '$lib/core/run';
import { FormatError, WRITABLE, type NewPicture } from '$lib/formats';
import { readPicture, readPictureSize } from '$lib/formats/reading';
import { blobSource } from '$lib/io/blob-source';
import { PictureError, toJpeg, within } from '$lib/io/pictures';
import { spanBlob } from '$lib/io/span-blob';
import { findTwinFile } from '$lib/io/twin-files';
import { TWIN_FOLDER, findInFolder, isReachable } from '$lib/io/twin-folder';
import type { LibraryStorage } from '$lib/io/storage';
import type { Twin } from '$lib/core/twins';
import { OpenError, openItem } from '$lib/io/take-in/open-item';

type CopyStep = Extract<WritingStep, { type: 'copy' }>;
type PictureStep = Extract<WritingStep, { type: 'writePicture' }>;

/** What goes wrong with one file ends its step, and never the run. @throws {StepError | StoreError} */
export async function ofOneFile<T>(path: string, act: () => Promise<T>): Promise<T> {
  try {
    return await act();
  } catch (error) {
    if (error instanceof StepError || error instanceof StoreError) throw error;
    if (error instanceof DOMException && error.name === 'QuotaExceededError')
      throw new StepError(
        'cannotRewrite',
        `${path}: the browser has no room to lay it anew; free some and run again`,
      );
    throw new StepError('unreadable', `${path}: ${error instanceof Error ? error.message : String(error)}`);
  }
}

/** The bytes that a step puts on the player. @throws {StepError} when they cannot be made */
export function makeContent(step: WritingStep, storage: LibraryStorage): Promise<Blob> {
  return ofOneFile(step.type === 'writeText' ? step.path : step.original.path, () =>
    contentOf(step, storage),
  );
}

async function contentOf(step: WritingStep, storage: LibraryStorage): Promise<Blob> {
  switch (step.type) {
    case 'writeText':
      return new Blob([encodeListText(step.text, step.encoding ?? 'utf-8')], { type: step.mime });
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
  const { recipe } = step;
  switch (recipe.type) {
    case 'asIs':
      return openOriginal(step, storage);
    case 'retag': {
      const original = await openOriginal(step, storage);
      return spanBlob(original, await spansOf(blobSource(original), recipe, storage));
    }
    case 'twin': {
      const twin = await openTwin(recipe, step, storage);
      // Without a picture that goes along, its original need not be there.
      const pictures =
        recipe.pictures.length > 0
          ? { from: blobSource(await openOriginal(step, storage)), own: recipe.pictures }
          : null;
      return spanBlob(twin, await spansOf(blobSource(twin), recipe, storage, pictures));
    }
  }
}

async function openTwin(
  { twin: id, format }: Extract<Recipe, { type: 'twin' }>,
  { original: { path } }: CopyStep,
  storage: LibraryStorage,
): Promise<Blob> {
  const file =
    (await findTwinFile(storage.library, id)) ?? (await findInTwinFolder({ id, format }, path, storage));
  if (file) return file;
  throw new StepError('unreadable', `the twin of ${path} is gone; make it again`);
}

async function findInTwinFolder(
  twin: Pick<Twin, 'id' | 'format'>,
  path: string,
  storage: LibraryStorage,
): Promise<Blob | null> {
  const folder = await storage.handles.find(TWIN_FOLDER);
  if (!folder) return null;
  const shut = (why: string) =>
    new StepError('unreadable', `the folder with the twin of ${path} ${why} on Prepare, and run again`);
  let file: File | null;
  try {
    file = await findInFolder(folder, twin);
  } catch {
    throw shut('cannot be read; allow access');
  }
  if (!file && !(await isReachable(folder))) throw shut('is not there; connect its disk, look again');
  return file;
}

/** Pictures of another file that go into one. */
interface CarriedPictures {
  readonly from: ByteSource;
  readonly own: readonly OwnPicture[];
}

/**
 * A file with other tags, as spans of it.
 * @param carried pictures of another file, where its own are not those that are meant
 * @throws {StepError} when they cannot be written
 */
export async function spansOf(
  original: ByteSource,
  { format, changes, kind, expect, id3, encoding, smaller }: Retagging,
  storage: LibraryStorage,
  carried: CarriedPictures | null = null,
): Promise<readonly Span[]> {
  const writable = WRITABLE.get(format);
  if (!writable) throw new StepError('cannotRewrite', `tags of ${format} cannot be written`);
  const { fields = {}, pictures = {}, ...others } = changes;
  try {
    const { rewrite } = await writable.load();
    const chosen = new Map<PictureRole, NewPicture | null>();
    for (const [role, picture] of Object.entries(pictures))
      chosen.set(role as PictureRole, picture && (await chosenPicture(picture, storage)));
    if (smaller) await makeSmaller(carried?.from ?? original, smaller, chosen);
    if (carried) await carry(carried, chosen);
    const { spans } = await rewrite(cachedSource(original), {
      ...others,
      fields,
      all: expect,
      pictures: chosen,
      chapterPictures: await chapterPictures(others.chapters, storage),
      ...(kind && { kind }),
      ...(id3 && { id3 }),
      ...(encoding && { encoding }),
    });
    return spans;
  } catch (error) {
    if (error instanceof FormatError) throw new StepError('cannotRewrite', `${error.code}: ${error.message}`);
    if (error instanceof PictureError) throw new StepError('cannotRewrite', error.message);
    throw error;
  }
}

/** Takes pictures along as they are, where none of their role was chosen or made smaller. */
async function carry(
  { from, own }: CarriedPictures,
  chosen: Map<PictureRole, NewPicture | null>,
): Promise<void> {
  for (const { index, role } of own) {
    const picture = chosen.has(role) ? null : await readPicture(from, index);
    if (picture) chosen.set(role, await asWritten(picture));
  }
}

/** Bounds beyond any picture: those that are made smaller by them are merely brought into a form that tags hold. */
const NO_LIMITS: PictureLimits = { pixels: null, bytes: null };

/** A picture as tags hold it: JPEG and PNG as they are, others as one of them. */
async function asWritten({ mime, bytes }: Pick<NewPicture, 'mime' | 'bytes'>): Promise<NewPicture> {
  const size = mime === 'image/jpeg' || mime === 'image/png' ? readPictureSize(bytes) : null;
  return size ? { mime, bytes, ...size } : smallerPicture({ mime, bytes }, NO_LIMITS);
}

/** Brings pictures that go into tags within limits; of several of one role, the first takes the place of all. */
async function makeSmaller(
  original: ByteSource,
  { limits, own, chosen: roles }: SmallerPictures,
  chosen: Map<PictureRole, NewPicture | null>,
): Promise<void> {
  for (const role of roles) {
    const picture = chosen.get(role);
    if (picture) chosen.set(role, await smallerPicture(picture, limits));
  }
  for (const { index, role } of own) {
    const picture = chosen.has(role) ? null : await readPicture(original, index);
    if (picture) chosen.set(role, await smallerPicture(picture, limits));
  }
}

async function smallerPicture(
  { mime, bytes }: Pick<NewPicture, 'mime' | 'bytes'>,
  limits: PictureLimits,
): Promise<NewPicture> {
  const { blob, ...made } = await within(
    new Blob([bytes as Uint8Array<ArrayBuffer>], { type: mime }),
    limits,
  );
  return { ...made, bytes: new Uint8Array(await blob.arrayBuffer()) };
}

/** Pictures of chapters that lie in the library, by their ids. */
async function chapterPictures(
  chapters: readonly Chapter[] | undefined,
  storage: LibraryStorage,
): Promise<ReadonlyMap<PictureId, NewPicture>> {
  const pictures = new Map<PictureId, NewPicture>();
  for (const { picture } of chapters ?? [])
    if (picture && 'id' in picture && !pictures.has(picture.id))
      pictures.set(picture.id, await chosenPicture(picture, storage));
  return pictures;
}

async function chosenPicture(
  { id, width, height }: ChosenPicture,
  storage: LibraryStorage,
): Promise<NewPicture> {
  const blob = await storage.pictures.find(id);
  if (!blob) throw new StepError('unreadable', 'the chosen picture is gone from the browser');
  return { mime: 'image/jpeg', width, height, bytes: new Uint8Array(await blob.arrayBuffer()) };
}

async function makePicture(step: PictureStep, storage: LibraryStorage): Promise<Blob> {
  const { picture } = step;
  try {
    if (picture.chosen) {
      const chosen = await storage.pictures.find(picture.chosen);
      if (!chosen) throw new StepError('unreadable', 'the chosen picture is gone from the browser');
      return (await toJpeg(chosen)).blob;
    }
    const own = await readPicture(blobSource(await openOriginal(step, storage)), picture.index);
    if (!own) throw new StepError('unreadable', `${step.original.path} holds no picture any more`);
    return (await toJpeg(new Blob([own.bytes as Uint8Array<ArrayBuffer>], { type: own.mime }))).blob;
  } catch (error) {
    if (error instanceof PictureError) throw new StepError('cannotRewrite', error.message);
    throw error;
  }
}

/** Reads back what a step wrote. @throws {StepError} when it does not say what it should */
export async function checkWritten(
  step: WritingStep,
  written: ByteSource,
  storage: LibraryStorage,
): Promise<void> {
  if (step.type !== 'copy' || step.recipe.type === 'asIs') return;
  const { recipe } = step;
  await ofOneFile(step.path, async () => {
    const from =
      recipe.type === 'twin' ? await openTwin(recipe, step, storage) : await openOriginal(step, storage);
    await checkTags(recipe, blobSource(from), written);
  });
}

/**
 * Reads what was written, or is about to be, natively and by the rows that wrote it: a changed field must stand there
 * as it was typed, all others as they stood in the original. That all bytes come through is told by their digest.
 * @throws {StepError} on any difference
 */
export async function checkTags(
  { format, changes, expect }: Pick<Retagging, 'format' | 'changes' | 'expect'>,
  original: ByteSource,
  written: ByteSource,
): Promise<void> {
  const writable = WRITABLE.get(format);
  if (!writable) return;
  try {
    const { readNative } = await writable.load();
    const found = (await readNative(cachedSource(written))) ?? {
      fields: EMPTY_FIELDS,
      chapters: [],
      timed: [],
    };
    const before = await readNative(cachedSource(original));
    // A tag that was not there before says all that the file is to say.
    const wanted: Fields = before ? { ...before.fields, ...changes.fields } : expect;
    const differing = FIELDS.filter(({ name }) => !sameInTags(wanted[name], found.fields[name]));
    const { fields: _, ...others } = changes;
    const parts = readOtherwise(others, found).map((name) => PARTS[name]);
    if (differing.length + parts.length === 0) return;
    const labels = [...parts, ...differing].map(({ label }) => label).join(', ');
    throw new StepError('readBackDiffers', `reads back otherwise: ${labels}`);
  } catch (error) {
    if (error instanceof FormatError)
      throw new StepError('readBackDiffers', `cannot be read back: ${error.message}`);
    throw error;
  }
}
