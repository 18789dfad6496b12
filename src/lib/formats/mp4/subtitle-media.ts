import { ascii, concat, u16, u32 } from '$lib/core/bytes';
import type { Cue } from '$lib/core/items';
import { makeBox } from './boxes';
import { textMedia, toUnits, zeros, type Media } from './chapter-media';

/** Bytes of a text that one sample holds: its length stands in 16 bits. */
const MOST_BYTES = 0xffff;
/** Opaque white, and no background. */
const WHITE = u32(0xffffffff);
const CLEAR = u32(0);

/**
 * Subtitles as samples of timed text (3GPP TS 26.245, section 5): each lasts until the next one, with an empty one where
 * nothing is shown.
 */
export function subtitlesOf(cues: readonly Cue[]): Media & { readonly end: number } {
  const starts: number[] = [];
  const texts: string[] = [];
  let end = 0;
  const inOrder = [...cues].sort((a, b) => a.startSeconds - b.startSeconds);
  const say = (start: number, text: string) => {
    // Of two that begin at one time the later one is shown.
    if (starts.at(-1) === start) texts[texts.length - 1] = text;
    else {
      starts.push(start);
      texts.push(text);
    }
  };
  for (const { startSeconds, endSeconds, text } of inOrder) {
    const start = toUnits(startSeconds);
    if (start > end || starts.length === 0) say(end, '');
    say(Math.max(start, starts.at(-1) ?? 0), text);
    end = Math.max(end, toUnits(endSeconds), start + 1);
  }
  say(Math.max(end, (starts.at(-1) ?? -1) + 1), '');
  const samples = texts.map((text) => {
    const bytes = new TextEncoder().encode(text).subarray(0, MOST_BYTES);
    return concat([u16(bytes.length), bytes]);
  });
  const own = { handler: 'sbtl', header: makeBox('nmhd', u32(0)), starts, entries: [textEntry()] } as const;
  return { ...textMedia(samples, own), end: (starts.at(-1) ?? 0) + 1 };
}

/** A text in the middle below, in the player's own letters. */
const textEntry = (): Uint8Array =>
  makeBox(
    'tx3g',
    zeros(6),
    u16(1),
    u32(0),
    Uint8Array.of(1, 0xff),
    CLEAR,
    zeros(8),
    concat([u16(0), u16(0), u16(1), Uint8Array.of(0, 18), WHITE]),
    makeBox('ftab', u16(1), u16(1), Uint8Array.of(5), ascii('Serif')),
  );
