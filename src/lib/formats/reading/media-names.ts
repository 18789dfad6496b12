import { FORMAT_ENDINGS, type FormatId } from '$lib/core/items';
import { extensionOf } from '$lib/core/paths';

const MEDIA_EXTENSIONS = new Set(Object.values(FORMAT_ENDINGS).flat());

/** Whether a file is worth opening by its name: others are set aside as no media. */
export function isMediaName(path: string): boolean {
  return MEDIA_EXTENSIONS.has(extensionOf(path));
}

/** Media that is known by name and not taken in: what each is, by its usual endings. */
const OTHER_MEDIA: Readonly<Record<string, string>> = {
  avi: 'AVI',
  mpg: 'MPEG programme stream',
  mpeg: 'MPEG programme stream',
  vob: 'DVD video',
  ts: 'MPEG transport stream',
  m2ts: 'MPEG transport stream',
  mts: 'MPEG transport stream',
  wma: 'WMA sound',
  wmv: 'WMV video',
  asf: 'ASF',
  ape: 'APE sound',
  wv: 'WavPack',
  tak: 'TAK',
  tta: 'True Audio',
  mpc: 'Musepack',
  dsf: 'DSD stream file',
  dff: 'DSD interchange file',
  flv: 'FLV video',
  rm: 'RM video',
  ra: 'RA sound',
  ac3: 'AC-3 sound',
  dts: 'DTS sound',
  aac: 'raw AAC sound',
  amr: 'AMR sound',
  mid: 'MIDI',
  ogv: 'Ogg video',
  spx: 'Speex',
};

/** What a file's name says it is, where that is media that is not taken in; null for all else. */
export function otherMedia(path: string): string | null {
  return OTHER_MEDIA[extensionOf(path)] ?? null;
}

/** Whether a format goes by this extension. */
export function fitsExtension(format: FormatId, path: string): boolean {
  return FORMAT_ENDINGS[format].includes(extensionOf(path));
}
