import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { joinSpans, keepsRange, memorySource } from '../../src/lib/core/bytes';
import {
  FIELD_NAMES,
  editContent,
  fieldsOf,
  timedOf,
  tracksOf,
  type FormatId,
  type Item,
  type TrackEdit,
} from '../../src/lib/core/items';
import { WRITABLE, outgoingOf } from '../../src/lib/formats';
import { readMedia } from '../../src/lib/formats/reading';
import { anyChapters, anyEdits, anyTimed } from '../helpers/any-content';
import { demoMemory } from '../helpers/demo';
import { makeItem } from '../helpers/items';

/** One file of each sort of tag that is written. */
const FILES: readonly (readonly [string, FormatId, string])[] = [
  ['MP3 with ID3v2.3', 'mp3', 'Music/The Tidewrack Choir/Fathom Songs/1 - Sounding Line.mp3'],
  ['MP3 with ID3v2.4', 'mp3', 'Music/The Tidewrack Choir/Fathom Songs/4 - Drowned Bell.mp3'],
  ['MP3 without tags', 'mp3', 'Drop/07 Slack Before Storm (take 2).mp3'],
  ['FLAC', 'flac', 'Music/The Tidewrack Choir/Salt Ledger/01 Inventory of Gulls.flac'],
  ['M4B', 'mp4', "Books/The Lamp Keeper's Almanac.m4b"],
  ['MP4 without tags', 'mp4', 'Drop/clip_004.mp4'],
  ['Opus', 'opus', 'Music/Halyard & Daughters/Quiet Engines/01 Donkey Engine.opus'],
  ['Ogg Vorbis', 'vorbis', 'Drop/gulls-twice.ogg'],
  ['FLAC in Ogg', 'oggFlac', '../tests/fixtures/containers/tone.oga'],
  ['Matroska', 'matroska', 'Music Videos/Halyard & Daughters - Donkey Engine.mkv'],
  ['WebM', 'matroska', 'Drop/Orla Venn - Harbour Bell.webm'],
  ['WAV', 'wav', 'Music/Halyard & Daughters/Quiet Engines/04 Steam Up.wav'],
  ['AIFF', 'aiff', 'Music/Halyard & Daughters/Quiet Engines/05 Cold Iron.aiff'],
  ['DSF', 'dsf', '../tests/fixtures/containers/tone.dsf'],
  ['DFF', 'dff', '../tests/fixtures/containers/tone.dff'],
];

/** Short enough that there is room for it before the sound of any file. */
const anyTrack: fc.Arbitrary<TrackEdit> = fc.record(
  {
    id: fc.constantFrom(1, 2, 7),
    name: fc.constantFrom('', 'Remarks', 'Øyets lys'),
    language: fc.constantFrom(null, 'en', 'gd', 'pt-BR', 'nob'),
  },
  { requiredKeys: ['id'] },
);

describe.each(FILES)('%s', (_name, format, path) => {
  test('what its tag map holds is read back as it was said; what it cannot hold is told and stays out', async () => {
    const original = await demoMemory(path);
    const read = await readMedia(original, path);
    const own: Item = makeItem('x', {}, { format, path, facts: read.facts, file: read.file });
    const writer = await WRITABLE.get(format)?.load();
    if (!writer) throw new Error(format);
    await fc.assert(
      fc.asyncProperty(
        anyEdits,
        fc.option(anyChapters),
        fc.option(anyTimed),
        fc.option(anyTrack),
        async (fields, chapters, timed, track) => {
          const item = editContent(own, {
            fields,
            ...(chapters && { chapters }),
            ...(timed && { timed }),
            ...(track && { tracks: [track] }),
          });
          const outgoing = outgoingOf(item, null);
          if (!outgoing) throw new Error('not written');
          const { edits, unheld } = outgoing;
          const says = fieldsOf({ file: read.file, edits });
          const { spans, payload } = await writer.rewrite(original, {
            ...edits,
            fields: edits.fields ?? {},
            all: says,
            pictures: new Map(),
          });
          for (const range of payload) expect(keepsRange(spans, range)).toBe(true);
          const { file } = await readMedia(memorySource(await joinSpans(original, spans)), path);
          expect(file.fields).toEqual(says);
          for (const name of FIELD_NAMES)
            if (!unheld.includes(name))
              expect([name, file.fields[name]]).toEqual([name, fieldsOf(item)[name]]);
          // An end that says no more than that the file is over is none.
          const said = edits.chapters?.map((one, index, all) =>
            index === all.length - 1 ? { ...one, endSeconds: null } : one,
          );
          if (said) expect(file.chapters).toEqual(said);
          expect(file.timed ?? []).toEqual(edits.timed ?? read.file.timed ?? []);
          if (!unheld.includes('timed')) expect(file.timed ?? []).toEqual(timedOf(item));
          expect(tracksOf({ file, edits: {} })).toEqual(tracksOf({ file: read.file, edits }));
          if (!unheld.includes('tracks')) expect(file.tracks ?? []).toEqual(tracksOf(item));
          if (unheld.length === 0 && item.edits.chapters) expect(file.chapters).toEqual(item.edits.chapters);
        },
      ),
      { seed: 5, numRuns: 90 },
    );
  });
});
