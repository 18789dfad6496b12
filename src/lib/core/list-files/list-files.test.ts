import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { makeItem } from '../../../../tests/helpers/items';
import { fieldsOf, type Item, type ItemId } from '../items';
import type { ListEntry, OpenSaid } from '../lists';
import { LIST_FILES, ListFileError, joinTitle, type ListOnFile } from './list-file';
import { readListFile, writeListFile, type ListFileWishes } from './read-write';
import { EntryIndex, asAddress, pathOut, pathsIn, type Findable } from './resolve';

const findable = (item: Item): Findable => ({
  ...{ id: item.id, path: item.path, fields: fieldsOf(item), isGone: item.gone !== null },
  durationSeconds: item.facts.durationSeconds,
});
const resolveEntries = (entries: readonly OpenSaid[], items: readonly Item[], at = '') =>
  new EntryIndex(items.map(findable))
    .resolve(entries, at)
    .map(({ entries, by }) => ({ entry: entries[0] as ListEntry, by }));
const bytes = (text: string) => new TextEncoder().encode(text);
const said = (path: string, rest: Partial<OpenSaid> = {}): OpenSaid => ({
  path,
  title: null,
  artist: null,
  seconds: null,
  ...rest,
});
const wishes = (type: ListFileWishes['type'], rest: Partial<ListFileWishes> = {}): ListFileWishes => ({
  type,
  lineEnd: '\n',
  encoding: 'utf-8',
  ...rest,
});

describe('reading', () => {
  test('an extended list: lengths, artists, titles, its name; attributes and comments between', () => {
    const text = [
      '\ufeff#EXTM3U',
      '#PLAYLIST:For the ferry',
      '#EXTINF:223,The Tidewrack Choir - Sounding Line',
      '../Music/01 Sounding Line.mp3',
      '',
      '#EXTVLCOPT:none',
      '#EXTINF:-1 logo="a, b" group="x",Slack Water',
      'C:\\Pods\\slack.mp3',
      'bare.flac',
    ].join('\r\n');
    expect(readListFile(bytes(text), 'x.m3u8')).toEqual({
      type: 'm3u8',
      name: 'For the ferry',
      entries: [
        said('../Music/01 Sounding Line.mp3', {
          artist: 'The Tidewrack Choir',
          title: 'Sounding Line',
          seconds: 223,
        }),
        said('C:\\Pods\\slack.mp3', { title: 'Slack Water' }),
        said('bare.flac'),
      ],
    });
  });

  test('tells encodings apart', () => {
    expect(readListFile(Uint8Array.from([0x64, 0xe9, 0x2e, 0x6d]), 'x.m3u').entries[0]?.path).toBe('dé.m');
    expect(readListFile(bytes('dé.m'), 'x.m3u').entries[0]?.path).toBe('dé.m');
    const wide = new Uint8Array([0xff, 0xfe, ...Buffer.from('dé.m', 'utf16le')]);
    expect(readListFile(wide, 'x.m3u').entries[0]?.path).toBe('dé.m');
  });

  test('numbered keys with gaps, in any order', () => {
    const text = '[playlist]\nTitle7=Orla Venn - Wick\nFile7=wick.m4a\nFile2=a.mp3\nLength2=90\nVersion=2';
    expect(readListFile(bytes(text), 'x.pls')).toMatchObject({
      name: 'x',
      entries: [said('a.mp3', { seconds: 90 }), said('wick.m4a', { artist: 'Orla Venn', title: 'Wick' })],
    });
  });

  test('XSPF, whatever the file is called', () => {
    const text = `<?xml version="1.0"?><playlist version="1" xmlns="http://xspf.org/ns/0/"><title>Tea &amp; lamps</title>
      <trackList><track><location>Music/a%20b.mp3</location><title>A &#38; B</title><creator>Dag</creator>
      <duration>61500</duration></track></trackList></playlist>`;
    expect(readListFile(bytes(text), 'odd.txt')).toEqual({
      type: 'xspf',
      name: 'Tea & lamps',
      entries: [{ path: 'Music/a%20b.mp3', title: 'A & B', artist: 'Dag', seconds: 61.5 }],
    });
  });
});

describe('what is no list says why', () => {
  test.each([
    ['an archive', Uint8Array.from([0x50, 0x4b, 3, 4, 0, 0]), 'not a text file'],
    ['one line without end', bytes('a'.repeat(10_000_000)), 'line 1: is longer than any path'],
    ['a million entries', bytes('a.mp3\n'.repeat(1_000_000)), 'more than 200,000 entries'],
    ['a million numbered entries', bytes(numbered(1_000_000)), 'more than 200,000 entries'],
    ['nothing', bytes('\n\n# only a comment\n'), 'no entries'],
    [
      'entities of its own',
      bytes('<?xml version="1.0"?><!DOCTYPE p [<!ENTITY a "b">]><playlist/>'),
      'document type',
    ],
    ['lengths that never end', bytes(`#EXTINF:${' '.repeat(15_000)}\n`.repeat(2000)), 'no entries'],
    [
      'elements within elements without end',
      bytes(`<playlist>${'<a>'.repeat(10_000_000)}`),
      'more elements than any list',
    ],
    [
      'a million tracks',
      bytes(
        `<playlist><trackList>${'<track><location>a</location></track>'.repeat(800_000)}</trackList></playlist>`,
      ),
      'more elements than any list',
    ],
    ['broken XML', bytes('<playlist><trackList></playlist>'), 'line 1'],
  ])('%s', (_, content, why) => {
    expect(() => readListFile(content, 'x.m3u')).toThrow(ListFileError);
    expect(() => readListFile(content, 'x.m3u')).toThrow(why);
  });

  function numbered(count: number): string {
    return `[playlist]\n${Array.from({ length: count }, (_, index) => `File${index}=a`).join('\n')}`;
  }

  test('whatever the bytes, it is read or refused', () => {
    fc.assert(
      fc.property(
        fc.uint8Array({ maxLength: 300 }),
        fc.constantFrom('x.m3u', 'x.pls', 'x.xspf'),
        (own, name) => {
          try {
            expect(readListFile(own, name).entries.length).toBeGreaterThan(0);
          } catch (error) {
            expect(error).toBeInstanceOf(ListFileError);
          }
        },
      ),
    );
  });
});

describe('what is written is read again', () => {
  const line = fc
    .string({ unit: 'grapheme', minLength: 1, maxLength: 20 })
    .map((one) => one.replace(/[\r\n]/g, ''));
  const path = line
    .filter(
      (one) => one.trim() !== '' && one.trim() === one && !one.startsWith('#') && !one.startsWith('\ufeff'),
    )
    .filter((one) => !/^(\[playlist\]|<\?xml|<([\w-]+:)?playlist)/i.test(one));
  const words = fc.option(line.filter((one) => one.trim() === one && one !== ''));
  const entry: fc.Arbitrary<OpenSaid> = fc.record({
    path,
    title: words,
    artist: words,
    seconds: fc.option(fc.integer({ min: 1, max: 99_999 })),
  });
  const list: fc.Arbitrary<ListOnFile> = fc.record({
    name: fc.option(line.filter((one) => one.trim() === one && one !== '')),
    entries: fc.array(entry, { minLength: 1, maxLength: 8 }),
  });

  test.each(LIST_FILES)('%s', (type) => {
    fc.assert(
      fc.property(list, fc.constantFrom('\n', '\r\n'), (own, lineEnd) => {
        const written = writeListFile(own, wishes(type, { lineEnd }));
        const read = readListFile(written, `list.${type}`);
        const paths = ({ entries }: ListOnFile) => entries.map(({ path: one }) => one);
        expect(paths(read)).toEqual(paths(own));
        if (type !== 'text') {
          expect(read.entries.map(({ seconds }) => seconds)).toEqual(
            own.entries.map(({ seconds }) => seconds),
          );
          expect(read.entries.map(joinTitle)).toEqual(own.entries.map(joinTitle));
        }
        // What was read is written as it came.
        expect(writeListFile({ ...read, name: own.name }, wishes(type, { lineEnd }))).toEqual(written);
      }),
    );
  });

  test('in Windows-1252, with a question mark for what it cannot hold', () => {
    const own = { name: null, entries: [said('Ærø €.mp3'), said('海.mp3')] };
    const written = writeListFile(own, wishes('m3u', { encoding: 'windows-1252' }));
    expect(readListFile(written, 'x.m3u').entries.map(({ path: one }) => one)).toEqual([
      'Ærø €.mp3',
      '?.mp3',
    ]);
  });
});

describe('an entry is found', () => {
  const item = (path: string, rest: { title?: string; artist?: string; seconds?: number } = {}): Item => {
    const { title = null, artist, seconds = 100 } = rest;
    const own = makeItem(path, { title, artist: artist ? [artist] : null }, { id: path as ItemId, path });
    return { ...own, facts: { ...own.facts, durationSeconds: seconds } };
  };
  const items = [
    item('Music/Orla Venn/Nine Lamps/04 Wick.m4a', { title: 'Wick', artist: 'Orla Venn' }),
    item('Music/Old/04 Wick.m4a', { seconds: 50 }),
    item('Music/Dé jà/a b.mp3', { title: 'A', artist: 'Dag Holme', seconds: 200 }),
    item('Music/Dag/a.flac', { title: 'Low', artist: 'Dag Holme', seconds: 90 }),
    item('Music/Live/a.mp3', { title: 'Low', artist: 'Dag Holme', seconds: 120 }),
  ];
  const find = (path: string, rest: Partial<OpenSaid> = {}, at = '') =>
    resolveEntries([said(path, rest)], items, at).map(({ entry, by }) => [
      'item' in entry ? entry.item : null,
      by,
    ])[0];
  const WICK = 'Music/Orla Venn/Nine Lamps/04 Wick.m4a';
  const DEJA = 'Music/Dé jà/a b.mp3';

  test.each([
    ['below the root', WICK, {}, '', WICK, 'path'],
    ['from the folder of the list', '../Orla Venn/Nine Lamps/04 Wick.m4a', {}, 'Music/Lists', WICK, 'path'],
    ['whatever its letter case', WICK.toUpperCase(), {}, '', WICK, 'path'],
    ['in another Unicode form', DEJA.normalize('NFD'), {}, '', DEJA, 'path'],
    ['as an address', 'file:///Music/D%C3%A9%20j%C3%A0/a%20b.mp3', {}, '', DEJA, 'path'],
    ['by the end of a path of another system', 'D:\\Songs\\Nine Lamps\\04 Wick.m4a', {}, '', WICK, 'ending'],
    ['climbing out of the root', '../../../Nine Lamps/04 wick.m4a', {}, '', WICK, 'ending'],
    ['by name and length', '/other/04 Wick.m4a', { seconds: 51 }, '', 'Music/Old/04 Wick.m4a', 'name'],
    ['by name in another format', '/other/a b.ogg', {}, '', DEJA, 'name'],
    ['not by a name that several have', '/other/04 Wick.m4a', {}, '', null, null],
    ['by artist and title', 'gone.wav', { artist: 'orla VENN', title: 'Wick' }, '', WICK, 'words'],
    [
      'by artist, title and length',
      'x',
      { artist: 'Dag Holme', title: 'Low', seconds: 119 },
      '',
      'Music/Live/a.mp3',
      'words',
    ],
    ['not by words that several have', 'x', { artist: 'Dag Holme', title: 'Low' }, '', null, null],
  ] as const)('%s', (_, path, rest, at, expected, by) =>
    expect(find(path, rest, at)).toEqual([expected, by]),
  );

  test('a line that is a folder is a suite of what lies in it', () => {
    const index = new EntryIndex(
      ['Music/Ebb/2.mp3', 'Music/Ebb/1.mp3', 'Music/Ebb/Live/3.mp3', 'Music/Ebb tide/4.mp3'].map((path) =>
        findable(makeItem(path, {}, { path })),
      ),
    );
    const folder = { name: 'Ebb', by: 'folder' };
    const inside = ['Music/Ebb/1.mp3', 'Music/Ebb/2.mp3', 'Music/Ebb/Live/3.mp3'].map((item) => ({ item }));
    expect(index.resolve([said('Music/Ebb'), said('Ebb/')], 'Music')).toEqual([
      { ...folder, entries: inside },
      { ...folder, entries: inside },
    ]);
    expect(index.resolve([said('Music/Eb')])).toMatchObject([{ by: null }]);
  });

  test('one that is not found stays with all that the file said', () => {
    const own = said('http://example.org/%', { title: 'Gone', seconds: 5 });
    expect(resolveEntries([own], items)).toEqual([{ entry: { open: own }, by: null }]);
  });
});

describe('paths out', () => {
  test('relative, absolute and as addresses', () => {
    const path = 'Music/Dé jà/a b.mp3';
    expect(pathOut(path, { type: 'relative', at: '' })).toBe(path);
    expect(pathOut(path, { type: 'relative', at: 'Music/Lists' })).toBe('../Dé jà/a b.mp3');
    expect(pathOut(path, { type: 'absolute', root: '/srv/' })).toBe('/srv/Music/Dé jà/a b.mp3');
    expect(pathOut(path, { type: 'absolute', root: 'M:\\' })).toBe('M:\\Music\\Dé jà\\a b.mp3');
    expect(pathOut(path, { type: 'address', root: '/srv' })).toBe(
      'file:///srv/Music/D%C3%A9%20j%C3%A0/a%20b.mp3',
    );
    expect(pathOut(path, { type: 'address', root: 'M:\\' })).toBe(
      'file:///M:/Music/D%C3%A9%20j%C3%A0/a%20b.mp3',
    );
    expect(asAddress('Dé jà/a b#1.mp3')).toBe('D%C3%A9%20j%C3%A0/a%20b%231.mp3');
  });

  test('are found again, wherever the list lies', () => {
    const part = fc.constantFrom('Music', 'Dé jà', 'a b', '100%', 'c#', 'x');
    const folder = fc.array(part, { maxLength: 3 }).map((parts) => parts.join('/'));
    fc.assert(
      fc.property(folder, folder, fc.constantFrom('a.mp3', '50%25.mp3', 'b#?.mp3'), (from, at, name) => {
        const path = from === '' ? name : `${from}/${name}`;
        const own = [makeItem(path, {}, { id: path as ItemId, path })];
        for (const ways of [
          { type: 'relative', at },
          { type: 'absolute', root: '/srv/card' },
          { type: 'absolute', root: 'M:\\card' },
          { type: 'address', root: '/srv/card' },
        ] as const)
          expect(pathsIn(pathOut(path, ways), ways)).toContain(path);
        const relative = pathOut(path, { type: 'relative', at });
        expect(resolveEntries([said(relative)], own, at)[0]?.entry).toEqual({ item: path });
        expect(resolveEntries([said(asAddress(relative))], own, at)[0]?.entry).toEqual({ item: path });
        const address = pathOut(path, { type: 'address', root: '/srv' });
        expect(resolveEntries([said(address)], own)[0]?.entry).toEqual({ item: path });
      }),
    );
  });
});
