import { expect, test } from 'vitest';
import { concat, joinSpans, keepsRange, memorySource, type ByteSource } from '../../src/lib/core/bytes';
import {
  EMPTY_FIELDS,
  FIELDS,
  cleanFields,
  cleanText,
  toTexts,
  type Edits,
  type FieldName,
  type Fields,
  type FieldValue,
  type Chapter,
  type PictureId,
  type TimedLine,
  type TrackEdit,
} from '../../src/lib/core/items';
import {
  FormatError,
  WRITABLE,
  type NewPicture,
  type Rewrite,
  type TagChanges,
  type TagMap,
} from '../../src/lib/formats';
import { UnreadableError, readMedia, sniffFormat } from '../../src/lib/formats/reading';
import { extensionOf } from '../../src/lib/core/paths';
import { hasFfmpeg, withFile } from '../helpers/foreign-readers';
import { makePng } from '../helpers/picture-bytes';
import { playedByFfmpeg, playedByMediabunny } from '../helpers/played';
import { smallFiles } from './demo-files';
import { mutate } from './mutate';
import { TRIAL_TIME, seeded, sized, tell } from './size';

const TEXTS = [
  'Low Water',
  '',
  ' ',
  'a/b; c',
  '(17)',
  '((',
  '0',
  '海の歌',
  '👩‍👩‍👧',
  'e\u0301',
  '\ud800',
  '\ufeffx',
  'x\0y',
  'line\r\nline',
  'ÿ\u0000',
  '\u202eabc',
  'x'.repeat(5000),
];

function randomEdits(random: () => number): Edits {
  const edits: Partial<Record<FieldName, FieldValue>> = {};
  for (const { name, type, limit } of FIELDS) {
    if (random() < 0.7) continue;
    const pick = TEXTS[Math.floor(random() * TEXTS.length)] as string;
    if (random() < 0.15) edits[name] = null;
    else if (type === 'number') edits[name] = Math.floor(random() ** 2 * limit);
    else if (type === 'yesno') edits[name] = random() < 0.5;
    else if (type === 'gain') edits[name] = Math.round((random() - 0.5) * 12_000) / 100 || 0;
    else if (type === 'date') edits[name] = random() < 0.5 ? '2019' : '2019-05-04';
    else edits[name] = type === 'texts' ? toTexts([pick, TEXTS[Math.floor(random() * 5)] as string]) : pick;
  }
  return cleanFields(edits as Edits);
}

const FRONT: NewPicture = { mime: 'image/png', width: 40, height: 30, bytes: makePng(40, 30) };

/** Pictures of chapters by their ids, each of its own width. */
const CHAPTER_PICTURES: ReadonlyMap<PictureId, NewPicture> = new Map(
  [21, 22, 23].map((width) => [
    `p${width}` as PictureId,
    { mime: 'image/png', width, height: 9, bytes: concat([makePng(width, 9), new Uint8Array(width)]) },
  ]),
);
const PICTURE_IDS = [...CHAPTER_PICTURES.keys()];

/**
 * Chapters with times to the millisecond, most of them in order, and now and then more than one list counts. Some say
 * what picture they have, or that they have none, where the format holds pictures.
 */
function randomChapters(random: () => number, hasPictures: boolean): readonly Chapter[] {
  const count = random() < 0.05 ? 300 : Math.floor(random() * 5);
  const titles = ['Low Water', '', 'a/b; c', '海の歌', '👩‍👩‍👧', '\ufeffx'].map(cleanText);
  const pictureOf = (): Chapter['picture'] => {
    const id = PICTURE_IDS[Math.floor(random() * 6)];
    const { bytes, ...picture } = (id && CHAPTER_PICTURES.get(id)) ?? FRONT;
    return id ? { id, ...picture, bytes: bytes.length } : null;
  };
  const isShown = hasPictures && random() < 0.5;
  const chapters = Array.from({ length: count }, (_, index): Chapter => {
    const startSeconds = (index * 2000 + Math.floor(random() * 1900)) / 1000;
    return {
      startSeconds,
      endSeconds: null,
      title: titles[Math.floor(random() * titles.length)] ?? '',
      link: null,
      ...(isShown && random() < 0.8 && { picture: pictureOf() }),
    };
  });
  return random() < 0.1 ? chapters.toReversed() : chapters;
}

/**
 * Chapters as tags tell them: in the order of time, to the millisecond, with the bytes of pictures where something is said
 * of them.
 */
const told = (chapters: readonly Chapter[], wanted = chapters) =>
  chapters
    .map(({ startSeconds, title, picture }) => {
      const start = Math.round(startSeconds * 1000);
      const said = wanted.find((one) => Math.round(one.startSeconds * 1000) === start);
      return [start, title, said?.picture === undefined ? null : (picture?.bytes ?? 0)] as const;
    })
    .sort((a, b) => a[0] - b[0]);

function randomTracks(random: () => number): readonly TrackEdit[] {
  const languages = [null, 'en', 'gd', 'pt-BR', 'nob'];
  const id = 1 + Math.floor(random() * 3);
  const language = languages[Math.floor(random() * languages.length)] ?? null;
  return [random() < 0.5 ? { id, language } : { id, language, name: random() < 0.3 ? '' : 'Øyets lys' }];
}

const randomTimed = (random: () => number): readonly TimedLine[] =>
  Array.from({ length: Math.floor(random() * 4) }, (_, index) => ({
    startSeconds: (index * 3000 + Math.floor(random() * 2900)) / 1000,
    text: ['Haul away', '海の歌', 'a; b / c'][index] ?? 'x',
  }));

/** What is to change, as far as the tags of a format have a place for it. */
function randomChanges(random: () => number, map: TagMap): TagChanges {
  const hasFront = map.pictures === null || map.pictures.includes('front');
  return {
    fields: randomEdits(random),
    ...(random() < 0.5 && { chapters: randomChapters(random, (map.chapters?.pictureBytes ?? 0) > 0) }),
    ...(random() < 0.3 && map.tracks && { tracks: randomTracks(random) }),
    ...(random() < 0.2 && map.timed && { timed: randomTimed(random) }),
    ...(random() < 0.2 && hasFront && { pictures: new Map([['front', FRONT]]) }),
    chapterPictures: CHAPTER_PICTURES,
  };
}

/** What is there of a file, cut or not; null where it cannot be read. */
const readAnyhow = (source: ByteSource, path: string) =>
  readMedia(source, path, true).catch((error: unknown) => {
    if (error instanceof UnreadableError) return null;
    throw error;
  });

/** A value as tags hold it: no difference between absent, not so and zero. */
const plain = (value: FieldValue) => (value === false || value === 0 ? null : value);

/** A whole file with the samples of its damaged copy; null if the damage moved bytes, so that places differ. */
function withSamplesOf(
  whole: Uint8Array,
  damaged: Uint8Array,
  samples: Rewrite['payload'],
): Uint8Array | null {
  if (whole.length !== damaged.length) return null;
  const made = whole.slice();
  for (const { start, end } of samples) made.set(damaged.subarray(start, end), start);
  return made;
}

test(
  'a rewritten file keeps its sound, says what was typed, and nothing else of it changes',
  { timeout: TRIAL_TIME },
  async () => {
    const files = (await smallFiles(3)).filter(({ path }) =>
      /\.(mp3|flac|m4a|m4b|mp4|m4r|opus|ogg|wav|aiff|mkv|webm)$/.test(path),
    );
    const random = seeded(23);
    const count = sized(10_000, 500);
    const earlier = new Map<string, Uint8Array>();
    let written = 0;
    let refused = 0;
    let played = 0;
    for (let index = 0; index < count; index++) {
      const { path, bytes: demo } = files[index % files.length] as (typeof files)[number];
      // Some were written before.
      const bytes = random() < 0.4 ? (earlier.get(path) ?? demo) : demo;
      // Every third file is whole; the others are damaged in ways that a writer may meet.
      const original = index % 3 === 0 ? bytes : mutate(bytes, random);
      const source = memorySource(original);
      try {
        const format = await sniffFormat(source);
        const writable = format && WRITABLE.get(format);
        if (!writable) continue;
        const writer = await writable.load();
        const read = await readAnyhow(source, path);
        const changes = randomChanges(random, writable.mapFor(read?.facts.tagFormats ?? []));
        const { fields: edits, chapters, tracks, timed, pictures } = changes;
        const all: Fields = { ...(read?.file.fields ?? EMPTY_FIELDS), ...edits };
        const { spans, payload } = await writer.rewrite(source, { ...changes, all });
        for (const range of payload) expect(keepsRange(spans, range)).toBe(true);
        const out = memorySource(await joinSpans(source, spans));
        const before = await writer.readNative(source);
        const native = await writer.readNative(out);
        const after = native?.fields ?? EMPTY_FIELDS;
        const wanted: Fields = before ? { ...before.fields, ...edits } : all;
        for (const { name } of FIELDS)
          expect([name, plain(after[name])]).toEqual([name, plain(wanted[name])]);
        if (chapters) expect(told(native?.chapters ?? [], chapters)).toEqual(told(chapters));
        else if (before) expect(native?.chapters).toEqual(before.chapters);
        for (const edit of tracks ?? [])
          if (before?.tracks?.some(({ id }) => id === edit.id))
            expect(native?.tracks?.find(({ id }) => id === edit.id)).toMatchObject(edit);
        if (timed) expect(native?.timed).toEqual(timed);
        else if (before) expect(native?.timed).toEqual(before.timed);
        if (pictures && read)
          expect((await readAnyhow(out, path))?.file.pictures).toContainEqual(
            expect.objectContaining({ role: 'front', width: 40, bytes: FRONT.bytes.length }),
          );
        // Containers whose structure says where samples lie are held against decoders that are not ours.
        if (format === 'mp4' || format === 'matroska') {
          const now = await out.read(0, out.size);
          const heard = await playedByMediabunny(original);
          // What it does not open at all may open once the damaged part was written anew: then each track that plays is
          // as in the whole file with the same damage to its samples. Damage elsewhere may hide others.
          const after = await playedByMediabunny(now);
          const isMended = original !== bytes && heard.length === 0 && after.length > 0;
          const meant = isMended ? withSamplesOf(bytes, original, payload) : original;
          if (meant) {
            if (isMended) expect(await playedByMediabunny(meant)).toEqual(expect.arrayContaining([...after]));
            else expect(after).toEqual(heard);
            if (hasFfmpeg && played++ % 4 === 0) {
              const by = (one: Uint8Array) => withFile(one, extensionOf(path), playedByFfmpeg);
              if (isMended) expect(by(meant)).toEqual(expect.arrayContaining([...by(now)]));
              else expect(by(now)).toEqual(by(meant));
            }
          }
        }
        if (original === bytes) earlier.set(path, await out.read(0, out.size));
        written++;
      } catch (error) {
        if (error instanceof FormatError) {
          refused++;
          continue;
        }
        if (error instanceof Error) error.message = `case ${index}, ${path}: ${error.message}`;
        throw error;
      }
    }
    expect(written).toBeGreaterThan(count / 3);
    tell('files rewritten', {
      files: count,
      written,
      'refused by name': refused,
      'played by others': played,
      failures: 0,
    });
  },
);
