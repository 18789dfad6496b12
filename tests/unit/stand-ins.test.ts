import { beforeEach, describe, expect, test } from 'vitest';
import { memorySource } from '../../src/lib/core/bytes';
import { readReleases, type LookUp } from '../../src/lib/core/identify';
import { readFeed, readSubscriptions } from '../../src/lib/core/feeds';
import { fingerprintText, parseFingerprint } from '../../src/lib/core/sound';
import { readMedia, readPictureSize } from '../../src/lib/formats/reading';
import { driveState, eject, insertDisc, readTrack } from '../../src/lib/server/disc';
import { opml, sendFeed, sendPart } from '../../src/lib/server/feeds';
import {
  currentManner,
  drawCover,
  findRelease,
  lyricsOf,
  searchReference,
  setManner,
} from '../../src/lib/server/reference';
import fingerprints from '../../src/lib/server/reference/fingerprints.json';
import { describeAddress, describeShelf, sendTrack } from '../../src/lib/server/shelf';

const titles = (query: LookUp) => searchReference(query).releases.map(({ title }) => title);

describe('the reference', () => {
  test('holds a few hundred releases, all well-formed, and a page of them at most', () => {
    const { releases } = searchReference({ type: 'album', words: 'the' });
    expect(releases.length).toBeGreaterThan(3);
    expect(releases.length).toBeLessThanOrEqual(12);
    expect(readReleases({ releases })).toEqual({ releases, dropped: 0 });
  });

  test('is asked by words, misspelt ones too, and only for what is of the type', () => {
    expect(titles({ type: 'album', words: 'tidewrack salt ledger' })[0]).toBe('Salt Ledger');
    expect(titles({ type: 'series', words: 'ferry inspecter' })[0]).toBe('The Ferry Inspector');
    const films = searchReference({ type: 'film', words: 'salt ledger tidewrack choir' }).releases;
    expect(films.every(({ type }) => type === 'film')).toBe(true);
  });

  test('is asked by track lengths, in any order', () => {
    expect(titles({ type: 'album', lengths: [70, 79, 67, 88, 61, 74] })[0]).toBe('Ebb Tables');
    expect(titles({ type: 'album', lengths: [1, 2, 3] })).toEqual([]);
  });

  test('is asked by number', () => {
    expect(titles({ type: 'album', number: 'fathom-songs' })).toEqual(['Fathom Songs']);
    expect(titles({ type: 'series', number: 'fathom-songs' })).toEqual([]);
    expect(findRelease('nothing')).toBeNull();
  });

  test('is asked by fingerprint: it answers what it hears, and nothing for another sound', () => {
    const [entry, print] = Object.entries(fingerprints)[6] as [string, string];
    const other = fingerprintText(
      Uint32Array.from({ length: 300 }, (_, at) => Math.imul(at + 1, 2_654_435_761) >>> 0),
    );
    const cut = fingerprintText(parseFingerprint(print).subarray(10, 200));
    const { heard, releases } = searchReference({ type: 'album', fingerprints: [print, cut, other, ''] });
    expect(heard[0]?.[entry]).toBe(0);
    expect(heard[1]?.[entry]).toBeLessThan(0.05);
    expect(heard.slice(2)).toEqual([{}, {}]);
    expect(releases[0]?.entries.some(({ id }) => id === entry)).toBe(true);
  });

  test('has covers in several sizes and words of some songs', () => {
    const cover = drawCover('Salt Ledger', 250);
    expect(readPictureSize(new Uint8Array(cover))).toEqual({ width: 250, height: 250 });
    expect(lyricsOf('salt-ledger-4')).toMatch(/\n\n/);
    expect(lyricsOf('fathom-songs-1')).toBeNull();
  });

  test('takes no manner that it has not', () => {
    setManner('empty');
    expect(currentManner()).toBe('empty');
    setManner('prompt');
    expect(() => setManner('rude')).toThrow(RangeError);
  });
});

describe('the disc drive', () => {
  beforeEach(() => eject());

  async function bytesOf(body: ReadableStream<Uint8Array>): Promise<Uint8Array> {
    return new Uint8Array(await new Response(body).arrayBuffer());
  }

  test('sees lengths and no names; an empty tray has neither', () => {
    expect(driveState()).toEqual({ disc: null, tracks: null });
    insertDisc('mix');
    expect(driveState().tracks?.map(({ lengthSeconds }) => lengthSeconds)).toEqual([26, 35, 21, 30, 29]);
    expect(JSON.stringify(driveState())).not.toContain('boat');
    expect(() => insertDisc('none')).toThrow(RangeError);
  });

  test('gives a track as a WAV of just its length', async () => {
    insertDisc('tin-chapel');
    const track = readTrack(4);
    const bytes = await bytesOf(track?.body as ReadableStream<Uint8Array>);
    expect(bytes).toHaveLength(track?.bytes ?? 0);
    const { format, facts } = await readMedia(memorySource(bytes), 'x.wav');
    expect([format, facts.durationSeconds]).toEqual(['wav', 22]);
    expect(readTrack(9)).toBeNull();
  });

  test('breaks off in the middle of a damaged one', async () => {
    insertDisc('scratched');
    await expect(bytesOf(readTrack(3)?.body as ReadableStream<Uint8Array>)).rejects.toThrow(
      'unreadable sectors',
    );
  });
});

describe('the remote shelf', () => {
  const bytesOf = async (answer: Response | null) => new Uint8Array((await answer?.arrayBuffer()) ?? []);

  test('tells artists, albums and tracks, and which are not offered', () => {
    const tracks = describeShelf().artists.flatMap(({ albums }) => albums.flatMap((album) => album.tracks));
    expect(
      tracks.filter(({ offered }) => !offered).map(({ title, bytes, sha256 }) => [title, bytes, sha256]),
    ).toEqual([
      ['Owner’s Copy', null, null],
      ['Sketch', null, null],
      ['Sketch Two', null, null],
    ]);
  });

  test.each([
    ['artists', 'cato-lund', 7],
    ['albums', 'second-tide', 3],
    ['tracks', 'mooring-songs-2', 1],
    ['tracks', 'gangplank', 1],
  ])('what stands at %s/%s', (kind, id, count) => {
    const found = describeAddress(kind, id)?.artists.flatMap(({ albums, singles }) => [
      ...albums.flatMap(({ tracks }) => tracks),
      ...singles,
    ]);
    expect(found).toHaveLength(count);
  });

  test('nothing stands at others', () => {
    expect(describeAddress('albums', 'none')).toBeNull();
    expect(describeAddress('nonsense', 'cato-lund')).toBeNull();
  });

  test('sends whole tracks and parts of them, the same bytes either way', async () => {
    const whole = await bytesOf(sendTrack('gangplank', null));
    const first = sendTrack('gangplank', 'bytes=0-999');
    expect([first?.status, first?.headers.get('content-range')]).toEqual([
      206,
      `bytes 0-999/${whole.length}`,
    ]);
    const rest = await bytesOf(sendTrack('gangplank', 'bytes=1000-'));
    expect(Buffer.concat([await bytesOf(first), rest]).equals(Buffer.from(whole))).toBe(true);
    expect(sendTrack('gangplank', 'bytes=99999999-')?.status).toBe(416);
  });

  test('sends less of one track than it said, and nothing of what is not offered', async () => {
    const track = describeAddress('tracks', 'short-measure')?.artists[0]?.singles[0];
    expect((await bytesOf(sendTrack('short-measure', null))).length).toBeLessThan(track?.bytes ?? 0);
    expect(sendTrack('second-tide-2', null)).toBeNull();
    expect(sendTrack('../../package', null)).toBeNull();
  });
});

describe('the feed host', () => {
  test('its feeds are read, with what each episode carries', async () => {
    const { title, episodes, warnings } = readFeed((await sendFeed('slack-water')?.text()) ?? '');
    expect([title, warnings]).toEqual(['Slack Water', []]);
    expect(episodes.map(({ season, number, chaptersUrl }) => [season, number, chaptersUrl !== null])).toEqual(
      [
        [3, 34, true],
        [3, 33, false],
        [3, 32, true],
      ],
    );
  });

  test('what the enclosures promise is what comes', async () => {
    const { episodes } = readFeed((await sendFeed('tide-tables')?.text()) ?? '');
    for (const { number, bytes } of episodes) {
      const sent = await sendPart('tide-tables', 'media', number ?? 0, null)?.arrayBuffer();
      expect(sent?.byteLength).toBe(bytes);
    }
  });

  test.each(['media', 'chapters', 'transcript'])('there is no %s of what is not there', (part) => {
    expect(sendPart('slack-water', part, 999, null)).toBeNull();
    expect(sendPart('none', part, 34, null)).toBeNull();
    expect(sendFeed('none')).toBeNull();
  });

  test('its list of subscriptions leads to its feeds', () =>
    expect(readSubscriptions(opml()).map(({ address }) => address)).toEqual([
      '/feeds/slack-water',
      '/feeds/tide-tables',
    ]));
});
