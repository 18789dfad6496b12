import { describe, expect, test } from 'vitest';
import { finding, pathsOf, plan, video } from '../../../../../tests/helpers/attic-plan';
import { makeAlbum, makeItem, planItem } from '../../../../../tests/helpers/items';
import { planFor } from '../../../../../tests/helpers/plans';
import { editItem, type Item, type ItemId } from '../../items';
import type { Rulebook } from '../../rulebooks';
import { RULEBOOKS } from '$lib/rulebooks';
import { planRun } from '../plan-run';
import { type FileFacts, type ThereFile } from '../there/files';
import { NO_CHOICES, type PlayerChoices } from '../choices';
import { ofItem } from '../owner';

/** Of a file whose tags cannot be written: what is said of it changes its name alone. */
const BOUND: Item['facts'] = { ...makeItem('x').facts, locked: 'foreignTags' };

describe('findings', () => {
  test('one differing year splits an album, and the remedy joins it', () => {
    const [first, ...rest] = makeAlbum(4) as [Item, ...Item[]];
    const odd = { ...first, file: { ...first.file, fields: { ...first.file.fields, date: '2018' } } };
    const split = finding(plan([odd, ...rest]), 'splitAlbum');
    expect(split).toMatchObject({
      severity: 'splits',
      items: [odd.id],
      words: { groups: '2', fields: 'date', found: '2018' },
    });
    const remedy = split?.remedy;
    if (remedy?.type !== 'edit') throw new Error('no edits');
    expect(remedy.changes).toEqual([{ item: odd.id, edits: { date: '2019' } }]);
    const mended = plan([editItem(odd, { date: '2019' }), ...rest]);
    expect(finding(mended, 'splitAlbum')).toBeUndefined();
    expect(mended.showing.nodes).toHaveLength(1);
  });

  test('a guest without an album artist splits an album', () => {
    const [first, ...rest] = makeAlbum(3) as [Item, ...Item[]];
    const guest = {
      ...first,
      file: {
        ...first.file,
        fields: { ...first.file.fields, artist: ['The Choir with Orla Venn'], albumArtist: null },
      },
    };
    const remedy = finding(plan([guest, ...rest]), 'splitAlbum')?.remedy;
    expect(remedy).toEqual({
      type: 'edit',
      changes: [{ item: guest.id, edits: { albumArtist: 'The Tidewrack Choir' } }],
    });
  });

  test('songs of many artists without an album artist become a compilation', () => {
    const items = makeAlbum(4, { albumArtist: null }).map((item, index) => ({
      ...item,
      file: { ...item.file, fields: { ...item.file.fields, artist: [`Artist ${index}`] } },
    }));
    const made = plan(items);
    expect(made.showing.nodes).toHaveLength(4);
    const remedy = finding(made, 'splitAlbum')?.remedy;
    if (remedy?.type !== 'edit') throw new Error('no edits');
    const edits = new Map(remedy.changes.map((change) => [change.item, change.edits]));
    const mended = plan(items.map((item) => editItem(item, edits.get(item.id) ?? {})));
    expect(mended.showing.nodes).toHaveLength(1);
    expect(mended.showing.nodes[0]?.facts.maker).toBe('Various Artists');
  });

  test('a missing album blocks its song; its neighbours say what it is', () => {
    const [first, ...rest] = makeAlbum(4) as [Item, ...Item[]];
    const made = plan([
      { ...first, file: { ...first.file, fields: { ...first.file.fields, album: null } } },
      ...rest,
    ]);
    const missing = finding(made, 'missingField');
    expect(missing).toMatchObject({
      severity: 'blocks',
      remedy: { type: 'edit', changes: [{ edits: { album: 'Salt Ledger' } }] },
    });
    expect(made.held).toEqual([first.id]);
    expect(made.paths).toHaveLength(3);
  });

  test('two items of one path collide, also by letter case alone', () => {
    const items = makeAlbum(1);
    const twin = makeItem('twin', { ...(items[0] as Item).file.fields, title: 'SONG 1' });
    const made = plan([...items, twin]);
    expect(finding(made, 'collision')).toMatchObject({ severity: 'blocks', items: ['twin'] });
    const left = plan([...items, twin], { choices: { leftOut: [twin.id] } });
    expect(finding(left, 'collision')).toBeUndefined();
  });

  test('items of one name are told apart by what their files are, by a number, or the better one goes alone', () => {
    const [one] = makeAlbum(1) as [Item];
    // As long as each other, they would be taken for editions of one release.
    const lossy = { ...one.facts, durationSeconds: 260 };
    const sound = {
      ...one.facts,
      durationSeconds: 320,
      streams: one.facts.streams.map((own) => ({ ...own, sampleRate: 96_000 })),
    };
    const rivals = [
      one,
      makeItem('lossy', one.file.fields, { format: 'mp3', path: 'a/lossy.flac', facts: lossy }),
      makeItem('best', one.file.fields, { facts: sound, path: 'b/best.flac' }),
    ];
    const made = finding(plan(rivals), 'collision');
    const ways = made?.remedy?.type === 'part' ? made.remedy.ways : {};
    expect(Object.keys(ways)).toEqual(['mark', 'number', 'better']);
    const namesBy = (choices: Partial<PlayerChoices> | undefined) =>
      plan(rivals, { choices }).paths.map(({ path }) => path.split('/').at(-1));
    expect(namesBy(ways.mark)).toEqual(['01 Song 1.flac', '01 Song 1 [MP3].flac', '01 Song 1 [96 kHz].flac']);
    expect(namesBy(ways.number)).toEqual(['01 Song 1.flac', '01 Song 1 (2).flac', '01 Song 1 (3).flac']);
    expect(ways.better).toEqual({ leftOut: [one.id, 'lossy'] });
    // A mark stands on all that carries the name alike.
    const clip = video('v', { title: 'Fog', artist: ['Wick'] });
    const named = plan([clip], { choices: { suffixes: [{ item: clip.id, text: ' [720p]' }] } });
    expect(named.paths[0]?.path).toBe('Music Videos/Wick - Fog [720p]/Wick - Fog [720p].mp4');
  });

  test('folders that differ in letter case alone become one', () => {
    const upper = makeAlbum(1);
    const lower = makeItem('b', {
      ...(upper[0] as Item).file.fields,
      title: 'Other',
      track: 2,
      albumArtist: 'the tidewrack choir',
    });
    const folders = new Set(
      pathsOf(plan([...upper, lower])).map((path) => path.slice(0, path.lastIndexOf('/'))),
    );
    expect(folders.size).toBe(1);
  });

  test('a name that is too long blocks until it is shortened by rule', () => {
    const items = makeAlbum(1, { title: 'ö'.repeat(10_000) });
    const tooLong = finding(plan(items), 'nameTooLong');
    expect(tooLong?.remedy).toEqual({ type: 'choose', add: { shorten: ['song-1'] } });
    const made = plan(items, { choices: { shorten: [(items[0] as Item).id] } });
    expect(made.findings).toEqual([]);
    const name = pathsOf(made)[0]?.split('/').at(-1) ?? '';
    expect(new TextEncoder().encode(name).length).toBeLessThanOrEqual(RULEBOOKS.attic.disk.maxName);
    expect(name).toMatch(/^01 ö+\.flac$/);
  });

  test.each(['attic', 'galley'] as const)(
    'a compilation lies in one folder on %s, whoever made its songs',
    (id) => {
      const items = ['Orla Venn', 'Dag Holme'].map((artist, index) => {
        const said = {
          title: `Song ${index}`,
          artist: [artist],
          album: 'Evenings',
          compilation: true,
          track: index + 1,
        };
        const item = makeItem(
          `c${index}`,
          { ...said, genre: ['folk'], date: '2020' },
          { format: 'mp3', path: `in/${index}.mp3` },
        );
        const streams = item.facts.streams.map((stream) => ({ ...stream, codec: 'mp3' }));
        return { ...item, facts: { ...item.facts, streams } };
      });
      const made = planRun({
        items: items.map(planItem),
        rulebook: RULEBOOKS[id],
        there: [],
        placed: [],
        choices: NO_CHOICES,
        policy: 'ask',
        token: 'token',
      });
      const folders = new Set(pathsOf(made).map((path) => path.replace(/\/[^/]*$/, '')));
      expect(made.paths).toHaveLength(2);
      expect(folders.size).toBe(1);
      expect([...folders][0]).toContain('Various Artists');
      expect(finding(made, 'splitAlbum')).toBeUndefined();
    },
  );

  test('a foreign file in the way blocks until it may be replaced', () => {
    const items = makeAlbum(1);
    const path = 'Music/The Tidewrack Choir/Salt Ledger (2019)/01 Song 1.flac';
    const there = [{ path, size: 5, digest: null }];
    expect(finding(plan(items, { there }), 'occupied')).toMatchObject({
      severity: 'blocks',
      remedy: { add: { replace: [{ path, was: { size: 5, digest: null } }] } },
    });
    const permission = { path, was: { size: 5, digest: 'seen' } };
    const made = plan(items, { there, choices: { replace: [permission] } });
    expect(made.steps.find((step) => step.type === 'copy')).toMatchObject({
      path,
      replaces: permission.was,
    });
  });

  test('a permission holds for the file that was seen, not for another one of its name', () => {
    const items = makeAlbum(1);
    const path = 'Music/The Tidewrack Choir/Salt Ledger (2019)/01 Song 1.flac';
    const seen = { path, was: { size: 5, digest: 'seen' } };
    const isFree = (file: Partial<ThereFile>, was: FileFacts = seen.was) => {
      const there = [{ path, size: 5, digest: null, ...file }];
      return !finding(plan(items, { there, choices: { replace: [{ path, was }] } }), 'occupied');
    };
    expect(isFree({})).toBe(true);
    expect(isFree({ digest: 'seen' })).toBe(true);
    expect(isFree({ digest: 'another' })).toBe(false);
    expect(isFree({ size: 6 })).toBe(false);
    // A name and a size are no proof.
    expect(isFree({}, { size: 5, digest: null })).toBe(false);
  });

  test('a file that was agreed to be the player’s own is told as added once it is another one', () => {
    const path = 'Music/Own/own.mp3';
    const placed = [{ path, owner: null, signature: '', size: 5, digest: 'own', theirs: true as const }];
    const told = (digest: string) =>
      finding(plan([], { there: [{ path, size: 5, digest }], placed }), 'addedThere') !== undefined;
    expect([told('own'), told('another')]).toEqual([false, true]);
  });

  test('a format that the player does not take is held back', () => {
    const item = makeItem('x', makeAlbum(1)[0]?.file.fields, { format: 'matroska', path: 'a/x.mkv' });
    const made = plan([item]);
    const seconds = item.facts.durationSeconds ?? 0;
    expect(finding(made, 'needsTwin')).toMatchObject({
      severity: 'warns',
      items: ['x'],
      words: { formats: 'matroska:1', seconds: String(seconds), to: 'flac', why: '' },
      remedy: { type: 'makeTwins', items: ['x'] },
    });
    expect(made.held).toEqual(['x']);
  });

  test('a tag that is newer than the player is brought to what it reads, in the copy', () => {
    const [one] = makeAlbum(1) as [Item];
    const item = {
      ...one,
      format: 'mp3' as const,
      path: 'a/x.mp3',
      facts: { ...one.facts, tagFormats: ['ID3v2.4'] },
      settled: 'song' as const,
    };
    const on = (rulebook: Rulebook) =>
      planRun({
        items: [planItem(item)],
        rulebook,
        there: [],
        placed: [],
        choices: NO_CHOICES,
        policy: 'ask',
        token: 't',
      });
    const made = on(RULEBOOKS.pocket);
    expect(made.steps.find(({ type }) => type === 'copy')).toMatchObject({
      recipe: { id3: 3, changes: {} },
    });
    expect(finding(made, 'tagVersion')).toBeUndefined();
    expect(on(RULEBOOKS.attic).steps.find(({ type }) => type === 'copy')).toMatchObject({
      recipe: { type: 'asIs' },
    });
  });

  test('a kind without a section stays here, and a shaky guess is to be looked at, but no other kind is proposed', () => {
    const sure = makeItem('x', {}, { settled: 'ringtone' });
    expect(finding(plan([sure]), 'noSection')).toMatchObject({ severity: 'note', remedy: null });
    const guess = {
      kind: 'ringtone',
      certainty: 'guess',
      points: 30,
      next: 'musicVideo',
      nextPoints: 20,
      evidence: [],
    } as const;
    const shaky = video('y', {}, { settled: null, guess });
    expect(finding(plan([shaky]), 'noSection')?.remedy).toEqual({ type: 'describe', items: ['y'] });
  });

  test('edits that a format cannot hold are told, and the rehearsal goes by what the file says', () => {
    const [song] = makeAlbum(1) as [Item];
    const bound: Item = { ...song, facts: BOUND, format: 'opus', path: 'a/01.opus' };
    const item = editItem(bound, { date: '2001' });
    const made = plan([item]);
    expect(finding(made, 'cannotWrite')).toMatchObject({ severity: 'warns', words: { edited: 'yes' } });
    expect(made.showing.nodes[0]?.facts.year).toBe(2019);
  });

  test('a release that only its format keeps apart is told so, and offers nothing that would change nothing', () => {
    const [first, ...rest] = makeAlbum(3) as [Item, ...Item[]];
    const unnamed = { ...first.file, fields: { ...first.file.fields, album: 'Salt Ledger (rip)' } };
    const bound: Item = { ...first, facts: BOUND, file: unnamed };
    const described = editItem(bound, { album: 'Salt Ledger' });
    const split = finding(plan([described, ...rest]), 'splitAlbum');
    expect(split).toMatchObject({ words: { groups: '2', stuck: '1' }, remedy: null });
  });

  test('a number that no release has is an odd value, from a file as from a slip', () => {
    const [first, second, ...rest] = makeAlbum(3) as [Item, Item, ...Item[]];
    const odd = {
      ...first,
      file: { ...first.file, fields: { ...first.file.fields, track: 999_999_999_999_999 } },
    };
    expect(finding(plan([odd, second, ...rest]), 'oddValue')).toMatchObject({
      severity: 'warns',
      items: [odd.id],
      words: { field: 'track', value: '999999999999999' },
      remedy: { type: 'describe', items: [odd.id] },
    });
  });

  test('what a tag cannot hold is told, and the copy says what the file says', () => {
    const [song] = makeAlbum(1) as [Item];
    const mp3: Item = {
      ...song,
      format: 'mp3',
      path: 'a/1.mp3',
      facts: { ...song.facts, tagFormats: ['ID3v2.3'] },
    };
    const made = plan([editItem(mp3, { genre: ['17'], track: 0, title: 'Bell' })]);
    expect(made.findings.filter(({ code }) => code === 'cannotHold').map(({ words }) => words.part)).toEqual([
      'genre',
      'track',
    ]);
    expect(made.steps.find((step) => step.type === 'copy')).toMatchObject({
      recipe: {
        changes: { fields: { title: 'Bell' } },
        expect: { title: 'Bell', track: 1, genre: null },
      },
    });
  });

  test('what bars a file’s tags from being written is told before the run, and its edits stay out of it', () => {
    const [song] = makeAlbum(1) as [Item];
    const locked = { ...song, facts: { ...song.facts, locked: 'fragmented' as const } };
    const made = plan([editItem(locked, { date: '2001' })]);
    expect(finding(made, 'cannotWrite')).toMatchObject({
      severity: 'warns',
      words: { edited: 'yes', locked: 'fragmented' },
    });
    expect(made.steps.find((step) => step.type === 'copy')).toMatchObject({
      recipe: { type: 'asIs' },
    });
    expect(made.showing.nodes[0]?.facts.year).toBe(2019);
  });

  test('a picture that is not square is offered to be made so', () => {
    const items = makeAlbum(2).map((item) => ({
      ...item,
      file: { ...item.file, pictures: item.file.pictures.map((picture) => ({ ...picture, height: 400 })) },
    }));
    expect(finding(plan(items), 'pictureShape')?.remedy).toEqual({
      type: 'squarePicture',
      items: ['song-1', 'song-2'],
    });
  });

  test('a picture, or what goes beside a file, whose path is too long is told, though its file’s is not', () => {
    const album = 'a'.repeat(250 - 'folk/Orla Venn - /01 E.mp3'.length);
    const song = makeItem(
      'long',
      { title: 'E', artist: ['Orla Venn'], albumArtist: 'Orla Venn', album, genre: ['folk'], track: 1 },
      { settled: 'song', format: 'mp3', path: 'in/long.mp3' },
    );
    const made = planFor('galley', [song]);
    expect(made.paths[0]?.path).toHaveLength(250);
    expect(finding(made, 'pathTooLong')).toMatchObject({
      severity: 'warns',
      words: { limit: '250', length: '251', unit: 'utf16' },
      places: [`folk/Orla Venn - ${album}/front.jpg`],
    });
    expect(made.steps.filter(({ type }) => type === 'writePicture').map(({ path }) => path)).toEqual([
      'folk/top.jpg',
    ]);
  });

  test('a podcast whose picture is not square is told, though the player asks for none', () => {
    const wide = { role: 'front' as const, mime: 'image/jpeg', bytes: 9, width: 800, height: 600, hash: 7 };
    const cast = makeItem(
      'cast',
      { title: 'Fog', show: 'Tide Talk' },
      { settled: 'podcast', format: 'mp3', path: 'in/fog.mp3' },
    );
    const file = { ...cast.file, pictures: [wide] };
    const made = planFor('attic', [{ ...cast, file }]);
    expect(finding(made, 'pictureShape')).toMatchObject({
      words: { shape: '800×600', least: '' },
      remedy: { type: 'squarePicture', items: ['cast'] },
    });
  });

  test('pictures that are not square are told apart by picture and folder', () => {
    const flat = (album: string, hash: number) =>
      makeAlbum(2, { album }).map((item) => ({
        ...item,
        id: `${album}-${item.id}` as Item['id'],
        file: {
          ...item.file,
          pictures: item.file.pictures.map((picture) => ({ ...picture, height: 400, hash })),
        },
      }));
    const made = plan([...flat('One', 1), ...flat('Two', 2), ...flat('Three', 1)]);
    const shapes = made.findings.filter(({ code }) => code === 'pictureShape');
    expect(shapes.map(({ remedy }) => remedy)).toEqual(
      ['One', 'Three', 'Two'].map((album) => ({
        type: 'squarePicture',
        items: [`${album}-song-1`, `${album}-song-2`],
      })),
    );
  });

  test('a sidecar of another hand in the way holds its video back, a picture of another hand stays', () => {
    const item = video('v', { title: 'Ebb', artist: ['Slack'], album: 'x', date: '2020' });
    const path = 'Music Videos/Slack - Ebb/Slack - Ebb.slip';
    const made = plan([item], { there: [{ path, size: 5, digest: null }] });
    expect(made.steps).toEqual([]);
    expect(finding(made, 'occupied')).toMatchObject({ severity: 'blocks', places: [path] });
    const cover = 'Music/The Tidewrack Choir/Salt Ledger (2019)/sleeve.jpg';
    const album = plan(makeAlbum(1), { there: [{ path: cover, size: 5, digest: null }] });
    expect(album.steps.map(({ type }) => type)).toEqual(['copy']);
    expect(finding(album, 'occupied')).toMatchObject({ severity: 'warns', places: [cover] });
  });

  test('a folder where a file would go is told, with a way out, as long as something of others lies in it', () => {
    const items = makeAlbum(1);
    const path = 'Music/The Tidewrack Choir/Salt Ledger (2019)/01 Song 1.flac';
    const there = [{ path: `${path}/notes.txt`, size: 5, digest: null }];
    expect(finding(plan(items, { there }), 'folderThere')).toMatchObject({
      severity: 'blocks',
      places: [path],
      remedy: { type: 'choose', add: { leftOut: [items[0]?.id] } },
    });
    expect(plan(items, { there }).steps.filter(({ type }) => type === 'copy')).toEqual([]);
    // Our own file that became a folder: it is removed there, and nothing can be put in its place.
    const placed = [{ path, owner: ofItem(items[0]?.id as ItemId), signature: '', size: 9, digest: 'x' }];
    const made = plan(items, { there, placed, policy: 'leads' });
    expect(finding(made, 'folderThere')?.places).toEqual([path]);
  });

  test('what the last run could not write is told with its reason, until it is left out', () => {
    const items = makeAlbum(2);
    const path = 'Music/The Tidewrack Choir/Salt Ledger (2019)/01 Song 1.flac';
    const failed = [{ path, code: 'refused', detail: 'no such names' }];
    const made = plan(items, { failed });
    expect(finding(made, 'failedBefore')).toMatchObject({
      severity: 'warns',
      places: [path],
      words: { code: 'refused', detail: 'no such names', path },
      remedy: { type: 'choose', add: { leftOut: [items[0]?.id] } },
    });
    expect(made.steps.filter(({ type }) => type === 'copy')).toHaveLength(2);
    const without = plan(items, { failed, choices: { leftOut: [items[0]?.id as ItemId] } });
    expect(finding(without, 'failedBefore')).toBeUndefined();
  });

  test('a file where a folder has to be is in the way', () => {
    const there = [{ path: 'Music/The Tidewrack Choir', size: 5, digest: null }];
    expect(finding(plan(makeAlbum(1), { there }), 'occupied')?.places).toEqual(['Music/The Tidewrack Choir']);
  });

  test('a video already there whose names differ can be put right', () => {
    const there = ['Music Videos/Kelp/kelp_road.mp4', 'Music Videos/Kelp/Kelp Road.slip'].map((path) => ({
      path,
      size: 1,
      digest: null,
    }));
    const mismatch = finding(plan([], { there }), 'sidecarMismatch');
    const renames = [
      {
        path: 'Music Videos/Kelp/kelp_road.mp4',
        was: { size: 1, digest: null },
        to: 'Music Videos/Kelp/Kelp.mp4',
      },
      {
        path: 'Music Videos/Kelp/Kelp Road.slip',
        was: { size: 1, digest: null },
        to: 'Music Videos/Kelp/Kelp.slip',
      },
    ];
    expect(mismatch?.remedy).toEqual({ type: 'choose', add: { renames } });
    const seen = renames.map((one) => ({ ...one, was: { size: 1, digest: 'seen' } }));
    const made = plan([], { there, choices: { renames: seen } });
    expect(made.steps.map((step) => step.type)).toEqual(['move', 'move']);
    expect(finding(made, 'sidecarMismatch')).toBeUndefined();
  });
});
