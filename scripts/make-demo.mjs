// Synthesises the household of Skerry House into demo/: sound, pictures and their faults.
// Needs Debian's ffmpeg, espeak-ng and python3-mutagen; the result is kept in the repository, so that nobody else does.
import { execFileSync } from 'node:child_process';
import { mkdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { drawPicture } from './demo/pictures.mjs';
import { renderTune } from '../src/lib/server/sound/tunes.js';
import { makeUnknown } from './demo/unknown.mjs';

const root = join(dirname(fileURLToPath(import.meta.url)), '..', 'demo');
const work = join(root, '.work');
// Encoders differ by version: what has not changed is best left as it is.
const unknownOnly = process.argv.includes('--unknown');
const filmsOnly = process.argv.includes('--films');
const partOnly = unknownOnly || filmsOnly;
if (!partOnly) rmSync(root, { recursive: true, force: true });
mkdirSync(work, { recursive: true });

const ffmpeg = (...args) => execFileSync('ffmpeg', ['-hide_banner', '-loglevel', 'error', '-y', ...args]);
const place = (path) => {
  const full = join(root, path);
  mkdirSync(dirname(full), { recursive: true });
  return full;
};
const tags = (fields) => Object.entries(fields).flatMap(([name, value]) => ['-metadata', `${name}=${value}`]);

/** A picture drawn in code, as JPEG or PNG. */
function picture(name, width, height, style, format = 'jpg') {
  const raw = join(work, `${name}.ppm`);
  const out = join(work, `${name}.${format}`);
  writeFileSync(raw, drawPicture(width, height, style));
  ffmpeg('-i', raw, '-q:v', '5', out);
  return out;
}

function tune(seed, seconds) {
  const path = join(work, `tune-${seed}-${seconds}.wav`);
  writeFileSync(path, renderTune(seed, seconds));
  return path;
}

function speech(name, text) {
  const path = join(work, `${name}.wav`);
  execFileSync('espeak-ng', ['-v', 'en-gb', '-s', '150', '-w', path, text]);
  return path;
}

/** ffmpeg has no name for this frame. */
function markCompilation(path) {
  const script =
    'import sys; from mutagen.id3 import ID3, TCMP; tag = ID3(sys.argv[1]); tag.add(TCMP(3, "1")); tag.save()';
  execFileSync('/usr/bin/python3', ['-c', script, join(root, path)]);
}

const CODECS = {
  flac: ['-c:a', 'flac', '-compression_level', '8'],
  mp3: ['-c:a', 'libmp3lame', '-b:a', '48k', '-write_xing', '1'],
  m4a: ['-c:a', 'aac', '-b:a', '48k'],
  opus: ['-c:a', 'libopus', '-b:a', '28k'],
  ogg: ['-c:a', 'libvorbis', '-q:a', '0'],
  wav: ['-c:a', 'pcm_s16le', '-ar', '8000'],
  aiff: ['-c:a', 'pcm_s16be', '-ar', '8000', '-write_id3v2', '1'],
};

let seed = 1;
/** One song: its sound, its tags, and its cover where the format holds one. */
function song(path, fields, { seconds = 84 + ((seed * 7) % 23), cover = null, extra = [] } = {}) {
  const extension = path.split('.').pop();
  const inputs = ['-i', tune(seed++, seconds)];
  const withCover = cover && ['flac', 'mp3', 'm4a'].includes(extension);
  const covers = withCover
    ? [
        '-i',
        cover,
        '-map',
        '0:a',
        '-map',
        '1:v',
        '-c:v',
        'copy',
        '-disposition:v',
        'attached_pic',
        '-metadata:s:v',
        'comment=Cover (front)',
      ]
    : [];
  ffmpeg(
    ...inputs,
    ...covers,
    ...CODECS[extension],
    ...tags(fields),
    ...extra,
    '-fflags',
    '+bitexact',
    place(path),
  );
}

function video(path, fields, style, { seconds = 88, codecs, extra = [], size = '320:180' } = {}) {
  const frame = picture(`frame-${seed}`, 480, 270, style);
  const moving = `zoompan=z='1.15+0.1*sin(on/60)':x='on/3':y='on/9':d=1:s=${size.replace(':', 'x')}:fps=8`;
  ffmpeg(
    '-loop',
    '1',
    '-framerate',
    '8',
    '-i',
    frame,
    '-i',
    tune(seed++, seconds),
    '-t',
    String(seconds),
    '-vf',
    moving,
    ...codecs,
    ...tags(fields),
    ...extra,
    '-fflags',
    '+bitexact',
    place(path),
  );
}

const H264 = [
  '-c:v',
  'libx264',
  '-crf',
  '34',
  '-preset',
  'slow',
  '-pix_fmt',
  'yuv420p',
  '-c:a',
  'aac',
  '-b:a',
  '40k',
];
const VP9 = [
  '-c:v',
  'libvpx-vp9',
  '-crf',
  '46',
  '-b:v',
  '0',
  '-cpu-used',
  '6',
  '-c:a',
  'libopus',
  '-b:a',
  '32k',
];

if (!partOnly) makeKnown();
if (!filmsOnly) makeUnknown({ place, ffmpeg, tune, speech });
if (!unknownOnly) makeFilms();
rmSync(work, { recursive: true, force: true });
console.log(execFileSync('du', ['-sh', root], { encoding: 'utf8' }).trim());

/** The household's music, videos, books and podcasts with their faults. */
function makeKnown() {
  const ledger = picture('ledger', 1000, 1000, {
    sky: '#d9e4dd',
    sea: '#2b5a6b',
    sun: '#e6b04a',
    mark: 'horizon',
  });
  const fathom = picture('fathom', 800, 520, {
    sky: '#20343f',
    sea: '#0d5560',
    sun: '#f0dca0',
    mark: 'waves',
  });
  const evenings = picture('evenings', 640, 640, {
    sky: '#392b45',
    sea: '#7c4a3d',
    sun: '#f2c66d',
    mark: 'window',
  });
  const almanac = picture(
    'almanac',
    600,
    600,
    { sky: '#12202a', sea: '#1c3138', sun: '#ffe9a8', mark: 'lamp' },
    'png',
  );

  // An album nearly right: one song lacks its album artist and names a guest, one carries another year.
  const choir = {
    artist: 'The Tidewrack Choir',
    album_artist: 'The Tidewrack Choir',
    album: 'Salt Ledger',
    date: '2019',
    genre: 'choral',
  };
  ['Inventory of Gulls', 'Kelp Road', 'The Harbour Clerk', 'Low Water', 'Ballast Stone'].forEach(
    (title, index) => {
      const fields = { ...choir, title, track: `${index + 1}`, TRACKTOTAL: '5' };
      if (index === 2) {
        fields.artist = 'The Tidewrack Choir with Orla Venn';
        delete fields.album_artist;
      }
      if (index === 4) fields.date = '2018';
      song(
        `Music/The Tidewrack Choir/Salt Ledger/${String(index + 1).padStart(2, '0')} ${title}.flac`,
        fields,
        { cover: ledger },
      );
    },
  );

  // Well tagged, but its picture is not square; one file has the newer tag version.
  ['Sounding Line', 'Undertow, Understood', 'Nine Fathoms', 'Drowned Bell', 'Slack Before Storm'].forEach(
    (title, index) => {
      const fields = {
        artist: 'The Tidewrack Choir',
        album_artist: 'The Tidewrack Choir',
        album: 'Fathom Songs',
        date: '2021',
        genre: 'choral',
        title,
        track: `${index + 1}/5`,
      };
      song(`Music/The Tidewrack Choir/Fathom Songs/${index + 1} - ${title}.mp3`, fields, {
        cover: fathom,
        extra: ['-id3v2_version', index === 3 ? '4' : '3', '-write_id3v1', index < 2 ? '1' : '0'],
      });
    },
  );

  // Names with reserved letters, no picture at all.
  ['Who Goes There?', 'Harbour Bell: A Watch Song', 'Left / Right of the Light', 'Wick'].forEach(
    (title, index) => {
      const fields = {
        artist: 'Orla Venn',
        album_artist: 'Orla Venn',
        album: 'Nine Lamps Burning',
        date: '2016',
        genre: 'folk',
        composer: 'Orla Venn',
        title,
        track: `${index + 1}/5`,
        disc: '1/1',
      };
      song(
        `Music/Orla Venn/Nine Lamps Burning/${String(index + 1).padStart(2, '0')} ${title.replace(/[?:/]/g, '_')}.m4a`,
        fields,
      );
    },
  );

  // Formats whose tags are not written yet.
  ['Donkey Engine', 'Oil and Patience', 'The Night Boiler'].forEach((title, index) => {
    const fields = {
      artist: 'Halyard & Daughters',
      album_artist: 'Halyard & Daughters',
      album: 'Quiet Engines',
      date: '2014',
      genre: 'folk',
      title,
      track: String(index + 1),
    };
    song(
      `Music/Halyard & Daughters/Quiet Engines/0${index + 1} ${title}.${index === 1 ? 'ogg' : 'opus'}`,
      fields,
    );
  });
  song('Music/Halyard & Daughters/Quiet Engines/04 Steam Up.wav', {
    artist: 'Halyard & Daughters',
    album: 'Quiet Engines',
    title: 'Steam Up',
    date: '2014',
    genre: 'folk',
    track: '4',
  });
  song('Music/Halyard & Daughters/Quiet Engines/05 Cold Iron.aiff', {
    artist: 'Halyard & Daughters',
    album_artist: 'Halyard & Daughters',
    album: 'Quiet Engines',
    title: 'Cold Iron',
    date: '2014',
    genre: 'folk',
    track: '5',
  });

  // A compilation on which one song does not say that it is one.
  [
    ['Dag Holme', 'Ferry Waltz'],
    ['Orla Venn', 'Lamp Song'],
    ['The Tidewrack Choir', 'Kitchen Hymn'],
    ['Ines Marrable', 'Last Boat'],
  ].forEach(([artist, title], index) => {
    const fields = {
      artist,
      album: 'Skerry House Evenings',
      date: '2023',
      genre: 'various',
      title,
      track: `${index + 1}/4`,
    };
    song(`Music/Skerry House Evenings/0${index + 1} ${artist} - ${title}.mp3`, fields, {
      cover: evenings,
      extra: ['-id3v2_version', '4'],
    });
    if (index !== 3) markCompilation(`Music/Skerry House Evenings/0${index + 1} ${artist} - ${title}.mp3`);
  });

  // No tags at all: only its name says what it is.
  song('Drop/07 Slack Before Storm (take 2).mp3', {}, { extra: ['-map_metadata', '-1'] });

  // Music videos: one well named, one in a folder whose names do not match, and two of other formats.
  video(
    'Music Videos/The Tidewrack Choir - Low Water.mp4',
    {
      artist: 'The Tidewrack Choir',
      title: 'Low Water',
      album: 'Salt Ledger',
      date: '2019',
      genre: 'choral',
    },
    { sky: '#b9c9c9', sea: '#39636e', sun: '#e5b03a', mark: 'horizon' },
    { codecs: H264, extra: ['-movflags', '+faststart'] },
  );
  video(
    'Music Videos/Kelp Road film/kelp_road_final2.mp4',
    { artist: 'The Tidewrack Choir', title: 'Kelp Road', album: 'Salt Ledger', date: '2019' },
    { sky: '#304a40', sea: '#1e3a2f', sun: '#c7d36a', mark: 'waves' },
    { codecs: H264 },
  );
  writeFileSync(
    place('Music Videos/Kelp Road film/Kelp Road (film).slip'),
    '<?xml version="1.0" encoding="UTF-8"?>\n<clip>\n  <name>Kelp Road</name>\n</clip>\n',
  );
  video(
    'Drop/Orla Venn - Harbour Bell.webm',
    {},
    { sky: '#4a2f3a', sea: '#20343f', sun: '#f0dca0', mark: 'lamp' },
    { codecs: VP9 },
  );
  video(
    'Music Videos/Halyard & Daughters - Donkey Engine.mkv',
    { ARTIST: 'Halyard & Daughters', title: 'Donkey Engine' },
    { sky: '#5b4a33', sea: '#2a2a2a', sun: '#ee7b66', mark: 'window' },
    { codecs: H264 },
  );

  // Other kinds.
  video(
    'Camera/20241019_161204.mp4',
    {},
    { sky: '#9fc3d6', sea: '#5d7f5a', sun: '#fff3c4', mark: 'horizon' },
    { seconds: 26, codecs: H264, extra: ['-metadata', 'make=Kestrel'] },
  );
  video(
    'Drop/kelp_forest_loop.mkv',
    {},
    { sky: '#0f3a34', sea: '#0a2a22', sun: '#7fbf8a', mark: 'waves' },
    { seconds: 60, codecs: H264 },
  );
  video(
    'Drop/clip_004.mp4',
    {},
    { sky: '#c9b8a0', sea: '#6d5a4a', sun: '#fff3c4', mark: 'window' },
    { seconds: 31, codecs: H264 },
  );
  song('Drop/gulls-twice.ogg', {}, { seconds: 11 });

  const chapters = ['The Lamp Is Lit', 'An Inventory of Oil', 'The Supply Boat Is Late', 'Fog, First Day'];
  const readings = chapters.map((title, index) =>
    speech(
      `chapter-${index}`,
      `Chapter ${index + 1}. ${title}. ` +
        'The keeper wrote in the almanac that the wind had gone round to the north, that the oil would last eleven days, and that nobody had come. '.repeat(
          6,
        ),
    ),
  );
  const lengths = readings.map((file) =>
    Number(
      execFileSync('ffprobe', ['-v', 'error', '-show_entries', 'format=duration', '-of', 'csv=p=0', file]),
    ),
  );
  let at = 0;
  const marks = chapters.map(
    (title, index) =>
      `[CHAPTER]\nTIMEBASE=1/1000\nSTART=${Math.round(at * 1000)}\nEND=${Math.round((at += lengths[index]) * 1000)}\ntitle=${title}\n`,
  );
  writeFileSync(join(work, 'chapters.txt'), `;FFMETADATA1\n${marks.join('')}`);
  writeFileSync(join(work, 'list.txt'), readings.map((file) => `file '${file}'\n`).join(''));
  ffmpeg(
    '-f',
    'concat',
    '-safe',
    '0',
    '-i',
    join(work, 'list.txt'),
    '-i',
    join(work, 'chapters.txt'),
    '-i',
    almanac,
    '-map',
    '0:a',
    '-map',
    '2:v',
    '-map_chapters',
    '1',
    '-c:v',
    'copy',
    '-disposition:v',
    'attached_pic',
    '-c:a',
    'aac',
    '-b:a',
    '24k',
    '-ac',
    '1',
    ...tags({
      title: "The Lamp Keeper's Almanac",
      artist: 'Ines Marrable',
      album: "The Lamp Keeper's Almanac",
      date: '2008',
      genre: 'Audiobook',
    }),
    '-f',
    'mp4',
    place("Books/The Lamp Keeper's Almanac.m4b"),
  );
  ffmpeg(
    '-i',
    speech(
      'podcast',
      'This is Slack Water, from Skarra Harbour Radio. Today we speak of tides, of ropes, and of the price of herring. '.repeat(
        14,
      ),
    ),
    '-c:a',
    'libmp3lame',
    '-b:a',
    '32k',
    ...tags({
      title: 'Ropes and Herring',
      artist: 'Skarra Harbour Radio',
      album: 'Slack Water',
      date: '2024',
      genre: 'Podcast',
      track: '31',
    }),
    place('Podcasts/Slack Water/slack-water-031.mp3'),
  );

  // Broken ones: not what its name says, empty, and cut off.
  writeFileSync(
    place('Music/Orla Venn/Nine Lamps Burning/05 The Unlit.mp3'),
    'This is a letter that somebody saved under the wrong name.\n'.repeat(40),
  );
  writeFileSync(place('Drop/empty.flac'), '');
  const whole = readFileSync(join(root, 'Music/The Tidewrack Choir/Salt Ledger/02 Kelp Road.flac'));
  writeFileSync(place('Drop/kelp_road_half.flac'), whole.subarray(0, Math.floor(whole.length * 0.3)));
}

/** Two versions of one film that differ in their picture alone, and one whose year nobody wrote down. */
function makeFilms() {
  seed = 900;
  const film = (path, fields, size) =>
    video(
      `Films/${path}`,
      { media_type: '9', genre: 'drama', ...fields },
      { sky: '#8aa4b0', sea: '#1f3d4a', sun: '#f2e6c0', mark: 'window' },
      {
        seconds: 24,
        codecs: H264,
        size,
      },
    );
  const lightship = { title: 'The Quiet Lightship', date: '1974' };
  film('The Quiet Lightship.mp4', lightship, '640:360');
  film('The Quiet Lightship, small.mp4', lightship, '320:180');
  film('Last Ferry to Skarra.mp4', { title: 'Last Ferry to Skarra' }, '320:180');
  addTracks('Films/Last Ferry to Skarra.mp4');
}

/** Two languages, a commentary and two subtitles, beside what a film has already. */
function addTracks(path) {
  const voice = (name, language, text) => {
    const wav = join(work, `${name}.wav`);
    execFileSync('espeak-ng', ['-v', language, '-s', '140', '-w', wav, text]);
    return wav;
  };
  const text = (name, lines) => {
    const srt = join(work, `${name}.srt`);
    const cues = lines.map(
      (line, index) =>
        `${index + 1}\n00:00:${String(4 * index + 2).padStart(2, '0')},000 --> 00:00:${String(4 * index + 5).padStart(2, '0')},500\n${line}\n`,
    );
    writeFileSync(srt, cues.join('\n'));
    return srt;
  };
  const whole = join(work, 'skarra.mp4');
  ffmpeg(
    ...['-i', place(path)],
    ...['-i', voice('skarra-nb', 'nb', 'Den siste ferjen går nå. Skynd deg ned til kaia.')],
    ...[
      '-i',
      voice('skarra-remarks', 'en-gb', 'Here we had one take, because the tide would not wait for us.'),
    ],
    ...[
      '-i',
      text('skarra-en', ['The last ferry leaves now.', 'Hurry down to the quay.', 'They are not coming.']),
    ],
    ...['-i', text('skarra-nb', ['Den siste ferjen går nå.', 'Skynd deg ned til kaia.', 'De kommer ikke.'])],
    ...['-map', '0:v', '-map', '0:a', '-map', '1:a', '-map', '2:a', '-map', '3:s', '-map', '4:s'],
    ...['-c', 'copy', '-c:a:1', 'aac', '-c:a:2', 'aac', '-b:a', '32k', '-c:s', 'mov_text'],
    ...[
      '-metadata:s:a:0',
      'language=eng',
      '-metadata:s:a:1',
      'language=nob',
      '-metadata:s:a:2',
      'language=eng',
    ],
    ...[
      '-metadata:s:a:2',
      'title=Director’s commentary',
      '-disposition:a:1',
      '0',
      '-disposition:a:2',
      'comment',
    ],
    ...['-metadata:s:s:0', 'language=eng', '-metadata:s:s:1', 'language=nob', '-disposition:s:0', '0'],
    ...['-map_metadata', '0', '-fflags', '+bitexact', whole],
  );
  renameSync(whole, place(path));
}
