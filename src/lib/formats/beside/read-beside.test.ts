import { expect, test } from 'vitest';
import { makeItem } from '../../../../tests/helpers/items';
import type { BesideType } from '../../core/beside';
import { RULEBOOKS } from '../../rulebooks';
import { readBeside } from '.';

const song = makeItem('a');
const film = {
  ...song,
  facts: {
    ...song.facts,
    streams: [
      { type: 'picture' as const, codec: 'avc', channels: null, sampleRate: null, width: 640, height: 360 },
    ],
  },
};
const read = (type: BesideType, path: string, text: string, item = song) =>
  readBeside(type, path, text, item);

test('a sidecar with any root is read by the names of its elements', () => {
  const text = `<?xml version="1.0"?><anything><Title>Low Water</Title><album-artist>The Choir</album-artist>
    <year>2019</year><genre>folk</genre><genre>sea songs</genre><track>3</track><unknown>x</unknown>
    <summary>Tides &amp; ropes</summary></anything>`;
  expect(read('sidecar', 'a.xml', text)).toEqual({
    fields: {
      title: 'Low Water',
      albumArtist: 'The Choir',
      date: '2019',
      genre: ['folk', 'sea songs'],
      track: 3,
      description: 'Tides & ropes',
    },
  });
});

test('a sidecar in the dialect of a rulebook is read by its elements, whatever these would mean elsewhere', () => {
  const dialects = RULEBOOKS.attic.beside.filter((rules) => rules.type === 'sidecar');
  const text =
    '<clip><by>The Tidewrack Choir</by><name>Low Water</name><on>Salt Ledger</on><place>4</place><year>2019</year></clip>';
  const says = (path: string, said = text) => readBeside('sidecar', path, said, song, dialects);
  expect(says('a.slip')).toEqual({
    fields: {
      artist: ['The Tidewrack Choir'],
      title: 'Low Water',
      album: 'Salt Ledger',
      track: 4,
      date: '2019',
    },
  });
  // Of another extension, or another root, only what is named as usual counts.
  expect(says('a.xml')).toEqual({ fields: { date: '2019' } });
  expect(says('a.slip', text.replace(/clip>/g, 'other>'))).toEqual({ fields: { date: '2019' } });
  expect(says('a.slip', `<!DOCTYPE a [<!ENTITY b "c">]>${text}`)).toBeNull();
});

test('what is not what its name promises says nothing', () => {
  expect(read('sidecar', 'a.xml', 'no XML <')).toBeNull();
  expect(read('sidecar', 'a.xml', '<a><b>x</b></a>')).toBeNull();
  expect(read('sidecar', 'a.xml', '<!DOCTYPE a [<!ENTITY b "c">]><a><title>&b;</title></a>')).toBeNull();
  expect(read('lyrics', 'a.lrc', 'no times')).toBeNull();
  expect(read('chapters', 'a.cue', 'nothing')).toBeNull();
  expect(read('subtitles', 'a.srt', 'nothing', film)).toBeNull();
  expect(read('text', 'a.txt', '  ')).toBeNull();
  expect(read('text', 'a.txt', 'x'.repeat(3_000_000))).toBeNull();
});

test('lyrics, chapters, subtitles and texts become parts of the description', () => {
  expect(read('lyrics', 'a.lrc', '[00:01.00]Haul')).toEqual({ timed: [{ startSeconds: 1, text: 'Haul' }] });
  const cue = 'FILE "a.wav" WAVE\n TRACK 01 AUDIO\n  TITLE "One"\n  INDEX 01 00:00:00\n';
  expect(read('chapters', 'a.cue', cue)?.chapters?.map(({ title }) => title)).toEqual(['One']);
  const srt = '1\n00:00:01,000 --> 00:00:02,000\nHaul\n';
  expect(read('subtitles', 'a.en.srt', srt, film)?.tracks).toMatchObject([{ language: 'en' }]);
  expect(read('subtitles', 'a.en.srt', srt)).toBeNull();
  expect(read('text', 'a.txt', 'Haul away')).toEqual({ fields: { lyrics: 'Haul away' } });
  const marks = '0:00 Intro\n1:00 Ropes\n';
  expect(read('text', 'a.txt', marks)?.chapters?.map(({ title }) => title)).toEqual(['Intro', 'Ropes']);
  const atoms =
    '<Chapters><EditionEntry><ChapterAtom><ChapterTimeStart>00:00:00.0</ChapterTimeStart></ChapterAtom></EditionEntry></Chapters>';
  expect(read('sidecar', 'a.xml', atoms)?.chapters).toHaveLength(1);
  const book = { ...song, settled: 'audiobook' as const };
  expect(read('text', 'a.txt', 'About ropes', book)).toEqual({ fields: { description: 'About ropes' } });
});
