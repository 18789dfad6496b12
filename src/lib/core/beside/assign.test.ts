import { describe, expect, test } from 'vitest';
import { assignBeside, type MediaFile } from '.';

const song = (path: string): MediaFile => ({ path, isVideo: false });
const video = (path: string): MediaFile => ({ path, isVideo: true });

const assign = (media: readonly MediaFile[], ...others: string[]) =>
  assignBeside(media, others, new Set(['dat'])).map(({ path, type, role, of }) => [path, type, role, of]);

describe('a picture', () => {
  const album = [song('Choir/Ledger/CD 1/01.flac'), song('Choir/Ledger/CD 2/01.flac')];

  test('goes by its name to all songs of its folder and of its disc folders', () => {
    expect(
      assign(album, 'Choir/Ledger/Cover.JPG', 'Choir/Ledger/back.png', 'Choir/Ledger/scan 3.jpg'),
    ).toEqual([
      ['Choir/Ledger/Cover.JPG', 'picture', 'front', album.map(({ path }) => path)],
      ['Choir/Ledger/back.png', 'picture', 'back', album.map(({ path }) => path)],
    ]);
  });

  test('alone in a folder is its front, whatever its name', () => {
    expect(assign([song('A/1.mp3'), song('A/2.mp3')], 'A/IMG_4711.jpg')).toEqual([
      ['A/IMG_4711.jpg', 'picture', 'front', ['A/1.mp3', 'A/2.mp3']],
    ]);
  });

  test('of an artist goes to everything below its folder', () => {
    expect(assign([...album, song('Other/1.mp3')], 'Choir/artist.jpg')).toEqual([
      ['Choir/artist.jpg', 'picture', 'artist', album.map(({ path }) => path)],
    ]);
  });

  test('of a folder for all sorts of files, or of several videos, belongs to none', () => {
    expect(assign([song('Drop/1.mp3'), song('2.mp3')], 'Drop/cover.jpg', 'cover.jpg')).toEqual([]);
    expect(assign([video('V/a.mp4'), video('V/b.mp4')], 'V/cover.jpg')).toEqual([]);
  });

  test('of the same name belongs to that file alone', () => {
    expect(assign([video('V/a.mp4'), video('V/b.mp4')], 'V/A.jpg')).toEqual([
      ['V/A.jpg', 'picture', 'front', ['V/a.mp4']],
    ]);
  });
});

test('other files go to the file of their name, in whatever language, or to the only one of their folder', () => {
  const media = [video('V/Low Water.mkv'), video('V/Ebb.mkv'), song('Drop/one.mp3')];
  expect(
    assign(
      media,
      'V/Low Water.en.srt',
      'V/ebb.dat',
      'V/other.dat',
      'V/notes.pdf',
      'Drop/other.lrc',
      'V/Ebb.xml',
    ),
  ).toEqual([
    ['V/Low Water.en.srt', 'subtitles', 'front', ['V/Low Water.mkv']],
    ['V/ebb.dat', 'sidecar', 'front', ['V/Ebb.mkv']],
    ['V/Ebb.xml', 'sidecar', 'front', ['V/Ebb.mkv']],
  ]);
  expect(assign([song('Tape/tape.flac')], 'Tape/side.cue', 'Tape/notes.txt')).toEqual([
    ['Tape/side.cue', 'chapters', 'front', ['Tape/tape.flac']],
  ]);
});
