// Files that say nothing of what they are: a disc's titles, chapters counted from 00, tracks in no order.

/** Minutes and seconds as seconds. */
const clock = (text) => text.split(':').reduce((sum, part) => sum * 60 + Number(part), 0);

/** Titles of a disc of a series as a drive gives them: all of it in one, then six episodes and two extras. */
const TITLES = ['2:31:22', '25:12', '24:58', '26:41', '23:57', '25:30', '25:04', '6:48', '1:36'];

/** Lengths of a book's ten chapters in seconds. The files count them from 00. */
const CHAPTERS = [41, 66, 52, 73, 48, 59, 81, 44, 63, 57];

/** What is read aloud: each chapter has words of its own. */
const SENTENCES = [
  'The wreckmaster had three daughters, and each of them knew the channel by heart.',
  'Marit kept the lamp, though nobody had asked her to, and paid for the oil herself.',
  'What the tide owed it brought back in November, a plank at a time.',
  'Sunniva could read the bottom from the taste of the lead line, or said she could.',
  'The assessor came on the Thursday boat with a ledger and a cough.',
  'Gro counted lanterns on the water, and counted again, and there was one too many.',
  'They buried the captain above the church, facing the reef that had kept him.',
  'A crate of clocks came ashore, all of them stopped at ten past four.',
  'In the dark you steer by the noise, she said, and by what the noise leaves out.',
  'The cargo was lemons that year, and the whole island smelled of summer in the snow.',
];

/** Songs of one album, by their place on it, in the order in which they were thrown down. */
const THROWN = [4, 1, 6, 2, 5, 3];
const SONG_SECONDS = [74, 61, 88, 67, 79, 70];

export function makeUnknown({ place, ffmpeg, tune, speech }) {
  // A song that is here already, under another name and in another format.
  const copied = ['-c:a', 'libopus', '-b:a', '24k', '-map_metadata', '-1', '-fflags', '+bitexact'];
  ffmpeg('-i', tune(10, 85), ...copied, place('Drop/track_05(1).opus'));
  TITLES.forEach((length, index) => {
    const seconds = clock(length);
    ffmpeg(
      '-f',
      'lavfi',
      '-i',
      `color=c=#28505c:s=64x36:r=1`,
      '-f',
      'lavfi',
      '-i',
      'anullsrc=r=8000:cl=mono',
      '-t',
      String(seconds),
      '-c:v',
      'libx264',
      '-preset',
      'ultrafast',
      '-crf',
      '40',
      '-c:a',
      'flac',
      '-frame_size',
      '8000',
      '-fflags',
      '+bitexact',
      place(`Discs/FERRY_INSP_S1_D2/title_${String(index).padStart(2, '0')}.mkv`),
    );
  });
  CHAPTERS.forEach((seconds, index) => {
    // A walk through the sentences that differs for every chapter.
    const text = Array.from({ length: 24 }, (_, at) => SENTENCES[(index * 7 + at * (index + 1)) % SENTENCES.length]).join(' ');
    ffmpeg(
      '-i',
      speech(`wreck-${index}`, `Part ${index + 1}. ${text}`),
      '-t',
      String(seconds),
      '-af',
      `apad=whole_dur=${seconds}`,
      '-c:a',
      'libmp3lame',
      '-b:a',
      '16k',
      '-map_metadata',
      '-1',
      '-fflags',
      '+bitexact',
      place(`Books/Wreckmasters Daughters/${String(index).padStart(2, '0')}.mp3`),
    );
  });
  THROWN.forEach((track, index) => {
    ffmpeg(
      '-i',
      tune(200 + track, SONG_SECONDS[track - 1]),
      '-c:a',
      'libmp3lame',
      '-b:a',
      '24k',
      '-map_metadata',
      '-1',
      '-fflags',
      '+bitexact',
      place(`Drop/from the old laptop/audio_${index + 1}.mp3`),
    );
  });
}
