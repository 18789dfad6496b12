import { expect, test } from 'vitest';
import { ascii, concat, joinSpans, memorySource } from '$lib/core/bytes';
import type { TrackEdit } from '$lib/core/items';
import { element, numberElement, textElement } from '../ebml';
import { readMatroskaFacts } from './facts';
import { ID } from './ids';
import { readSegment } from './segment';
import { readFirstTexts } from './subtitle-texts';
import { layTrackSet } from './track-set';

const track = (id: number, type: number) =>
  element(
    ID.trackEntry,
    numberElement(ID.trackNumber, id),
    numberElement(ID.trackType, type),
    element(ID.codec, ascii('A_AAC')),
  );
const block = (id: number, time: number) =>
  element(ID.simpleBlock, Uint8Array.of(0x80 | id, time >> 8, time & 0xff, 0x80, 1, 2, 3));
const cluster = (time: number, ...blocks: Uint8Array[]) =>
  element(ID.cluster, numberElement(ID.timestamp, time), ...blocks);
const file = (...parts: Uint8Array[]) =>
  concat([
    element(ID.ebml, textElement(ID.docType, 'matroska')),
    element(ID.segment, element(ID.tracks, track(1, 1), track(2, 2), track(3, 2)), ...parts),
  ]);

async function laid(bytes: Uint8Array, edits: readonly TrackEdit[]): Promise<Uint8Array> {
  const source = memorySource(bytes);
  return joinSpans(source, (await layTrackSet(source, edits)).spans);
}
const cue = (startSeconds: number, text: string) => ({ startSeconds, endSeconds: startSeconds + 1, text });
const CUES = [cue(0.5, 'Who is there?'), cue(50, 'Nobody'), cue(200, 'Only the tide')];

test('subtitles go into a file that says nothing of itself, between clusters that lie far apart, and behind the last', async () => {
  const written = await laid(file(cluster(0, block(1, 0), block(2, 900)), cluster(120_000, block(1, 0))), [
    { id: 1001, added: CUES },
  ]);
  expect(await readFirstTexts(memorySource(written), 1001, 9)).toEqual(CUES);
});

test('in units other than milliseconds they are shown at the same times', async () => {
  const info = element(ID.info, numberElement(ID.timestampScale, 100_000));
  const bytes = file(info, cluster(0, block(1, 0)), cluster(5000, block(1, 0)));
  const written = await laid(bytes, [{ id: 1001, added: CUES }]);
  expect(await readFirstTexts(memorySource(written), 1001, 9)).toEqual(CUES);
});

test('cues are made for a file that had none, each at the head of its cluster', async () => {
  const bytes = file(
    cluster(0, block(1, 0), block(2, 5)),
    cluster(900, block(2, 0)),
    cluster(1800, block(1, 0)),
  );
  const written = await laid(bytes, [{ id: 3, isLeftOut: true }]);
  const { segment, seeks } = await readSegment(memorySource(written));
  const at = seeks.find(({ id }) => id === ID.cues)?.position ?? 0;
  const cues = written.subarray(segment.content + at);
  const places = [
    ...Buffer.from(cues)
      .toString('hex')
      .matchAll(/f1(8[1-8])((?:..){1,4})/g),
  ].map(([, , hex]) => Number.parseInt(hex!.slice(0, 4), 16));
  // The second cluster cannot be begun with: its picture is in the one before.
  expect(places).toHaveLength(2);
  for (const place of places)
    expect(Buffer.from(written.subarray(segment.content + place)).readUInt32BE(0)).toBe(ID.cluster);
});

test('a file of more parts than a seek head leads to keeps them all', async () => {
  const tags = Array.from({ length: 60 }, (_, index) =>
    element(
      ID.tags,
      element(
        ID.tag,
        element(ID.targets),
        element(ID.simpleTag, textElement(ID.tagName, `NOTE${index}`), textElement(ID.tagString, 'x')),
      ),
    ),
  );
  const written = await laid(file(...tags, cluster(0, block(1, 0))), [{ id: 3, isLeftOut: true }]);
  const { tags: all, tracks } = await readMatroskaFacts(memorySource(written));
  expect(tracks.map(({ id }) => id)).toEqual([1, 2]);
  expect(all).toHaveLength(60);
});
