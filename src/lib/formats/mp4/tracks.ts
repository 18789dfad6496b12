import { u16, u32 } from '$lib/core/bytes';
import type { TrackEdit } from '$lib/core/items';
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

function changeTrack(moov: Uint8Array, trak: Box, { name, language }: TrackEdit): Uint8Array {
  const raw = (box: Box) => moov.subarray(box.start, box.end);
  const children = parseBoxes(moov, trak.content, trak.end);
  const udta = findBox(children, 'udta');
  const said = name === undefined || name === '' ? [] : [makeBox('name', new TextEncoder().encode(name))];
  const parts = children.flatMap((child) => {
    if (child.type === 'mdia' && language !== undefined) return [changeMedia(moov, child, language)];
    if (child !== udta || name === undefined) return [raw(child)];
    const others = parseBoxes(moov, child.content, child.end).filter(({ type }) => type !== 'name');
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
