/** Codecs by their codes or the beginning of one: those of MP4 (its registration authority) and of Matroska. */
const NAMES: readonly (readonly [name: string, ...codes: readonly string[]])[] = [
  ['AAC', 'mp4a', 'A_AAC'],
  ['ALAC', 'alac', 'A_ALAC'],
  ['FLAC', 'fLaC', 'A_FLAC'],
  ['Opus', 'Opus', 'A_OPUS'],
  ['Vorbis', 'A_VORBIS'],
  ['MP3', 'MPEG 1 Layer 3', 'MPEG 2 Layer 3', 'MPEG 2.5 Layer 3', '.mp3', 'A_MPEG/L3'],
  ['AC-3', 'ac-3', 'A_AC3'],
  ['E-AC-3', 'ec-3', 'A_EAC3'],
  ['DTS', 'dtsc', 'A_DTS'],
  ['TrueHD', 'mlpa', 'A_TRUEHD'],
  ['PCM', 'lpcm', 'sowt', 'twos', 'in24', 'in32', 'fl32', 'A_PCM'],
  ['H.264', 'avc1', 'avc3', 'V_MPEG4/ISO/AVC'],
  ['H.265', 'hvc1', 'hev1', 'V_MPEGH/ISO/HEVC'],
  ['MPEG-4 Visual', 'mp4v', 'V_MPEG4/ISO'],
  ['MPEG-2 Video', 'V_MPEG2'],
  ['VP8', 'vp08', 'V_VP8'],
  ['VP9', 'vp09', 'V_VP9'],
  ['AV1', 'av01', 'V_AV1'],
  ['timed text', 'tx3g', 'text'],
  ['WebVTT', 'wvtt', 'S_TEXT/WEBVTT', 'D_WEBVTT'],
  ['TTML', 'stpp', 'S_TEXT/TTML'],
  ['SubRip', 'S_TEXT/UTF8', 'S_TEXT/ASCII'],
  ['SSA', 'S_TEXT/SSA', 'S_TEXT/ASS'],
  ['VobSub', 'S_VOBSUB'],
  ['PGS', 'S_HDMV/PGS'],
];

const known = new Map<string, string>();
/** A limit, because files may name any number of codecs. */
const MOST_KNOWN = 500;

/** The usual name of a codec; the code itself if it has none. */
export function codecName(codec: string): string {
  const found = known.get(codec);
  if (found !== undefined) return found;
  const isOne = (code: string) =>
    codec === code || codec.startsWith(`${code}/`) || codec.startsWith(`${code}.`);
  const name = NAMES.find(([, ...codes]) => codes.some(isOne))?.[0] ?? codec;
  if (known.size < MOST_KNOWN) known.set(codec, name);
  return name;
}
