// One recording in three formats, and another one, for holding fingerprints against each other. Needs Debian's ffmpeg.
import { execFileSync } from 'node:child_process';
import { mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { renderTune } from '../src/lib/server/sound/tunes.js';

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
};
for (const [name, options] of Object.entries(RARE)) {
  const title = ['-metadata', 'title=Harbour Bell', '-fflags', '+bitexact'];
  execFileSync('ffmpeg', ['-v', 'error', '-y', ...options, ...title, join(rare, name)]);
}
