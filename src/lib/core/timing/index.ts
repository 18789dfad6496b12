export {
  CHAPTER_FILES,
  ChapterFileError,
  readChapterFile,
  readJsonChapters,
  writeChapterFile,
} from './chapter-files';
export type { ChapterFile } from './chapter-files';
export { chapterTextOf } from './chapter-texts';
export { changedMark, chapterOddities, numbered, withMark, withoutMark } from './chapter-marks';
export type { ChapterOddity } from './chapter-marks';
export { secondsOf, timeText, toMilliseconds } from './clock';
export {
  draftOf,
  lineOddity,
  markAt,
  nextToMark,
  reworded,
  rewordedLyrics,
  shifted,
  textCounts,
  timedIn,
} from './draft-lines';
export type { DraftLine, LineOddity } from './draft-lines';
export { SubtitleFileError, plainText, readSubtitles } from './subtitle-files';
