import { parseBuffer } from 'music-metadata';
import { expect, test } from 'vitest';
import { joinSpans, memorySource, type ByteSource } from '../../src/lib/core/bytes';
import { editContent, type Edits, type FormatId } from '../../src/lib/core/items';
import type { Kind } from '../../src/lib/core/kinds';
import { WRITABLE, outgoingOf } from '../../src/lib/formats';
import { readMedia } from '../../src/lib/formats/reading';
import { demoMemory } from '../helpers/demo';
import { ffprobeTags, hasFfmpeg, hasMutagen, mutagenKind, withFile } from '../helpers/foreign-readers';
import { makeItem, planItem } from '../helpers/items';

/* What kind a file is, where programs look that are not ours. */

const VIDEO = 'Music Videos/The Tidewrack Choir - Low Water.mp4';
const BOOK = "Books/The Lamp Keeper's Almanac.m4b";
const EPISODE = 'Podcasts/Slack Water/slack-water-031.mp3';
const SONG = 'Music/Orla Venn/Nine Lamps Burning/02 Harbour Bell_ A Watch Song.m4a';
const FILM = 'Music Videos/Halyard & Daughters - Donkey Engine.mkv';

async function write(
  source: ByteSource,
  format: FormatId,
  kind: Kind,
  fields: Edits = { title: 'Told' },
): Promise<Uint8Array> {
  const { rewrite } = (await WRITABLE.get(format)?.load()) ?? {};
  if (!rewrite) throw new Error(format);
  const { spans } = await rewrite(source, { fields, kind });
  return joinSpans(source, spans);
}

/** Native tags as another parser of the registry reads them. */
async function nativeOf(bytes: Uint8Array): Promise<ReadonlyMap<string, unknown>> {
  const { native } = await parseBuffer(bytes);
  return new Map(
    Object.values(native)
      .flat()
      .map(({ id, value }) => [id, value]),
  );
}

test.each([
  [VIDEO, 'mp4', 'musicVideo', 6],
  [BOOK, 'mp4', 'audiobook', 2],
  [SONG, 'mp4', 'podcast', 21],
] as const)('%s is told as a %s %s by its number', async (path, format, kind, number) => {
  const bytes = await write(await demoMemory(path), format, kind);
  const native = await nativeOf(bytes);
  expect(native.get('stik')).toBe(number);
  expect(native.has('pcst')).toBe(kind === 'podcast');
  if (hasFfmpeg)
    expect(withFile(bytes, 'mp4', ffprobeTags)).toMatchObject({ title: 'Told', media_type: String(number) });
  if (hasMutagen)
    expect(withFile(bytes, 'mp4', mutagenKind)).toEqual({ stik: number, pcst: kind === 'podcast' });
  // What tells others tells us, too.
  const { native: own } = await readMedia(memorySource(bytes), path);
  expect(own.find(({ id }) => id === 'stik')?.value).toBe(String(number));
});

test('a podcast in MP3 has its own frame, and its description where programs look for it', async () => {
  const fields = { title: 'Told', description: 'Two tides.\nAnd a third.' };
  const bytes = await write(await demoMemory(EPISODE), 'mp3', 'podcast', fields);
  const native = await nativeOf(bytes);
  expect(native.has('PCST')).toBe(true);
  expect(native.get('TDES')).toBe(fields.description);
  if (hasMutagen) expect(withFile(bytes, 'mp3', mutagenKind)).toEqual({ PCST: 0, TDES: fields.description });
  const { file } = await readMedia(memorySource(bytes), EPISODE);
  expect(file.fields.description).toBe(fields.description);
  // Of another kind by now: what said podcast goes.
  const book = await write(memorySource(bytes), 'mp3', 'audiobook', { title: 'A book' });
  expect((await nativeOf(book)).has('PCST')).toBe(false);
});

test('a music video in Matroska says its type in words', async () => {
  const bytes = await write(await demoMemory(FILM), 'matroska', 'musicVideo');
  if (hasFfmpeg) expect(withFile(bytes, 'mkv', ffprobeTags)).toMatchObject({ content_type: 'Music Video' });
  const { native } = await readMedia(memorySource(bytes), FILM);
  expect(native.filter(({ id }) => id.endsWith('CONTENT_TYPE')).map(({ value }) => value)).toEqual([
    'Music Video',
  ]);
  // What has no such words is told as nothing else.
  const loop = await write(memorySource(bytes), 'matroska', 'ambience');
  const read = await readMedia(memorySource(loop), FILM);
  expect(read.native.some(({ id }) => id.endsWith('CONTENT_TYPE'))).toBe(false);
});

test('what is no such kind any more is not told as one, and a song without a word on it gets none', async () => {
  const video = await write(await demoMemory(VIDEO), 'mp4', 'musicVideo');
  const home = await write(memorySource(video), 'mp4', 'homeVideo');
  expect((await nativeOf(home)).has('stik')).toBe(false);
  const song = await write(await demoMemory(SONG), 'mp4', 'song');
  expect((await nativeOf(song)).has('stik')).toBe(false);
});

test('a copy is told to be what stands firm, and its bytes are other ones for another kind', () => {
  const item = editContent(makeItem('x', {}, { format: 'mp4', path: 'x.m4a' }), {
    fields: { title: 'Told' },
  });
  const of = (kind: Kind | null) => planItem({ ...item, settled: kind });
  expect(of('audiobook').outgoingKind).toBe('audiobook');
  expect(of('audiobook').outgoingHash).not.toBe(of('podcast').outgoingHash);
  // Copies of songs say nothing of it: those that were written before stay as they are.
  expect(of('song').outgoingHash).toBe(of('homeVideo').outgoingHash);
  const guessed = planItem({
    ...item,
    settled: null,
    guess: { ...item.guess, kind: 'audiobook', certainty: 'guess' },
  });
  expect(guessed.outgoingKind).toBeNull();
  // A file that is copied as it is, byte for byte, is told nothing.
  expect(planItem({ ...item, edits: {}, settled: 'audiobook' })).toMatchObject({
    outgoingKind: null,
    outgoing: {},
  });
});

test("a podcast's show is its album where it has none", () => {
  const item = makeItem('x', { show: 'Slack Water' }, { format: 'mp3', path: 'x.mp3' });
  const fieldsOf = (edits: Edits, kind: Kind) =>
    outgoingOf(editContent(item, { fields: edits }), kind)?.edits.fields;
  expect(fieldsOf({ title: 'Told' }, 'podcast')).toEqual({ title: 'Told', album: 'Slack Water' });
  expect(fieldsOf({ title: 'Told', album: 'Own' }, 'podcast')).toEqual({ title: 'Told', album: 'Own' });
  expect(fieldsOf({ title: 'Told' }, 'episode')).toEqual({ title: 'Told' });
  expect(fieldsOf({}, 'podcast')).toBeUndefined();
});
