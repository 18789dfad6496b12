import { expect, test } from 'vitest';
import { dffFile, dsfFile, modulate } from '../../scripts/demo/dsd.mjs';
import { cachedSource, memorySource } from '../../src/lib/core/bytes';
import { SoundMeter } from '../../src/lib/core/twins';
import { FormatError } from '../../src/lib/formats';
import { AlacDecoder, AlacEncoder, FRAME_SAMPLES, writeConfig } from '../../src/lib/formats/alac';
import { dsdSamples, readDsd } from '../../src/lib/formats/dsd';
import { findFirstFrame, readEncoderSilence, readMp3 } from '../../src/lib/formats/mp3';
import { SoundFile, alacBox, readAlacTrack, readSoundSpan } from '../../src/lib/formats/mp4';
import { plainSamples, readPlainSound } from '../../src/lib/formats/riff';
import { smallFiles } from './demo-files';
import { MemorySink } from '../helpers/memory-sink';
import { mutate } from './mutate';
import { TRIAL_TIME, computed, seeded, sized, tell } from './size';

/** Milliseconds of computing that no file may pass, whatever it is. */
const MOST_MS = 2000;

/** A small file of Apple Lossless. */
async function alacFile(): Promise<Uint8Array> {
  const encoder = new AlacEncoder(2, 16, 44_100);
  const sink = new MemorySink();
  const track = {
    codec: 'alac' as const,
    decoder: (most: number, average: number) => alacBox(writeConfig(encoder.config, most, average)),
    channels: 2,
    bits: 16,
    sampleRate: 44_100,
    frameSamples: FRAME_SAMPLES,
    priming: 0,
  };
  const file = new SoundFile(sink, track, 8);
  const wave = (shift: number) =>
    Int32Array.from({ length: FRAME_SAMPLES }, (_, at) => Math.round(9000 * Math.sin((at + shift) / 17)));
  for (let frame = 0; frame < 4; frame++) await file.add([encoder.encode([wave(frame), wave(frame * 3)])]);
  await file.finish(4 * FRAME_SAMPLES);
  return sink.bytes;
}

/** Decodes a file as a twin is made from it, as far as that is ours to do. */
async function decode(path: string, bytes: Uint8Array): Promise<string> {
  const source = memorySource(bytes);
  const meter = new SoundMeter(44_100);
  if (/\.(wav|aiff?)$/.test(path)) {
    const sound = await readPlainSound(cachedSource(source));
    for await (const samples of plainSamples(source, sound)) meter.feed(samples);
  } else if (/\.(dsf|dff)$/.test(path)) {
    const { sound } = await readDsd(cachedSource(source), true);
    for await (const samples of dsdSamples(source, sound)) meter.feed(samples);
  } else if (path.endsWith('.mp3')) {
    const { audioStart } = await readMp3(source);
    const first = await findFirstFrame(source, audioStart);
    if (first !== null) readEncoderSilence(await source.read(first, first + 1024));
  } else {
    await readSoundSpan(source);
    const track = await readAlacTrack(source);
    if (!track) return 'other';
    const decoder = new AlacDecoder(track.config);
    for (const { start, size } of track.packets)
      meter.feed(decoder.decode(await source.read(start, start + size)).map((one) => Float32Array.from(one)));
  }
  return 'decoded';
}

test('damaged files decode, or say why they do not, in time', { timeout: TRIAL_TIME }, async () => {
  const own = (await smallFiles()).filter(({ path }) => /\.(wav|aiff?|mp3|m4a|mp4)$/.test(path));
  const hum = modulate((seconds) => 0.3 * Math.sin(2764 * seconds), 0.03);
  const files = [
    ...own,
    { path: 'own.m4a', bytes: await alacFile() },
    { path: 'own.dsf', bytes: dsfFile([hum, hum]) },
    { path: 'own.dff', bytes: dffFile([hum, hum]) },
    { path: 'again.m4a', bytes: await alacFile() },
  ];
  const random = seeded(27);
  const count = sized(6000, 500);
  const outcomes = new Map<string, number>();
  let slowest = 0;
  for (let index = 0; index < count; index++) {
    const { path, bytes } = files[index % files.length]!;
    const began = computed();
    const outcome = await decode(path, mutate(bytes, random)).catch((error: unknown) => {
      // Anything but a named reason is a fault.
      if (error instanceof FormatError) return error.code;
      if (error instanceof RangeError) return 'damaged packet';
      throw error;
    });
    const ms = computed() - began;
    outcomes.set(outcome, (outcomes.get(outcome) ?? 0) + 1);
    slowest = Math.max(slowest, ms);
    expect([path, ms < MOST_MS]).toEqual([path, true]);
  }
  expect(outcomes.get('decoded')).toBeGreaterThan(0);
  tell('decoding damaged files', {
    files: count,
    slowest: Math.round(slowest),
    ...Object.fromEntries(outcomes),
    failures: 0,
  });
});
