import { expect, test } from 'vitest';
import { makeAlbum, makeItem } from '../../../../../tests/helpers/items';
import { RULEBOOKS } from '../../../rulebooks';
import { planRun, NO_CHOICES, toPlanItem } from '..';
import { outgoingOf } from '../../../formats';
import type { Rulebook } from '../../rulebooks';

/** Attic, with music videos among the songs of their albums. */
const together: Rulebook = {
  ...RULEBOOKS.attic,
  places: RULEBOOKS.attic.places
    .filter(({ kinds }) => !kinds.includes('musicVideo'))
    .map((place) =>
      place.kinds.includes('song') ? { ...place, kinds: ['song' as const, 'musicVideo' as const] } : place,
    ),
};

test('where a place holds several kinds, a music video stands among the songs of its album', () => {
  const album = makeAlbum(2);
  const [song] = album;
  if (!song) throw new Error('no song');
  const { file, facts } = song;
  const video = makeItem(
    'video',
    { ...file.fields, title: 'Low Water', track: 3 },
    {
      format: 'mp4',
      path: 'Videos/low water.mp4',
      settled: 'musicVideo',
      facts: {
        ...facts,
        tagFormats: ['MP4'],
        streams: [
          { type: 'picture', codec: 'AVC', channels: null, sampleRate: null, width: 640, height: 360 },
          ...facts.streams,
        ],
      },
    },
  );
  const made = planRun({
    items: [...album, video].map((item) => toPlanItem(item, outgoingOf)),
    rulebook: together,
    there: [],
    placed: [],
    choices: NO_CHOICES,
    policy: 'ask',
    token: 't',
  });
  expect(made.paths.find(({ item }) => item === video.id)?.path).toBe(
    'Music/The Tidewrack Choir/Salt Ledger (2019)/03 Low Water.mp4',
  );
  expect(made.showing.nodes).toHaveLength(1);
  const [shelf] = made.showing.nodes;
  expect(shelf?.kind).toBe('song');
  expect(shelf?.nodes.map(({ kind, facts: { title } }) => [kind, title])).toEqual([
    ['song', 'Song 1'],
    ['song', 'Song 2'],
    ['musicVideo', 'Low Water'],
  ]);
});
