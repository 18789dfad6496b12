// Synthesises what the stand-in shelf and feed host deliver, into stand-ins/. Needs Debian's ffmpeg and espeak-ng.
import { execFileSync } from 'node:child_process';
import { mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { renderTune } from '../src/lib/server/sound/tunes.js';

const root = join(import.meta.dirname, '..', 'stand-ins');
const work = join(root, '.work');
rmSync(root, { recursive: true, force: true });
mkdirSync(work, { recursive: true });

function encode(wav, path, kilobits) {
  const full = join(root, path);
  mkdirSync(dirname(full), { recursive: true });
  const sound = ['-c:a', 'libmp3lame', '-b:a', `${kilobits}k`, '-map_metadata', '-1', '-fflags', '+bitexact'];
  execFileSync('ffmpeg', ['-hide_banner', '-loglevel', 'error', '-y', '-i', wav, ...sound, full]);
}

/** Tracks that the shelf's owner offers, by their ids there. */
const SHELF = [
  'mooring-songs-1',
  'mooring-songs-2',
  'mooring-songs-3',
  'mooring-songs-4',
  'second-tide-1',
  'second-tide-3',
  'live-at-the-boathouse-1',
  'live-at-the-boathouse-2',
  'live-at-the-boathouse-3',
  'gangplank',
  'short-measure',
];
SHELF.forEach((id, index) => {
  const wav = join(work, `${id}.wav`);
  writeFileSync(wav, renderTune(300 + index, 18 + ((index * 5) % 14)));
  encode(wav, `boathouse/${id}.mp3`, 32);
});

const EPISODES = {
  'slack-water/32':
    'This is Slack Water. Today, a keeper who painted every ship that passed, and the one that did not pass.',
  'slack-water/33':
    'This is Slack Water. Today, what the harbour master keeps in his second drawer, and why nobody asks.',
  'slack-water/34': 'This is Slack Water. Today, the price of coal in winter, told by three who carried it.',
  'tide-tables/1':
    'Tide Tables, number one. High water at Skarra, six fourteen. Low water, twelve thirty one.',
  'tide-tables/2':
    'Tide Tables, number two. High water at Skarra, seven and two. Low water, thirteen nineteen.',
};
for (const [id, text] of Object.entries(EPISODES)) {
  const wav = join(work, `${id.replace('/', '-')}.wav`);
  execFileSync('espeak-ng', ['-v', 'en-gb', '-s', '150', '-w', wav, `${text} `.repeat(6)]);
  encode(wav, `feeds/${id}.mp3`, 24);
}
rmSync(work, { recursive: true, force: true });
