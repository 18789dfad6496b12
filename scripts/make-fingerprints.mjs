// Fingerprints of the household's recordings for the reference, from the sound of demo/. Needs Debian's ffmpeg.
import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fingerprintOf } from '../src/lib/io/chromaprint.js';

const root = join(import.meta.dirname, '..');
const RATE = 11_025;
const SECONDS = 120;

// The wasm module asks for a browser before it starts.
globalThis.window = globalThis;
const { default: load } = await import('@unimusic/chromaprint/dist/chromaprint.js');
const wasm = await load({
  wasmBinary: readFileSync(join(root, 'node_modules/@unimusic/chromaprint/dist/chromaprint.wasm')),
});

/** Entries of the reference with the file that holds their sound. */
const RECORDINGS = {
  'salt-ledger': ['Inventory of Gulls', 'Kelp Road', 'The Harbour Clerk', 'Low Water', 'Ballast Stone'].map(
    (title, index) => `Music/The Tidewrack Choir/Salt Ledger/0${index + 1} ${title}.flac`,
  ),
  'fathom-songs': [
    'Sounding Line',
    'Undertow, Understood',
    'Nine Fathoms',
    'Drowned Bell',
    'Slack Before Storm',
  ].map((title, index) => `Music/The Tidewrack Choir/Fathom Songs/${index + 1} - ${title}.mp3`),
  'nine-lamps-burning': [
    'Who Goes There_',
    'Harbour Bell_ A Watch Song',
    'Left _ Right of the Light',
    'Wick',
  ].map((title, index) => `Music/Orla Venn/Nine Lamps Burning/0${index + 1} ${title}.m4a`),
  'ebb-tables': [2, 4, 6, 1, 5, 3].map((thrown) => `Drop/from the old laptop/audio_${thrown}.mp3`),
};

const prints = {};
for (const [release, paths] of Object.entries(RECORDINGS)) {
  paths.forEach((path, index) => {
    const raw = execFileSync(
      'ffmpeg',
      [
        '-v',
        'error',
        '-i',
        join(root, 'demo', path),
        '-t',
        String(SECONDS),
        '-ac',
        '1',
        '-ar',
        String(RATE),
        '-f',
        's16le',
        '-',
      ],
      { maxBuffer: 1e9 },
    );
    const samples = new Int16Array(raw.buffer, raw.byteOffset, raw.length >> 1);
    const print = fingerprintOf(wasm, samples, RATE, 1);
    prints[`${release}-${index + 1}`] = Buffer.from(print.buffer).toString('base64');
  });
}
writeFileSync(
  join(root, 'src/lib/server/reference/fingerprints.json'),
  `${JSON.stringify(prints, null, 1)}\n`,
);
console.log(`${Object.keys(prints).length} fingerprints`);
