/** Pictures as players want them, by the browser's own decoding and drawing. Runs in pages and workers. */
import { fitCrop, scaledSize, type Crop } from '$lib/core/items';

export interface ReadyPicture {
  readonly blob: Blob;
  readonly mime: 'image/jpeg';
  readonly width: number;
  readonly height: number;
}

export class PictureError extends Error {
  override readonly name = 'PictureError';
}

const QUALITY = 0.9;
/** Larger pictures are scaled down, in pixels per side: players show no more. */
const MOST_PIXELS = 3000;

/** How a picture is made from another. */
export interface PictureOrder {
  readonly crop: Crop;
  /** Pixels of its longer side at the most; null for as many as it has. */
  readonly longest: number | null;
  /** Of JPEG, from 0 to 1. */
  readonly quality: number;
}

/** A part of a picture, scaled, as JPEG. @throws {PictureError} when the browser cannot show or draw it */
export const makePicture = (blob: Blob, order: PictureOrder): Promise<ReadyPicture> =>
  withPixels(blob, (bitmap) => draw(bitmap, order));

async function draw(bitmap: ImageBitmap, { crop, longest, quality }: PictureOrder): Promise<ReadyPicture> {
  const part = fitCrop(crop, bitmap);
  const { width, height } = scaledSize(part, Math.min(longest ?? MOST_PIXELS, MOST_PIXELS));
  const { canvas, pen } = sheet(width, height);
  pen.drawImage(bitmap, part.left, part.top, part.width, part.height, 0, 0, width, height);
  const drawn = await canvas.convertToBlob({ type: 'image/jpeg', quality });
  return { blob: drawn, mime: 'image/jpeg', width, height };
}

/** Room to draw in. JPEG has no transparency: what shines through becomes white. */
function sheet(width: number, height: number) {
  const canvas = new OffscreenCanvas(width, height);
  const pen = canvas.getContext('2d');
  if (!pen) throw new PictureError('the browser gave no room to draw in');
  pen.fillStyle = '#ffffff';
  pen.fillRect(0, 0, width, height);
  pen.imageSmoothingQuality = 'high';
  return { canvas, pen };
}

/** Does something with the pixels of a picture, and lets go of them. @throws {PictureError} when the browser cannot show it */
async function withPixels(
  blob: Blob,
  use: (bitmap: ImageBitmap) => Promise<ReadyPicture>,
): Promise<ReadyPicture> {
  const bitmap = await createImageBitmap(blob).catch(() => {
    throw new PictureError('the browser cannot show this picture');
  });
  try {
    return await use(bitmap);
  } finally {
    bitmap.close();
  }
}

/**
 * A picture as JPEG. A JPEG that needs no change passes through untouched, so that it does not lose by it.
 * @param square crops the longer side evenly; `least` is the side in pixels it is scaled up to
 * @throws {PictureError} when the browser cannot show the picture
 */
export const toJpeg = (blob: Blob, square: { readonly least: number } | null = null): Promise<ReadyPicture> =>
  withPixels(blob, async (bitmap) => {
    const side = Math.min(bitmap.width, bitmap.height);
    const cropWidth = square ? side : bitmap.width;
    const cropHeight = square ? side : bitmap.height;
    const wanted = square
      ? Math.max(square.least, Math.min(side, MOST_PIXELS))
      : Math.max(cropWidth, cropHeight);
    const scale = Math.min(wanted, MOST_PIXELS) / Math.max(cropWidth, cropHeight);
    const width = Math.round(cropWidth * scale);
    const height = Math.round(cropHeight * scale);
    const same = width === bitmap.width && height === bitmap.height;
    if (same && (await isJpeg(blob))) return { blob, mime: 'image/jpeg', width, height };
    const { canvas, pen } = sheet(width, height);
    const left = (bitmap.width - cropWidth) / 2;
    const top = (bitmap.height - cropHeight) / 2;
    pen.drawImage(bitmap, left, top, cropWidth, cropHeight, 0, 0, width, height);
    const drawn = await canvas.convertToBlob({ type: 'image/jpeg', quality: QUALITY });
    return { blob: drawn, mime: 'image/jpeg', width, height };
  });

/** How far a picture is drawn smaller, and how much of it is kept by JPEG, until its bytes are few enough. */
const SMALLER = [
  { scale: 1, quality: 0.9 },
  { scale: 1, quality: 0.75 },
  { scale: 0.7, quality: 0.75 },
  { scale: 0.5, quality: 0.6 },
  { scale: 0.25, quality: 0.5 },
] as const;

/**
 * A picture within limits, as JPEG and no larger than it was.
 * @param limits pixels of its longer side, and bytes; null for no limit
 * @throws {PictureError} when the browser cannot show it, or it cannot be made small enough
 */
export const within = (
  blob: Blob,
  { pixels, bytes }: { readonly pixels: number | null; readonly bytes: number | null },
): Promise<ReadyPicture> =>
  withPixels(blob, async (bitmap) => {
    const { width, height } = bitmap;
    const crop = { left: 0, top: 0, width, height };
    const longest = Math.min(pixels ?? MOST_PIXELS, Math.max(width, height));
    for (const { scale, quality } of SMALLER) {
      const made = await draw(bitmap, { crop, longest: Math.round(longest * scale), quality });
      if (made.blob.size <= (bytes ?? Infinity)) return made;
    }
    throw new PictureError(`the picture cannot be made as small as ${bytes} bytes`);
  });

async function isJpeg(blob: Blob): Promise<boolean> {
  const [a, b, c] = new Uint8Array(await blob.slice(0, 3).arrayBuffer());
  return a === 0xff && b === 0xd8 && c === 0xff;
}
