/** A part of a picture, in pixels of that picture. */
export interface Crop {
  readonly left: number;
  readonly top: number;
  readonly width: number;
  readonly height: number;
}

/** Rounds a part to whole pixels within the picture, at least one. */
export function fitCrop(crop: Crop, picture: { readonly width: number; readonly height: number }): Crop {
  const within = (value: number, most: number) => Math.max(0, Math.min(most, Math.round(value)));
  const width = Math.max(1, within(crop.width, picture.width));
  const height = Math.max(1, within(crop.height, picture.height));
  return {
    left: within(crop.left, picture.width - width),
    top: within(crop.top, picture.height - height),
    width,
    height,
  };
}

/** The largest square in the middle of a picture. */
export function middleSquare({ width, height }: { readonly width: number; readonly height: number }): Crop {
  const side = Math.min(width, height);
  return {
    left: Math.floor((width - side) / 2),
    top: Math.floor((height - side) / 2),
    width: side,
    height: side,
  };
}

/** A part made square around its centre, as large as the picture allows. */
export function squared(crop: Crop, picture: { readonly width: number; readonly height: number }): Crop {
  const side = Math.min(Math.max(crop.width, crop.height), picture.width, picture.height);
  return fitCrop(
    {
      left: crop.left + (crop.width - side) / 2,
      top: crop.top + (crop.height - side) / 2,
      width: side,
      height: side,
    },
    picture,
  );
}

/** The size in pixels at which a part is drawn: its longer side is at most as long as asked. It is never enlarged. */
export function scaledSize(
  { width, height }: { readonly width: number; readonly height: number },
  longest: number | null,
): { readonly width: number; readonly height: number } {
  const scale = longest === null ? 1 : Math.min(1, longest / Math.max(width, height));
  return { width: Math.max(1, Math.round(width * scale)), height: Math.max(1, Math.round(height * scale)) };
}
