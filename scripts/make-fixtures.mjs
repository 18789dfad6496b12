// One recording in three formats, and another one, for holding fingerprints against each other. Needs Debian's ffmpeg.
import { execFileSync } from 'node:child_process';
import { mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { renderTune } from '../src/lib/server/sound/tunes.js';
import { dffFile, dsfFile, modulate } from './demo/dsd.mjs';

const out = join(import.meta.dirname, '../tests/fixtures/sound');
rmSync(out, { recursive: true, force: true });
mkdirSync(out, { recursive: true });

/** The first song of Ebb Tables, as the demo has it, and one that nobody knows. */
const TUNES = { neap: 201, stranger: 777 };
const SECONDS = 40;
const FORMATS = {
  mp3: ['-c:a', 'libmp3lame', '-b:a', '128k'],
  opus: ['-c:a', 'libopus', '-b:a', '96k'],
  flac: ['-c:a', 'flac', '-compression_level', '8'],
};
for (const [name, seed] of Object.entries(TUNES)) {
  const wav = join(out, `${name}.wav`);
  writeFileSync(wav, renderTune(seed, 74));
  for (const [extension, codec] of Object.entries(FORMATS)) {
    if (name === 'stranger' && extension !== 'opus') continue;
    const path = join(out, `${name}.${extension}`);
    const same = ['-map_metadata', '-1', '-fflags', '+bitexact'];
    execFileSync('ffmpeg', ['-v', 'error', '-y', '-i', wav, '-t', String(SECONDS), ...codec, ...same, path]);
  }
  rmSync(wav);
}

// Containers that are met more rarely: a second of a tone, and of a moving picture where they hold one.
const rare = join(import.meta.dirname, '../tests/fixtures/containers');
rmSync(rare, { recursive: true, force: true });
mkdirSync(rare, { recursive: true });
const TONE = ['-f', 'lavfi', '-i', 'sine=frequency=440:duration=1:sample_rate=16000'];
const MOVING = ['-f', 'lavfi', '-i', 'testsrc=duration=1:size=96x64:rate=5'];
const H264 = ['-c:v', 'libx264', '-pix_fmt', 'yuv420p', '-c:a', 'aac', '-b:a', '32k'];
/** A picture and two sound tracks of which the second is not the usual one. */
const LANGUAGES = [
  ...['-map', '0:v', '-map', '1:a', '-map', '1:a'],
  ...['-metadata:s:a:0', 'language=nob', '-metadata:s:a:1', 'language=eng'],
  ...['-metadata:s:a:1', 'title=The keeper remarks', '-disposition:a:1', '0'],
  ...['-disposition:v:0', 'default', '-disposition:a:0', 'default'],
];
const SHORT = ['-f', 'lavfi', '-i', 'sine=frequency=440:duration=0.5:sample_rate=16000', '-ac', '1'];
const NAMED = ['-metadata', 'title=Harbour Bell', '-metadata', 'artist=Orla Venn'];
/** A moment of sound in MP4, of so many channels and hertz. */
const sound = (channels, rate, ...codec) => [
  ...['-f', 'lavfi', '-i', 'sine=frequency=440:duration=0.05'],
  ...['-ac', String(channels), '-ar', String(rate), '-c:a', ...codec],
];
/** A film with a commentary, two languages, two subtitles, chapters, and a file that is attached to it where that can be. */
const SUBTITLES = join(rare, 'keeper.srt');
writeFileSync(
  SUBTITLES,
  '1\n00:00:00,500 --> 00:00:01,200\nWho is there?\n\n2\n00:00:01,800 --> 00:00:02,600\nOnly the tide.\n',
);
const CHAPTERS = join(rare, 'chapters.txt');
writeFileSync(
  CHAPTERS,
  ';FFMETADATA1\n[CHAPTER]\nTIMEBASE=1/1000\nSTART=0\nEND=1500\ntitle=Fog\n' +
    '[CHAPTER]\nTIMEBASE=1/1000\nSTART=1500\nEND=3000\ntitle=Light\n',
);
const tones = [440, 550, 660].flatMap((hertz) => [
  ...['-f', 'lavfi', '-i', `sine=frequency=${hertz}:duration=3:sample_rate=16000`],
]);
const film = (subtitles) => [
  ...['-f', 'lavfi', '-i', 'testsrc=duration=3:size=96x64:rate=10', ...tones],
  ...['-i', SUBTITLES, '-i', SUBTITLES, '-i', CHAPTERS],
  ...['-map', '0:v', '-map', '1:a', '-map', '2:a', '-map', '3:a', '-map', '4:s', '-map', '5:s'],
  ...[
    '-map_metadata',
    '6',
    '-map_chapters',
    '6',
    '-metadata',
    'date=1974',
    '-metadata',
    'media_type=9',
    '-metadata',
    'CONTENT_TYPE=Feature Film',
  ],
  ...['-c:v', 'libx264', '-pix_fmt', 'yuv420p', '-g', '10', '-c:a', 'aac', '-b:a', '32k', '-c:s', subtitles],
  ...[
    '-metadata:s:a:0',
    'language=eng',
    '-metadata:s:a:1',
    'language=nob',
    '-metadata:s:a:2',
    'language=eng',
  ],
  ...['-metadata:s:a:2', 'title=The keeper remarks', '-disposition:a:2', 'comment'],
  ...['-metadata:s:s:0', 'language=eng', '-metadata:s:s:1', 'language=nob', '-disposition:s:0', '0'],
];
const RARE = {
  'tone.oga': [...TONE, '-c:a', 'flac', '-f', 'ogg', '-metadata', 'ARTIST=Orla Venn'],
  'tone.opus': [...SHORT, '-c:a', 'libopus', '-b:a', '16k', ...NAMED],
  'tone.ogg': [...SHORT, ...NAMED],
  'tone.wav': [...SHORT, ...NAMED],
  'tone.aiff': [...SHORT, ...NAMED],
  'tone.mov': [...MOVING, ...TONE, ...H264],
  'tone.m4v': [...MOVING, ...TONE, ...H264, '-f', 'mp4'],
  'tone.3gp': [...MOVING, ...TONE, ...H264],
  'mono.m4a': sound(1, 22050, 'aac'),
  'mono.mov': sound(1, 22050, 'aac'),
  'surround.m4a': sound(6, 48000, 'aac'),
  'lossless.m4a': sound(1, 96000, 'alac'),
  'opus.mp4': sound(1, 48000, 'libopus'),
  'flac.mp4': sound(1, 96000, 'flac', '-strict', '-2'),
  'ac3.mp4': sound(6, 48000, 'ac3'),
  'eac3.mp4': sound(6, 48000, 'eac3'),
  'languages.mkv': [...MOVING, ...TONE, ...H264, ...LANGUAGES],
  'languages.mp4': [...MOVING, ...TONE, ...H264, ...LANGUAGES],
  'film.mkv': [
    ...film('srt'),
    '-cluster_time_limit',
    '500',
    '-attach',
    SUBTITLES,
    '-metadata:s:t',
    'mimetype=text/plain',
  ],
  'film.mp4': [...film('mov_text'), '-movflags', '+faststart'],
};
for (const [name, options] of Object.entries(RARE)) {
  const called = name === 'film.mkv' ? 'The Keeper' : name === 'film.mp4' ? 'The Lamp' : 'Harbour Bell';
  const title = ['-metadata', `title=${called}`, '-fflags', '+bitexact'];
  execFileSync('ffmpeg', ['-v', 'error', '-y', ...options, ...title, join(rare, name)]);
}

const hum = modulate((seconds) => 0.3 * Math.sin(2 * Math.PI * 440 * seconds), 0.15);
writeFileSync(join(rare, 'tone.dsf'), dsfFile([hum]));
writeFileSync(join(rare, 'tone.dff'), dffFile([hum]));
rmSync(SUBTITLES);
rmSync(CHAPTERS);
