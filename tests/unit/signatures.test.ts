import { expect, test } from 'vitest';
import { editContent, type Item, type PictureId } from '../../src/lib/core/items';
import { planFor, type PlayerName } from '../helpers/plans';
import { makeItem } from '../helpers/items';

/*
 * What files on a player are noted under says whether they are as they would be written. Where a signature changes by
 * itself, as by another version of a package, every such file is written anew: these were noted as they stand.
 */

const picture = { id: 'p1' as PictureId, mime: 'image/jpeg', bytes: 7, width: 600, height: 600 };
const SONG = { artist: ['Orla Venn'], albumArtist: 'Orla Venn', album: 'Wick', date: '2016', title: 'Lamp' };

const ITEMS: readonly Item[] = [
  makeItem('plain', { ...SONG, track: 1 }),
  editContent(makeItem('edited', { ...SONG, track: 2 }), {
    fields: { title: 'Lämp', date: '2016-05-01', artist: ['Orla Venn', 'Dag Holme'], compilation: true },
    pictures: { front: picture },
    chapters: [
      { startSeconds: 0, endSeconds: 5.25, title: 'Eins', link: 'https://skerry.example/', picture },
      { startSeconds: 6, endSeconds: null, title: 'Zwei', link: null },
    ],
    timed: [{ startSeconds: 1.5, text: 'Haul', words: [{ startSeconds: 1.5, text: 'Haul' }] }],
  }),
  editContent(makeItem('marked', { ...SONG, track: 3 }), { fields: { edition: 'live' } }),
  makeItem('mp3', { ...SONG, track: 4 }, mp3('ID3v2.4')),
  makeItem('bare', { ...SONG, track: 5 }, mp3('ID3v1')),
  editContent(
    makeItem(
      'video',
      { title: 'Low Water', artist: ['The Choir'] },
      {
        format: 'mp4',
        path: 'Videos/Low Water.mp4',
        settled: 'musicVideo',
      },
    ),
    { fields: { date: '2001' }, tracks: [{ id: 1, name: 'Sound', language: 'en' }] },
  ),
];

function mp3(tag: string): Partial<Item> {
  return {
    format: 'mp3',
    path: `Music/Album/${tag}.mp3`,
    facts: { durationSeconds: 200, streams: [], tagFormats: [tag] },
  };
}

const signaturesOn = (player: PlayerName) =>
  Object.fromEntries(
    planFor(player, ITEMS).steps.flatMap((step) =>
      'signature' in step ? [[`${step.type} ${step.path}`, step.signature]] : [],
    ),
  );

test.each(['attic', 'galley', 'pocket'] as const)('what is noted of files on %s', (player) => {
  expect(signaturesOn(player)).toMatchSnapshot();
});
