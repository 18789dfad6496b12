import type { Cue } from '../items';
import { secondsOf } from './clock';

/** A file that is no subtitles, and why. */
export class SubtitleFileError extends Error {
  override readonly name = 'SubtitleFileError';

  /** @param row of the file, from 1 */
  constructor(
    detail: string,
    readonly row: number,
  ) {
    super(detail);
  }
}

/** A text with its times as a file writes it: lines are parted, marks stand in them. */
export interface WrittenCue {
  readonly startSeconds: number;
  readonly endSeconds: number;
  readonly lines: readonly string[];
}

/**
 * Texts behind a row of times, as SubRip and WebVTT (W3C, section 4.1) both have them.
 * @throws {SubtitleFileError} naming the row of a time that cannot be read
 */
export function readWrittenCues(text: string): readonly WrittenCue[] {
  const rows = text.split(/\r\n|\r|\n/);
  const cues: WrittenCue[] = [];
  for (let index = 0; index < rows.length; index++) {
    const [from, to] = (rows[index] as string).split('-->');
    if (to === undefined) continue;
    const startSeconds = secondsOf(from ?? '');
    const endSeconds = secondsOf(to.trim().split(/\s/)[0] ?? '');
    if (startSeconds === null || endSeconds === null)
      throw new SubtitleFileError('a time cannot be read', index + 1);
    const lines: string[] = [];
    while (index + 1 < rows.length && rows[index + 1]?.trim() !== '')
      lines.push((rows[++index] as string).trim());
    cues.push({ startSeconds, endSeconds, lines });
  }
  return cues;
}

const ENTITIES: Readonly<Record<string, string>> = {
  amp: '&',
  lt: '<',
  gt: '>',
  nbsp: '\u00a0',
  lrm: '\u200e',
  rlm: '\u200f',
};

/** A text without its marks (WebVTT, section 4.2.2; SubRip has some of the same, and others in braces). */
export const plainText = (text: string): string =>
  text
    .replace(/<[^>]*>|\{\\[^}]*\}/g, '')
    .replace(/&(\w+);/g, (whole, name: string) => ENTITIES[name] ?? whole);

/**
 * Subtitles of a SubRip or WebVTT file, in the order of their starts; marks of type and colour are left out.
 * @throws {SubtitleFileError} where there are none, or a time cannot be read
 */
export function readSubtitles(text: string): readonly Cue[] {
  const cues = readWrittenCues(text).flatMap(({ startSeconds, endSeconds, lines }): Cue[] => {
    const shown = plainText(lines.join('\n')).trim();
    return shown === '' || endSeconds <= startSeconds ? [] : [{ startSeconds, endSeconds, text: shown }];
  });
  if (cues.length === 0) throw new SubtitleFileError('there is no text with times in it', 1);
  return cues.sort((a, b) => a.startSeconds - b.startSeconds);
}
