import fc from 'fast-check';
import { expect, test } from 'vitest';
import { finding, plan, video } from '../../../../tests/helpers/attic-plan';
import { makeAlbum, makeItem, planItem } from '../../../../tests/helpers/items';
import { editItem, toTexts, type Item, type PictureId } from '../items';
import { RULEBOOKS } from '$lib/rulebooks';
import { LivePlan } from './live-plan';
import { NO_CHOICES, type PlayerChoices } from './choices';

test('a top folder that asks for a picture gets the chosen one, else one of its albums; without both it is told', () => {
  const songs = makeAlbum(2).map((item) => {
    const streams = item.facts.streams.map((stream) => ({ ...stream, codec: 'mp3' }));
    const own = { ...item, format: 'mp3' as const, facts: { ...item.facts, streams } };
    return editItem(own, { genre: ['folk'] });
  });
  const bare = songs.map((item) => ({ ...item, file: { ...item.file, pictures: [] } }));
  const path = 'folk/top.jpg';
  const picture = { id: 'own' as PictureId, mime: 'image/jpeg', bytes: 9, width: 300, height: 300 };
  const live = (items: readonly Item[], pictures: PlayerChoices['pictures']) => {
    const made = new LivePlan(RULEBOOKS.galley);
    const choices = { ...NO_CHOICES, pictures };
    made.see([], { placed: [], choices, policy: 'ask' });
    made.change(items.map(planItem), []);
    return made;
  };
  const keyOf = (made: LivePlan) =>
    made
      .whole('x')
      .steps.flatMap((step) => (step.type === 'writePicture' && step.path === path ? step.signature : []))[0];
  expect(keyOf(live(songs, []))).toMatch(/^own:/);
  expect(live(songs, []).topFolders()).toMatchObject([{ path, items: 2, from: 'song-1' }]);
  expect(keyOf(live(songs, [{ path, picture }]))).toBe('chosen:own');
  // Another spelling of the same folder, to a disk that is blind to case.
  expect(keyOf(live(bare, [{ path: 'FOLK/top.jpg', picture }]))).toBe('chosen:own');
  expect(live(bare, []).topFolders()).toMatchObject([{ path, picture: null, from: null }]);
  expect(
    live(bare, [])
      .whole('x')
      .findings.map(({ id }) => id),
  ).toContain('noPicture topFolder');
});

test('what a run adds is told with its pictures', () => {
  const live = new LivePlan(RULEBOOKS.attic);
  live.see([], { placed: [], choices: NO_CHOICES, policy: 'ask' });
  const items = makeAlbum(2);
  live.change(items.map(planItem), []);
  const picture = items[0]?.file.pictures[0]?.bytes ?? 0;
  expect(picture).toBeGreaterThan(0);
  const adds = items.reduce((sum, { size }) => sum + size, picture);
  expect(live.digest().room.kinds).toEqual([{ kind: 'song', now: 0, adds, removes: 0 }]);
});

test('an album gets its folder, its tracks and its picture', () => {
  const made = plan(makeAlbum(2));
  expect(made.findings).toEqual([]);
  expect(made.steps.map(({ type, path }) => `${type} ${path}`)).toEqual([
    'makeFolder Music',
    'makeFolder Music/The Tidewrack Choir',
    'makeFolder Music/The Tidewrack Choir/Salt Ledger (2019)',
    'copy Music/The Tidewrack Choir/Salt Ledger (2019)/01 Song 1.flac',
    'copy Music/The Tidewrack Choir/Salt Ledger (2019)/02 Song 2.flac',
    'writePicture Music/The Tidewrack Choir/Salt Ledger (2019)/sleeve.jpg',
  ]);
  expect(made.showing.nodes).toHaveLength(1);
  expect(made.showing.nodes[0]?.facts).toMatchObject({
    title: 'Salt Ledger',
    maker: 'The Tidewrack Choir',
    year: 2019,
  });
});

test('a music video gets a folder and a sidecar of exactly its own name', () => {
  const made = plan([video('v', { title: 'Low Water?', artist: ['AC/DC & Co.'], album: 'x', date: '2020' })]);
  expect(made.steps.filter(({ type }) => type !== 'makeFolder').map(({ path }) => path)).toEqual([
    'Music Videos/AC-DC & Co. - Low Water/AC-DC & Co. - Low Water.mp4',
    'Music Videos/AC-DC & Co. - Low Water/AC-DC & Co. - Low Water.slip',
  ]);
  expect(made.showing.unplaced).toEqual([]);
  expect(finding(made, 'nameMended')?.severity).toBe('note');
});

test('no plan gives two files one path, whatever the fields hold', () => {
  const name = fc.oneof(
    fc.constantFrom(
      'A',
      'a',
      'CON',
      'x/y',
      '..',
      ' ',
      'e\u0301',
      'é',
      '<script>',
      'a\nb',
      '\u202eabc',
      '.hidden',
      'a\ud800',
    ),
    fc.string({ unit: 'binary' }),
  );
  const fields = fc.record({
    title: name,
    artist: name,
    album: name,
    albumArtist: fc.option(name),
    track: fc.option(fc.nat(30)),
  });
  fc.assert(
    fc.property(fc.array(fields, { maxLength: 20 }), (list) => {
      const made = plan(
        list.map((own, index) => makeItem(`i${index}`, { ...own, artist: toTexts([own.artist]) })),
      );
      const keys = made.steps
        .filter(({ type }) => type !== 'makeFolder')
        .map(({ path }) => path.normalize('NFC').toLowerCase());
      expect(new Set(keys).size).toBe(keys.length);
      for (const key of keys) {
        expect(key.startsWith('music/')).toBe(true);
        for (const part of key.split('/')) expect(part).toMatch(/^[^\p{Cc}<>:"|?*\\]*[^\p{Cc}<>:"|?*\\. ]$/u);
        expect(key.split('/')).toHaveLength(4);
      }
    }),
    { seed: 7, numRuns: 200 },
  );
});
