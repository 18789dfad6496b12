import { concat, u16, u32 } from '$lib/core/bytes';
import type { Chapter } from '$lib/core/items';
import { readPictureSize } from '../picture-size';
import { makeBox } from './boxes';
import { standInsBox, type Still, type StoredPicture } from './chapter-pictures';

/* What tracks of chapters are filled with: titles as samples of text, and whole pictures. */

/** Units of such a track's time in a second. */
export const TIMESCALE = 1000;
export const toUnits = (seconds: number): number => Math.round(seconds * TIMESCALE);

export const zeros = (count: number): Uint8Array => new Uint8Array(count);
/** No turning and no scaling, in fixed point (ISO/IEC 14496-12, section 6.2.2). */
export const UNITY = concat([0x10000, 0, 0, 0, 0x10000, 0, 0, 0, 0x40000000].map((value) => u32(value)));

/** What a track of chapters is filled with. */
export interface Media {
  readonly handler: 'text' | 'vide' | 'sbtl';
  /** The box that says more of this handler's tracks. */
  readonly header: Uint8Array;
  /** When each sample begins, in milliseconds. */
  readonly starts: readonly number[];
  /** Sample entries. */
  readonly entries: readonly Uint8Array[];
  readonly sizes: readonly number[];
  /** Which byte of the samples each chunk begins with, how many are in it, and which entry they are of, from 1. */
  readonly chunks: readonly { readonly offset: number; readonly count: number; readonly entry: number }[];
  readonly samples: Uint8Array;
  /** Pixels. */
  readonly width: number;
  readonly height: number;
  /** Boxes of the track itself. */
  readonly more: readonly Uint8Array[];
}

/** Behind the text of a sample: it is in UTF-8. */
const ENCODING = makeBox('encd', u32(0x100));

export function titlesOf(chapters: readonly Chapter[], starts: readonly number[]): Media {
  const samples = chapters.map(({ title }) => {
    const text = new TextEncoder().encode(title);
    return concat([u16(text.length), text, ENCODING]);
  });
  const gmin = makeBox('gmin', zeros(4), u16(0x40), u16(0x8000), u16(0x8000), u16(0x8000), zeros(4));
  return textMedia(samples, {
    handler: 'text',
    header: makeBox('gmhd', gmin, makeBox('text', UNITY)),
    starts,
    // Colours, box, font and name of a text say nothing where it is not drawn.
    entries: [makeBox('text', zeros(6), u16(1), zeros(44))],
  });
}

/** Texts that lie one behind the other, as one chunk. */
export const textMedia = (
  samples: readonly Uint8Array[],
  own: Pick<Media, 'handler' | 'header' | 'starts' | 'entries'>,
): Media => ({
  ...own,
  sizes: samples.map(({ length }) => length),
  chunks: [{ offset: 0, count: samples.length, entry: 1 }],
  samples: concat(samples),
  width: 0,
  height: 0,
  more: [],
});

/** Every picture is there once, whatever chapters show it: a chunk for each of them leads to it. */
export function stillsOf(stills: readonly Still[], cover: StoredPicture | null): Media {
  // Of two at one time, the chapter's is told first.
  const byStart = new Map<number, StoredPicture | null>();
  for (const { startSeconds, picture } of stills) {
    const start = toUnits(startSeconds);
    if (!byStart.has(start)) byStart.set(start, picture);
  }
  const inOrder = [...byStart].sort(([a], [b]) => a - b);
  const pictures = inOrder.map(([, picture]) => picture);
  const standIns: number[] = [];
  // Some readers know no more than one sort of samples in a track: none is added for what only stands in.
  const isAlike = cover !== null && pictures.some((own) => own?.mime === cover.mime);
  let before = isAlike ? cover : (pictures.find((one) => one !== null) ?? null);
  const shown = pictures.flatMap((own, index) => {
    if (!own) standIns.push(index + 1);
    else if (!isAlike) before = own;
    return own ?? before ?? [];
  });
  const mimes = [...new Set(shown.map(({ mime }) => mime))];
  const offsets = new Map<StoredPicture, number>();
  let length = 0;
  for (const one of shown)
    if (!offsets.has(one)) {
      offsets.set(one, length);
      length += one.bytes.length;
    }
  const pixels = shown.map(({ bytes }) => readPictureSize(bytes) ?? { width: 0, height: 0 });
  const width = Math.min(0xffff, Math.max(...pixels.map((one) => one.width)));
  const height = Math.min(0xffff, Math.max(...pixels.map((one) => one.height)));
  return {
    handler: 'vide',
    header: makeBox('vmhd', u32(1), zeros(8)),
    starts: inOrder.map(([start]) => start),
    entries: mimes.map((mime) => stillEntry(mime, width, height)),
    sizes: shown.map(({ bytes }) => bytes.length),
    chunks: shown.map((one) => ({
      offset: offsets.get(one) ?? 0,
      count: 1,
      entry: mimes.indexOf(one.mime) + 1,
    })),
    samples: concat([...offsets.keys()].map(({ bytes }) => bytes)),
    width,
    height,
    more: standIns.length > 0 ? [standInsBox(standIns)] : [],
  };
}

/** 72 dots per inch, in fixed point: what every such entry says (section 12.1.3). */
const DOTS = u32(0x480000);

/** A sample entry of whole pictures, in 24 bits of colour. */
const stillEntry = (mime: string, width: number, height: number): Uint8Array =>
  makeBox(
    mime === 'image/png' ? 'png ' : 'jpeg',
    zeros(6),
    u16(1),
    zeros(16),
    u16(width),
    u16(height),
    DOTS,
    DOTS,
    zeros(4),
    u16(1),
    zeros(32),
    u16(24),
    u16(0xffff),
  );
