import type { ListedEntry, ListedRelease } from './listed';

/** A cue sheet counts frames of a disc (IEC 60908): so many are a second. */
const FRAMES = 75;

/** Whether a text is a cue sheet. */
export const isCueSheet = (text: string): boolean =>
  /^\s*TRACK\s+\d+\s+\w+/im.test(text) && /^\s*INDEX\s+\d+\s+\d+:\d+:\d+/im.test(text);

/**
 * The tracks of a cue sheet. The length of a track is the distance to the next one in the same file, so the last track
 * of a file has none.
 */
export function readCueSheet(text: string): ListedRelease {
  const tracks: { entry: ListedEntry; start: number | null; file: number }[] = [];
  let [title, maker, year] = [null, null, null] as [string | null, string | null, number | null];
  let file = 0;
  for (const row of text.split(/\r\n|\r|\n/)) {
    const [, word = '', rest = ''] = /^\s*(?:REM\s+)?(\w+)\s*(.*?)\s*$/.exec(row) ?? [];
    const value = /^"(.*)"$/.exec(rest)?.[1] ?? rest;
    const last = tracks.at(-1);
    switch (word.toUpperCase()) {
      case 'FILE':
        file++;
        break;
      case 'TRACK':
        tracks.push({ entry: { number: Number.parseInt(rest, 10) || tracks.length + 1 }, start: null, file });
        break;
      case 'TITLE':
        if (last) last.entry = { ...last.entry, title: value };
        else title = value;
        break;
      case 'PERFORMER':
        if (last) last.entry = { ...last.entry, artist: value };
        else maker = value;
        break;
      case 'DATE':
        year = Number(/\d{4}/.exec(value)?.[0] ?? NaN) || null;
        break;
      case 'INDEX': {
        const [, minutes, seconds, frames] = /^0*1\s+(\d+):(\d{1,2}):(\d{1,2})$/.exec(rest) ?? [];
        if (last && minutes !== undefined)
          last.start = Number(minutes) * 60 + Number(seconds) + Number(frames) / FRAMES;
        break;
      }
    }
  }
  const entries = tracks.map(({ entry, start, file: own }, index): ListedEntry => {
    const next = tracks[index + 1];
    const isKnown = start !== null && next?.file === own && next.start !== null && next.start > start;
    const { artist, ...rest } = entry;
    return {
      ...rest,
      ...(artist !== undefined && artist !== maker && { artist }),
      ...(isKnown && { lengthSeconds: (next.start as number) - start }),
    };
  });
  return { title, maker, year, entries };
}
