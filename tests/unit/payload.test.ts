import { createHash } from 'node:crypto';
import { describe, expect, test } from 'vitest';
import { joinSpans, memorySource, type ByteSource } from '../../src/lib/core/bytes';
import type { FormatId } from '../../src/lib/core/items';
import { WRITABLE } from '../../src/lib/formats';
import { locate } from '../../src/lib/formats/payload';
import { demoMemory } from '../helpers/demo';

const FILES: readonly (readonly [FormatId, string])[] = [
  ['mp3', 'Music/The Tidewrack Choir/Fathom Songs/1 - Sounding Line.mp3'],
  ['flac', 'Music/The Tidewrack Choir/Salt Ledger/01 Inventory of Gulls.flac'],
  ['mp4', 'Music/Orla Venn/Nine Lamps Burning/04 Wick.m4a'],
  ['opus', 'Music/Halyard & Daughters/Quiet Engines/01 Donkey Engine.opus'],
  ['vorbis', 'Music/Halyard & Daughters/Quiet Engines/02 Oil and Patience.ogg'],
  ['wav', 'Music/Halyard & Daughters/Quiet Engines/04 Steam Up.wav'],
  ['aiff', 'Music/Halyard & Daughters/Quiet Engines/05 Cold Iron.aiff'],
  ['dsf', '../tests/fixtures/containers/tone.dsf'],
  ['dff', '../tests/fixtures/containers/tone.dff'],
  ['matroska', 'Music Videos/Halyard & Daughters - Donkey Engine.mkv'],
];

async function digest(source: ByteSource, format: FormatId): Promise<{ digest: string; bytes: number }> {
  const hash = createHash('sha256');
  let bytes = 0;
  for await (const { start, end } of locate(source, format)) {
    hash.update(await source.read(start, end));
    bytes += end - start;
  }
  return { digest: hash.digest('hex'), bytes };
}

describe.each(FILES)('%s', (format, path) => {
  test('its samples are nearly all of the file, and every byte range lies inside it', async () => {
    const source = await demoMemory(path);
    const { bytes } = await digest(source, format);
    expect(bytes).toBeLessThan(source.size);
    // Covers and the index of a video are what is left.
    expect(bytes / source.size).toBeGreaterThan(0.85);
  });

  test.runIf(WRITABLE.has(format))(
    'other tags leave the digest as it was, other sound does not',
    async () => {
      const source = await demoMemory(path);
      const before = await digest(source, format);
      const writer = await WRITABLE.get(format)?.load();
      const { spans } = (await writer?.rewrite(source, {
        fields: { title: 'Another'.repeat(900) },
      })) ?? { spans: [] };
      expect(await digest(memorySource(await joinSpans(source, spans)), format)).toEqual(before);
      const bytes = (await source.read(0, source.size)).slice();
      const middle = bytes.length >> 1;
      bytes[middle] = (bytes[middle] ?? 0) ^ 1;
      expect((await digest(memorySource(bytes), format)).digest).not.toBe(before.digest);
    },
  );
});
