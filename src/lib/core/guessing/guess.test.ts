import { readFileSync } from 'node:fs';
import { describe, expect, test } from 'vitest';
import { EMPTY_FIELDS, type Content, type Facts, type Fields, type Stream } from '../items';
import { NO_SURROUNDINGS, guessKind, type Surroundings } from './guess';
import { KINDS, Neighbourhood, kindOfFolder, type Certainty, type FolderKind, type Kind } from '../kinds';
import { RULES } from './weights';
import { evidenceWords } from '../../ui/words/evidence-words';

const sound: Stream = {
  type: 'sound',
  codec: 'aac',
  channels: 2,
  sampleRate: 44_100,
  width: null,
  height: null,
};
const picture: Stream = {
  type: 'picture',
  codec: 'avc1',
  channels: null,
  sampleRate: null,
  width: 640,
  height: 360,
};
/** Facts of a file, and how many chapters it has. */
interface Own extends Facts {
  readonly chapters: number;
}
const facts = (durationSeconds: number, moving: boolean, chapters = 0): Own => ({
  chapters,
  durationSeconds,
  streams: moving ? [picture, sound] : [sound],
  tagFormats: [],
});
const fileOf = ({ chapters }: Own, fields: Partial<Fields>): Content => ({
  fields: { ...EMPTY_FIELDS, ...fields },
  pictures: [],
  chapters: Array.from({ length: chapters }, (_, index) => ({
    startSeconds: index * 60,
    endSeconds: null,
    title: `${index}`,
    link: null,
  })),
});
const guess = (path: string, own: Own, fields: Partial<Fields> = {}, known: string[] = []) =>
  guessKind(
    { path, facts: own, file: fileOf(own, fields), native: [] },
    { ...NO_SURROUNDINGS, knownArtists: new Set(known) },
  );
const ALBUM = { title: 'x', artist: ['y'], album: 'z', track: 1 };

/** Labelled files: what they are, and how firm the guess must be at least. */
const LABELLED: readonly (readonly [string, Own, Partial<Fields>, Kind, readonly Certainty[]])[] = [
  ['Music/a/01 x.flac', facts(240, false), ALBUM, 'song', ['sure']],
  ['07 Slack Before Storm.mp3', facts(240, false), {}, 'song', ['likely', 'guess']],
  ['drop/Tidewrack Choir - Low Water.mp4', facts(232, true), {}, 'musicVideo', ['likely']],
  ['Music Videos/x.mp4', facts(232, true), { artist: ['y'], title: 'x' }, 'musicVideo', ['sure', 'likely']],
  ['books/almanac.m4b', facts(27_680, false, 24), { title: 'x' }, 'audiobook', ['sure']],
  ['almanac.mp3', facts(15_000, false, 12), { genre: ['Audiobook'] }, 'audiobook', ['sure']],
  [
    'Slack Water/031.mp3',
    facts(2280, false),
    { genre: ['Podcast'], title: 'x' },
    'podcast',
    ['sure', 'likely'],
  ],
  ['A Light on Skarra (2011).mkv', facts(6200, true), {}, 'film', ['sure', 'likely']],
  ['The Ferry Inspector S01E03.mkv', facts(1500, true), {}, 'episode', ['sure']],
  ['20241019_161204.mp4', facts(41, true), {}, 'homeVideo', ['likely', 'sure', 'guess']],
  ['kelp_forest_loop_2160.mkv', facts(7200, true), {}, 'ambience', ['likely', 'guess']],
  ['gulls-twice.ogg', facts(11, false), {}, 'ringtone', ['likely', 'guess']],
  ['ring.m4r', facts(20, false), {}, 'ringtone', ['sure']],
];

test.each(LABELLED)('%s', (path, own, fields, kind, certainties) => {
  const { kind: found, certainty } = guess(path, own, fields, ['tidewrack choir']);
  expect(found).toBe(kind);
  expect(certainties).toContain(certainty);
});

test('an even race is open', () => {
  expect(guess('stream_004.mp4', facts(3120 / 4, true), {})).toMatchObject({ kind: null, certainty: 'open' });
});

test('a known artist speaks for a music video', () => {
  const path = 'Orla Venn - Bell.mp4';
  expect(guess(path, facts(200, true), {}, ['orla venn']).points).toBeGreaterThan(
    guess(path, facts(200, true)).points,
  );
});

describe('evidence', () => {
  test('adds up to the points, weightiest first', () => {
    const { evidence, points } = guess('Music/a/01 x.flac', facts(240, false), ALBUM);
    expect(evidence.reduce((sum, piece) => sum + piece.points, 0)).toBe(points);
    const weights = evidence.map((piece) => Math.abs(piece.points));
    expect(weights).toEqual([...weights].sort((a, b) => b - a));
  });

  test('the page on kinds names every rule with its weights', () => {
    const page = readFileSync(new URL('../../../../docs/kinds.md', import.meta.url), 'utf8');
    for (const { code, weights } of RULES) {
      const row = page.split('\n').find((line) => line.startsWith(`| ${code} `));
      expect(row, code).toBeDefined();
      const said = (row ?? '')
        .split('|')
        .slice(3, 12)
        .map((cell) => cell.trim());
      if (typeof weights === 'function') expect(row).toContain(`+${Object.values(weights('songs'))[0]}`);
      else expect(said, code).toEqual(KINDS.map((kind) => String(weights[kind] ?? '')));
    }
  });

  test('every rule has a code of its own and a sentence', () => {
    expect(new Set(RULES.map(({ code }) => code)).size).toBe(RULES.length);
    for (const { code } of RULES) expect(evidenceWords({ code, detail: 'x', points: 1 })).not.toBe(code);
  });
});

describe('what is around a file', () => {
  const told = (path: string, own: Own, around: Partial<Surroundings>) =>
    guessKind({ path, facts: own, file: fileOf(own, {}), native: [] }, { ...NO_SURROUNDINGS, ...around });
  const short = facts(45, false);

  test.each([
    [{ neighbours: 'audiobook' }, 'audiobook'],
    [{ correction: 'podcast' }, 'podcast'],
    [{ folderRule: 'ringtone' }, 'ringtone'],
    [{ origin: 'feed' }, 'podcast'],
    [{ origin: 'disc' }, 'song'],
  ] as const)('%j makes an open file a %s', (around, kind) => {
    expect(told('x.mp3', short, {}).kind).toBeNull();
    expect(told('x.mp3', short, around).kind).toBe(kind);
  });

  test('speech speaks against a song, music for it', () => {
    expect(told('x.mp3', facts(300, false), { speech: 0.9 }).kind).not.toBe('song');
    expect(told('x.mp3', facts(300, false), { speech: 0.05 })).toMatchObject({
      kind: 'song',
      certainty: 'sure',
    });
  });

  test('a rule never makes a film of what has no picture', () =>
    expect(told('x.mp3', facts(300, false), { correction: 'film' }).kind).not.toBe('film'));

  test('neighbours vouch when enough of them are firm and agree', () => {
    const firm = guess('Music/a/01 x.flac', facts(240, false), ALBUM);
    const hood = new Neighbourhood();
    hood.add('a/1.flac', firm, null);
    hood.add('a/2.flac', firm, null);
    expect(hood.kindAround('a/3.flac')).toBeNull();
    hood.add('a/4.flac', firm, null);
    expect(hood.kindAround('a/3.flac')).toBe('song');
    hood.add('a/5.flac', firm, 'podcast');
    hood.add('a/6.flac', firm, 'podcast');
    expect(hood.kindAround('a/3.flac')).toBeNull();
    expect(hood.kindAround('b/1.flac')).toBeNull();
  });

  test('the nearest folder’s rule holds, for its own source alone', () => {
    const known: FolderKind[] = [
      { source: 's', folder: '', kind: 'song', by: 'rule' },
      { source: 's', folder: 'Books', kind: 'audiobook', by: 'rule' },
      { source: 't', folder: 'Books', kind: 'podcast', by: 'rule' },
    ];
    expect(kindOfFolder(known, 'rule', 's', 'Books/x/1.mp3')).toBe('audiobook');
    expect(kindOfFolder(known, 'rule', 's', 'Bookshelf/1.mp3')).toBe('song');
    expect(kindOfFolder(known, 'correction', 's', 'Books/1.mp3')).toBeNull();
  });
});
