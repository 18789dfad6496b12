import type { FieldName } from '$lib/core/items';
import type { Id3Version } from './layout';

/** Text frames of the fields that have one of their own, by version of the tag. */
export const TEXT_FRAMES: Readonly<Partial<Record<FieldName, Readonly<Record<Id3Version, string>>>>> = {
  title: { 2: 'TT2', 3: 'TIT2', 4: 'TIT2' },
  artist: { 2: 'TP1', 3: 'TPE1', 4: 'TPE1' },
  albumArtist: { 2: 'TP2', 3: 'TPE2', 4: 'TPE2' },
  album: { 2: 'TAL', 3: 'TALB', 4: 'TALB' },
  year: { 2: 'TYE', 3: 'TYER', 4: 'TDRC' },
  genre: { 2: 'TCO', 3: 'TCON', 4: 'TCON' },
  composer: { 2: 'TCM', 3: 'TCOM', 4: 'TCOM' },
  compilation: { 2: 'TCP', 3: 'TCMP', 4: 'TCMP' },
};

/** Fields without a frame of their own, by the description of their user text frame (TXXX). */
export const USER_TEXTS: Readonly<Partial<Record<FieldName, string>>> = {
  show: 'SHOW',
  season: 'SEASON',
  episode: 'EPISODE',
  narrator: 'NARRATOR',
  date: 'RELEASEDATE',
  description: 'DESCRIPTION',
};
export const USER_FRAME: Readonly<Record<Id3Version, string>> = { 2: 'TXX', 3: 'TXXX', 4: 'TXXX' };
export const LYRICS_FRAME: Readonly<Record<Id3Version, string>> = { 2: 'ULT', 3: 'USLT', 4: 'USLT' };

export const TRACK_FRAME: Readonly<Record<Id3Version, string>> = { 2: 'TRK', 3: 'TRCK', 4: 'TRCK' };
export const DISC_FRAME: Readonly<Record<Id3Version, string>> = { 2: 'TPA', 3: 'TPOS', 4: 'TPOS' };
export const PICTURE_FRAME: Readonly<Record<Id3Version, string>> = { 2: 'PIC', 3: 'APIC', 4: 'APIC' };

/** Frames that say the same in another place and would contradict a new value. */
export const ALSO_REMOVED: Readonly<Partial<Record<FieldName, readonly string[]>>> = {
  year: ['TYE', 'TYER', 'TDRC', 'TDAT', 'TDA', 'TRDA', 'TIME', 'TIM'],
};
