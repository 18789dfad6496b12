import { ascii, readAscii, u16, u32 } from '$lib/core/bytes';
import type { TrackEdit, TrackFlag, TrackFlags } from '$lib/core/items';
import { codeAndTag } from '../language';
import { findBox, makeBox, parseBoxes, type Box } from './boxes';
import { trackId } from './chapters';

/** `moov` with what is said of single tracks: names in `udta/name`, languages in `mdhd` and `elng`. All else of them stays. */
export function withTracks(moov: Uint8Array, edits: readonly TrackEdit[] = []): Uint8Array {
  if (edits.length === 0) return moov;
  const byId = new Map(edits.map((edit) => [edit.id, edit]));
  const parts = parseBoxes(moov, 8).map((box) => {
    const edit = box.type === 'trak' ? byId.get(trackId(moov, box)) : undefined;
    return edit ? changeTrack(moov, box, edit) : moov.subarray(box.start, box.end);
  });
  return makeBox('moov', ...parts);
}

/** Set in a track header's flags where it is played unless another one is chosen (section 8.3.2). */
export const ENABLED = 1;

function withEnabled(header: Uint8Array, isEnabled: boolean): Uint8Array {
  const copy = header.slice();
  copy[11] = isEnabled ? (copy[11] as number) | ENABLED : (copy[11] as number) & ~ENABLED;
  return copy;
}

/** Roles of a track in `kind` (ISO/IEC 14496-12, section 8.10.4), by the list of ISO/IEC 23009-1, section 5.8.5.5. */
const ROLE_SCHEME = 'urn:mpeg:dash:role:2011';
const KINDS = [
  ['isForced', 'forced-subtitle'],
  ['isCommentary', 'commentary'],
  ['isForHearing', 'caption'],
  ['isForSeeing', 'description'],
] as const satisfies readonly (readonly [TrackFlag, string])[];

const kindBox = (kind: string): Uint8Array => makeBox('kind', u32(0), ascii(`${ROLE_SCHEME}\0${kind}\0`));

/** The role that a box tells; null where it tells none. */
function kindIn(bytes: Uint8Array, { type, content, end }: Box): string | null {
  if (type !== 'kind') return null;
  const [scheme, kind] = readAscii(bytes, content + 4, end - content - 4).split('\0');
  return scheme === ROLE_SCHEME ? (kind ?? null) : null;
}

/** What the roles of a track say of it. @param udta of the track */
export function flagsIn(bytes: Uint8Array, udta: Box | null): TrackFlags {
  const kinds = udta ? parseBoxes(bytes, udta.content, udta.end).map((box) => kindIn(bytes, box)) : [];
  return Object.fromEntries(KINDS.flatMap(([flag, kind]) => (kinds.includes(kind) ? [[flag, true]] : [])));
}

function changeTrack(moov: Uint8Array, trak: Box, edit: TrackEdit): Uint8Array {
  const { name, language } = edit;
  const raw = (box: Box) => moov.subarray(box.start, box.end);
  const children = parseBoxes(moov, trak.content, trak.end);
  const udta = findBox(children, 'udta');
  const said = [
    ...(name === undefined || name === '' ? [] : [makeBox('name', new TextEncoder().encode(name))]),
    ...KINDS.flatMap(([flag, kind]) => (edit[flag] ? [kindBox(kind)] : [])),
  ];
  const isSaid = name !== undefined || KINDS.some(([flag]) => edit[flag] !== undefined);
  const goes = (box: Box) =>
    box.type === 'name'
      ? name !== undefined
      : KINDS.some(([flag, kind]) => edit[flag] !== undefined && kindIn(moov, box) === kind);
  const parts = children.flatMap((child) => {
    if (child.type === 'mdia' && language !== undefined) return [changeMedia(moov, child, language)];
    if (child.type === 'tkhd' && edit.isDefault !== undefined)
      return [withEnabled(raw(child), edit.isDefault)];
    if (child !== udta || !isSaid) return [raw(child)];
    const others = parseBoxes(moov, child.content, child.end).filter((box) => !goes(box));
    const all = [...others.map(raw), ...said];
    return all.length > 0 ? [makeBox('udta', ...all)] : [];
  });
  return makeBox('trak', ...parts, ...(!udta && said.length > 0 ? [makeBox('udta', ...said)] : []));
}

/** Three letters stand in the header (section 8.4.2), and the whole tag behind it where those do not say it (8.4.6). */
function changeMedia(moov: Uint8Array, mdia: Box, language: string | null): Uint8Array {
  const { code, tag } = codeAndTag(language);
  const behind =
    tag === null ? [] : [makeBox('elng', u32(0), new TextEncoder().encode(tag), new Uint8Array(1))];
  const parts = parseBoxes(moov, mdia.content, mdia.end).flatMap((child) => {
    const own = moov.slice(child.start, child.end);
    if (child.type === 'elng') return [];
    if (child.type !== 'mdhd') return [own];
    const isLong = moov[child.content] === 1;
    own.set(packedLanguage(code), child.content - child.start + (isLong ? 32 : 20));
    return [own, ...behind];
  });
  return makeBox('mdia', ...parts);
}

/** A code of three letters in five bits each (section 8.4.2.3). */
export const packedLanguage = (code: string): Uint8Array =>
  u16([...code].reduce((bits, letter) => (bits << 5) | (letter.charCodeAt(0) - 0x60), 0));
