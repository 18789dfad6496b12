import { describe, expect, test } from 'vitest';
import { ascii, concat, joinSpans, keepsRange, memorySource, type ByteSource } from '$lib/core/bytes';
import { element, numberBytes, numberElement, readElement, sizeBytes, textElement, voidOf } from '../ebml';
import type { TagChanges } from '../format';
import { clusterRanges, readMatroskaFacts } from './facts';
import { ID } from './ids';
import { readSegment } from './segment';
import { MATROSKA_MAP } from './tag-map';
import { readNative, rewrite } from './writer';

const head = (docType = 'matroska') => element(ID.ebml, textElement(ID.docType, docType));
const info = (title?: string) =>
  element(
    ID.info,
    numberElement(ID.timestampScale, 1_000_000),
    ...(title ? [textElement(ID.title, title)] : []),
  );
/** A cluster of one simple block (RFC 9559, section 5.1.3.4). */
const cluster = (byte: number) => element(ID.cluster, element(0xa3, new Uint8Array(300).fill(byte)));
const simple = (name: string, value: string) =>
  element(ID.simpleTag, textElement(ID.tagName, name), textElement(ID.tagString, value));
const tags = (...all: Uint8Array[]) => element(ID.tags, element(ID.tag, element(ID.targets), ...all));
const seek = (id: number, position: number) =>
  element(ID.seek, element(ID.seekId, numberBytes(id)), numberElement(ID.seekPosition, position));

/** A segment whose size takes eight bytes, as most programs write it. */
const segment = (...content: Uint8Array[]) => {
  const body = concat(content);
  return concat([numberBytes(ID.segment), sizeBytes(body.length, 8), body]);
};
const file = (...content: Uint8Array[]) => concat([head(), segment(...content)]);

/** With tags in front, and room behind the seek head. */
const usual = (own = tags(simple('ARTIST', 'old'), simple('ENCODER', 'somebody'))) =>
  file(element(ID.seekHead), voidOf(120), info('Old title'), own, cluster(1), cluster(2));

async function write(bytes: Uint8Array, changes: Partial<TagChanges>, source = memorySource(bytes)) {
  const { spans, payload } = await rewrite(source, { fields: {}, ...changes });
  for (const range of payload) expect(keepsRange(spans, range)).toBe(true);
  return joinSpans(memorySource(bytes), spans);
}

async function outline(bytes: Uint8Array): Promise<string[]> {
  const source = memorySource(bytes);
  const ebml = await readElement(source, 0);
  const all = ebml && (await readElement(source, ebml.end));
  const names = new Map<number, string>(Object.entries(ID).map(([name, id]) => [id, name]));
  const out: string[] = [];
  for (let at = all?.content ?? 0; at < bytes.length;) {
    const one = await readElement(source, at);
    if (!one) break;
    out.push(names.get(one.id) ?? String(one.id));
    at = one.end;
  }
  expect(all?.end).toBe(bytes.length);
  return out;
}

const clusters = async (bytes: Uint8Array) => {
  const out: number[] = [];
  for await (const { start } of clusterRanges(memorySource(bytes))) out.push(start);
  return out;
};

describe('free room', () => {
  test('is had in every length from two bytes on', async () => {
    for (const length of [2, 3, 9, 10, 126, 127, 128, 129, 1000, 70_000]) {
      const room = voidOf(length);
      expect(room).toHaveLength(length);
      expect((await readElement(memorySource(room), 0))?.end).toBe(length);
    }
  });
});

describe('tags', () => {
  test('that fit stay in front, and no cluster moves', async () => {
    const before = file(
      element(ID.seekHead),
      voidOf(120),
      tags(simple('ARTIST', 'old'), simple('ENCODER', 'somebody')),
      voidOf(200),
      cluster(1),
    );
    const written = await write(before, { fields: { artist: ['x'] } });
    expect(written).toHaveLength(before.length);
    expect(await clusters(written)).toEqual(await clusters(before));
    const { tags: found } = await readMatroskaFacts(memorySource(written));
    expect(found).toEqual([
      { target: 50, name: 'ENCODER', value: 'somebody' },
      { target: 30, name: 'ARTIST', value: 'x' },
    ]);
  });

  test('that do not fit go to the end, where the seek head finds them, again and again', async () => {
    const before = usual();
    const lyrics = 'Haul away. '.repeat(500);
    const written = await write(before, { fields: { lyrics } });
    expect(await outline(written)).toEqual([
      'seekHead',
      'void',
      'info',
      'void',
      'cluster',
      'cluster',
      'tags',
    ]);
    expect(await clusters(written)).toEqual(await clusters(before));
    expect((await readNative(memorySource(written)))?.fields).toMatchObject({ lyrics, artist: ['old'] });
    // At the very end they take what room they need.
    const more = await write(written, { fields: { lyrics: lyrics + lyrics } });
    expect(await outline(more)).toEqual(await outline(written));
    expect((await readNative(memorySource(more)))?.fields.lyrics).toBe(lyrics + lyrics);
    const less = await write(more, { fields: { lyrics: null } });
    expect(less.length).toBeLessThanOrEqual(more.length);
    expect((await readNative(memorySource(less)))?.fields).toMatchObject({ lyrics: null, artist: ['old'] });
  });

  test('of a track of it stay with that, and others of its own too', async () => {
    const ofTrack = element(
      ID.tags,
      element(ID.tag, element(ID.targets, numberElement(ID.tagTrackUid, 7)), simple('DURATION', '00:01')),
      element(ID.tag, element(ID.targets), simple('ARTIST', 'old')),
    );
    const written = await write(usual(ofTrack), { fields: { artist: ['new'], notes: 'n' } });
    const text = new TextDecoder('latin1').decode(written);
    expect(text).toContain('DURATION');
    expect(text).not.toContain('old');
    expect((await readNative(memorySource(written)))?.fields).toMatchObject({ artist: ['new'], notes: 'n' });
  });

  test('the title stands in the segment too, and where it has no room there, in the tags alone', async () => {
    const short = await write(usual(), { fields: { title: 'New' } });
    expect((await readMatroskaFacts(memorySource(short))).title).toBe('New');
    const title = 'A title that is much longer than the one before it';
    const long = await write(usual(), { fields: { title } });
    expect((await readMatroskaFacts(memorySource(long))).title).toBeNull();
    expect((await readNative(memorySource(long)))?.fields.title).toBe(title);
    const none = await write(usual(), { fields: { title: null } });
    expect((await readNative(memorySource(none)))?.fields.title).toBeNull();
  });
});

describe('chapters and pictures', () => {
  const chapters = [
    { startSeconds: 0, endSeconds: null, title: 'Fog', link: null },
    { startSeconds: 61.25, endSeconds: 70, title: '', link: null },
  ];
  describe('in several elements', () => {
    const first = tags(simple('ARTIST', 'Orla Venn'), simple('ENCODER', 'somebody'));
    const second = tags(simple('ALBUM', 'Nine Lamps'), simple('GENRE', 'folk'));
    /** The second before the sound, or behind it, where the seek head says so. */
    const made = (isBehind: boolean) => {
      const front = (position: number) => [
        element(ID.seekHead, seek(ID.tags, position)),
        voidOf(60),
        info('Old title'),
        first,
        ...(isBehind ? [] : [second]),
        cluster(1),
      ];
      const length = concat(front(500)).length;
      return file(...front(isBehind ? length : 0), ...(isBehind ? [second] : []));
    };

    test.each([
      ['before the sound', false],
      ['before and behind the sound', true],
    ])('are all read, and become one once they are changed: %s', async (_, isBehind) => {
      const bytes = made(isBehind);
      const source = memorySource(bytes);
      const said = { artist: ['Orla Venn'], album: 'Nine Lamps', genre: ['folk'] };
      expect((await readNative(source))?.fields).toMatchObject(said);
      const written = await write(bytes, { fields: { genre: ['sea songs'], comment: 'x'.repeat(200) } });
      expect(await clusters(written)).toEqual(await clusters(bytes));
      expect((await outline(written)).filter((id) => id === 'tags')).toHaveLength(1);
      const wanted = { ...said, genre: ['sea songs'], comment: 'x'.repeat(200) };
      expect((await readNative(memorySource(written)))?.fields).toMatchObject(wanted);
      expect(Buffer.from(written).includes('somebody')).toBe(true);
      expect(Buffer.from(written).includes('Nine Lamps')).toBe(true);
      const { seeks, segment } = await readSegment(memorySource(written));
      for (const { id, position } of seeks)
        expect((await readElement(memorySource(written), segment.content + position))?.id).toBe(id);
    });
  });

  test('are read behind what tells no size of its own there, which gets one', async () => {
    // A byte that was turned makes such a thing of an element, and it would swallow whatever comes behind it.
    const open = concat([numberBytes(ID.simpleTag), Uint8Array.of(0xff), ascii('no size')]);
    const old = element(ID.tag, element(ID.targets), simple('ENCODER', 'x'));
    const bytes = usual(element(ID.tags, old, open));
    const written = await write(bytes, { fields: { title: 'New', album: 'Fog' } });
    expect((await readNative(memorySource(written)))?.fields).toMatchObject({ title: 'New', album: 'Fog' });
    expect(Buffer.from(written).includes('no size')).toBe(true);
  });

  test('come in where none were, and go', async () => {
    const written = await write(usual(), { chapters });
    expect((await readMatroskaFacts(memorySource(written))).chapters).toEqual(chapters);
    const without = await write(written, { chapters: [] });
    expect((await readMatroskaFacts(memorySource(without))).chapters).toEqual([]);
    expect(await outline(without)).not.toContain('chapters');
  });

  test('a cover takes the place of the one before it; fonts stay', async () => {
    const attached = (name: string, mime: string, bytes: Uint8Array) =>
      element(
        ID.attachedFile,
        textElement(ID.fileName, name),
        textElement(ID.fileType, mime),
        element(ID.fileData, bytes),
        numberElement(ID.fileUid, 5),
      );
    const own = element(
      ID.attachments,
      attached('font.ttf', 'font/ttf', ascii('a font')),
      attached('cover.jpg', 'image/jpeg', ascii('old cover')),
    );
    const before = file(element(ID.seekHead), voidOf(120), info(), own, cluster(1));
    const picture = { mime: 'image/png', width: 1, height: 1, bytes: ascii('new cover that is longer') };
    const written = await write(before, { pictures: new Map([['front', picture]]) });
    expect(new TextDecoder('latin1').decode(written)).toContain('a font');
    const { pictures } = await readMatroskaFacts(memorySource(written));
    expect(pictures).toEqual([{ name: 'cover.png', mime: 'image/png', bytes: picture.bytes }]);
    const webm = concat([head('webm'), segment(element(ID.seekHead), voidOf(120), info(), cluster(1))]);
    await expect(write(webm, { pictures: new Map([['front', picture]]) })).rejects.toThrow(
      'WebM holds no pictures',
    );
  });
});

describe('what cannot be done safely is refused', () => {
  test('no seek head, one without room, and a stream without an end', async () => {
    const long = { fields: { lyrics: 'x'.repeat(2000) } };
    const none = file(info(), tags(simple('ARTIST', 'a')), cluster(1));
    await expect(write(none, long)).rejects.toMatchObject({ code: 'tooLarge' });
    const tight = file(
      element(ID.seekHead, seek(ID.info, 30)),
      info(),
      tags(simple('ARTIST', 'a')),
      cluster(1),
    );
    await expect(write(tight, long)).rejects.toMatchObject({ code: 'tooLarge' });
    const body = concat([element(ID.seekHead), voidOf(120), info(), tags(simple('ARTIST', 'a')), cluster(1)]);
    const open = concat([
      head(),
      numberBytes(ID.segment),
      new Uint8Array([0x01, ...Array<number>(7).fill(0xff)]),
      body,
    ]);
    await expect(write(open, long)).rejects.toMatchObject({ code: 'fragmented' });
    // What fits where it was needs none of that.
    const roomy = file(info(), tags(simple('ARTIST', 'a')), voidOf(200), cluster(1));
    const written = await write(roomy, { fields: { artist: ['b'] } });
    expect((await readNative(memorySource(written)))?.fields.artist).toEqual(['b']);
    expect(await readNative(memorySource(await write(open, { fields: { artist: null } })))).toBeNull();
  });
});

test('a film of two gigabytes gets new tags without being read', async () => {
  const SIZE = 2_000_000_000;
  const front = concat([element(ID.seekHead), voidOf(120), info('Film'), tags(simple('ARTIST', 'old'))]);
  const start = concat([
    head(),
    numberBytes(ID.segment),
    sizeBytes(front.length + 12 + SIZE, 8),
    front,
    numberBytes(ID.cluster),
    sizeBytes(SIZE, 8),
  ]);
  let bytes = 0;
  const film: ByteSource = {
    size: start.length + SIZE,
    read: async (from, to) => {
      const end = Math.min(to, start.length + SIZE);
      bytes += Math.max(0, end - from);
      const out = new Uint8Array(Math.max(0, end - from));
      if (from < start.length) out.set(start.subarray(from, Math.min(end, start.length)));
      return out;
    },
  };
  const { spans } = await rewrite(film, { fields: { description: 'd'.repeat(5000) } });
  expect(bytes).toBeLessThan(10_000);
  const kept = spans.reduce((sum, span) => sum + (span.type === 'kept' ? span.end - span.start : 0), 0);
  expect(kept).toBeGreaterThan(SIZE);
});

test('chapters within chapters come one after the other, with the titles of those that hold them', async () => {
  const atom = (start: number, title: string, ...inner: Uint8Array[]) =>
    element(
      ID.chapterAtom,
      numberElement(ID.chapterStart, start * 1e9),
      element(ID.chapterDisplay, textElement(ID.chapterText, title)),
      ...inner,
    );
  const own = element(
    ID.chapters,
    element(
      ID.edition,
      atom(0, 'Ebb', atom(0, 'Sacks'), atom(4, 'The long stair')),
      atom(9, 'Flood', atom(11, 'Oil', atom(11, 'Lamps'))),
      atom(20, 'Slack'),
    ),
  );
  const { chapters } = await readMatroskaFacts(memorySource(file(info(), own, cluster(1))));
  expect(chapters.map(({ startSeconds, title }) => [startSeconds, title])).toEqual([
    [0, 'Ebb: Sacks'],
    [4, 'Ebb: The long stair'],
    [9, 'Flood'],
    [11, 'Flood: Oil: Lamps'],
    [20, 'Slack'],
  ]);
});

test('a rating of a hundred is one of five there, with decimals', () => {
  const row = MATROSKA_MAP.rows.find(({ field }) => field === 'rating');
  expect(row?.write?.('80')).toBe('4');
  // As some programs write it.
  expect(row?.read?.('80')).toBe('80');
  for (let value = 1; value <= 100; value++)
    expect(row?.read?.(row.write?.(String(value)) ?? '')).toBe(String(value));
});

test.each([
  ['as it is told', [22_050], 22_050],
  ['as it is heard, where more is made of it', [22_050, 44_100], 44_100],
  ['8 kHz, where nothing is said', [], 8000],
])('the rate of sound is %s', async (_, [rate, output], wanted) => {
  const hertz = (id: number, value: number) => {
    const bytes = new Uint8Array(8);
    new DataView(bytes.buffer).setFloat64(0, value);
    return element(id, bytes);
  };
  const audio = element(
    ID.audio,
    ...(rate ? [hertz(ID.sampleRate, rate)] : []),
    ...(output ? [hertz(ID.outputRate, output)] : []),
  );
  const track = element(
    ID.trackEntry,
    numberElement(ID.trackNumber, 1),
    numberElement(ID.trackType, 2),
    textElement(ID.codec, 'A_AAC'),
    audio,
  );
  const { streams } = await readMatroskaFacts(
    memorySource(file(info(), element(ID.tracks, track), cluster(1))),
    false,
  );
  expect(streams).toEqual([
    { type: 'sound', codec: 'A_AAC', channels: 1, sampleRate: wanted, width: null, height: null },
  ]);
});
