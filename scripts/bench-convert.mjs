// npm run bench, third part: how fast twins are made and checked, in times real time, by the buttons that make them.
import { spawnSync } from 'node:child_process';
import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { dsfFile, modulate } from './demo/dsd.mjs';
import { launch, ratio, row } from './bench-tools.mjs';
import { ensureBuild, ensureChromium, ensurePackages } from './ensure.mjs';

ensurePackages();
ensureChromium();
ensureBuild();
const work = await mkdtemp(join(tmpdir(), 'lectorum-bench-'));
process.env.LECTORUM_DEVICES = join(work, 'devices');
const SECONDS = Number(process.env.BENCH_SECONDS ?? 180);
const QUEUE = Number(process.env.BENCH_QUEUE ?? 20);
const RATE = 44_100;

/** Voices that come and go in two channels, and a little noise: the same for each number. */
function wavOf(number, seconds) {
  const frames = seconds * RATE;
  const bytes = Buffer.alloc(44 + frames * 4);
  bytes.write('RIFF', 0, 'latin1');
  bytes.writeUInt32LE(36 + frames * 4, 4);
  bytes.write('WAVEfmt ', 8, 'latin1');
  bytes.writeUInt32LE(16, 16);
  bytes.writeUInt16LE(1, 20);
  bytes.writeUInt16LE(2, 22);
  bytes.writeUInt32LE(RATE, 24);
  bytes.writeUInt32LE(RATE * 4, 28);
  bytes.writeUInt16LE(4, 32);
  bytes.writeUInt16LE(16, 34);
  bytes.write('data', 36, 'latin1');
  bytes.writeUInt32LE(frames * 4, 40);
  let state = number + 1;
  const noise = () => (state = (Math.imul(state, 1_103_515_245) + 12_345) | 0) / 2 ** 31;
  const voices = [110, 220.5, 331, 447, 662];
  for (let at = 0; at < frames; at++) {
    const time = at / RATE;
    for (const channel of [0, 1]) {
      let sum = noise() * 0.01;
      voices.forEach((hertz, voice) => {
        sum +=
          (Math.sin(2 * Math.PI * (hertz + channel + number) * time) *
            Math.max(0, Math.sin(time * (1 + voice / 3) + voice))) /
          6;
      });
      bytes.writeInt16LE(Math.round(Math.max(-1, Math.min(1, sum)) * 26_000), 44 + at * 4 + channel * 2);
    }
  }
  return bytes;
}

const { serve } = await import('./serve.mjs');
const address = await serve(4602);
const { context, page } = await launch(work);
const station = (name) =>
  page.getByRole('navigation', { name: 'Stages' }).getByRole('link', { name }).click();

/** Takes files in; a folder of its own for each turn. */
async function takeIn(folder, files) {
  for (const [name, bytes] of files)
    await page.route(`**/demo-files/${name}`, (route) => route.fulfill({ body: bytes }));
  await page.evaluate(
    async ([own, names]) => {
      const root = await (await navigator.storage.getDirectory()).getDirectoryHandle(own, { create: true });
      for (const name of names) {
        const file = await (await root.getFileHandle(name, { create: true })).createWritable();
        await file.write(await (await fetch(`/demo-files/${name}`)).blob());
        await file.close();
      }
      window.showDirectoryPicker = async () => root;
    },
    [folder, files.map(([name]) => name)],
  );
  await page
    .getByRole('button', { name: /^(Choose a folder|Folder)/ })
    .first()
    .click();
  await page
    .getByText(new RegExp(`${folder}: ${files.length} files? taken in`))
    .waitFor({ timeout: 120_000 });
}

/** Seconds from the click until all are made and checked. */
async function convert(codec, query, count) {
  await station('Prepare');
  await page.getByLabel('Narrow by any field').fill(query);
  await page.getByText(`${count} in scope`).waitFor();
  await page.getByRole('button', { name: 'Convert by hand' }).click();
  await page.getByRole('combobox', { name: /^recipe/ }).selectOption(codec);
  const begun = Date.now();
  await page.getByRole('button', { name: new RegExp(`^Convert ${count} item`) }).click();
  const job = page.getByRole('progressbar', { name: 'Make twins' });
  await job.waitFor();
  await job.waitFor({ state: 'detached', timeout: 600_000 });
  return (Date.now() - begun) / 1000;
}

/** Seconds that another encoder takes for the same; null where there is none. */
function byFfmpeg(file, codec) {
  const args = {
    mp3: ['-acodec', 'libmp3lame', '-b:a', '256k', 'x.mp3'],
    aac: ['-acodec', 'aac', '-b:a', '256k', 'x.m4a'],
    opus: ['-acodec', 'libopus', '-b:a', '160k', 'x.opus'],
    flac: ['-acodec', 'flac', 'x.flac'],
    alac: ['-acodec', 'alac', 'y.m4a'],
  }[codec];
  const begun = Date.now();
  const { status } = spawnSync('ffmpeg', ['-v', 'error', '-y', '-i', file, ...args], { cwd: work });
  return status === 0 ? (Date.now() - begun) / 1000 : null;
}

await page.goto(`${address}/home/intake`);
await page.getByRole('heading', { name: 'What has come in?' }).waitFor();
const one = wavOf(0, SECONDS);
await writeFile(join(work, 'one.wav'), one);
await takeIn('single', [['one.wav', one]]);
// It is a song whatever its name says.
await page.getByRole('grid').first().getByRole('row').nth(1).click();
await page
  .getByRole('button', { name: /^song/i })
  .first()
  .click()
  .catch(() => {});

console.log(`\nTwins of a WAV of ${SECONDS} s, made and decoded again to check them\n`);
for (const codec of ['mp3', 'aac', 'opus', 'flac', 'alac']) {
  const took = await convert(codec, 'one', 1);
  const theirs = byFfmpeg(join(work, 'one.wav'), codec);
  const beside = theirs === null ? '' : `ffmpeg without a check ${(SECONDS / theirs).toFixed(0)}`;
  row(`WAV to ${codec}, times real time`, (SECONDS / took).toFixed(1), beside);
}

const DSD_SECONDS = Math.min(SECONDS, 40);
const bits = modulate((seconds) => 0.4 * Math.sin(2764 * seconds), DSD_SECONDS);
await station('Intake');
await page.getByLabel('Narrow by any field').fill('');
await takeIn('deep', [['deep.dsf', Buffer.from(dsfFile([bits, bits]))]]);
const deep = await convert('flac', 'deep', 1);
row('DSD64 to flac of 176.4 kHz, times real time', (DSD_SECONDS / deep).toFixed(1), '');

const FILM_SECONDS = Math.min(SECONDS, 30);
const film = join(work, 'film.mkv');
const { status: drawn } = spawnSync('ffmpeg', [
  ...['-v', 'error', '-y', '-f', 'lavfi', '-i', `testsrc2=size=640x360:rate=25:duration=${FILM_SECONDS}`],
  ...['-f', 'lavfi', '-i', `sine=frequency=330:duration=${FILM_SECONDS}`, '-metadata', 'title=Drifting'],
  ...['-c:v', 'libx264', '-pix_fmt', 'yuv420p', '-c:a', 'aac', film],
]);
if (drawn === 0) {
  console.log(`\nTwins of a film of ${FILM_SECONDS} s, 640×360, made and looked at again\n`);
  await station('Intake');
  await page.getByLabel('Narrow by any field').fill('');
  await takeIn('drifting', [['drifting.mkv', await readFile(film)]]);
  for (const [container, what] of [
    ['mp4', 'H.264 in Matroska to MP4, packets kept, times real time'],
    ['webm', 'H.264 to VP9 in WebM, times real time'],
  ])
    row(what, (FILM_SECONDS / (await convert(container, 'drifting', 1))).toFixed(1), '');
}

console.log(`\nA queue of ${QUEUE} of 30 s\n`);
await station('Intake');
await page.getByLabel('Narrow by any field').fill('');
const many = Array.from({ length: QUEUE }, (_, index) => [`queue ${index + 1}.wav`, wavOf(index + 1, 30)]);
await takeIn('queue', many);
const took = await convert('mp3', 'queue', QUEUE);
row('WAV to mp3, times real time', ((QUEUE * 30) / took).toFixed(1), '');
const disk = await page.evaluate(() => navigator.storage.estimate());
row('of the browser’s storage, MB', ratio((disk.usage ?? 0) / 1e6), '');

await context.close();
await rm(work, { recursive: true, force: true });
process.exit(0);
