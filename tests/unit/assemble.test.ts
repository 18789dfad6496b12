import { expect, test, vi } from 'vitest';
import type { AssemblePart } from '$lib/workers/convert-protocol';
import { assemble } from '$lib/workers/converting/assemble';
import type { SoundSource } from '$lib/workers/converting/sound-source';

/* The decoders are the browser's: sounds of known samples stand for what they give. */
const sounds = new Map<string, SoundSource>();
vi.mock('$lib/workers/converting/any-sound', () => ({
  openAnySound: async (file: Blob) => sounds.get(await file.text()),
}));
vi.mock('$lib/io/fingerprint', () => ({ fingerprint: async () => new Uint32Array(0) }));

const RATE = 8000;
const RECIPE = { codec: 'flac', bitrate: null, sampleRate: RATE, channels: 1, mostBits: 16 } as const;

/** A sound of one value, told in pieces of a tenth of a second. */
function soundOf(name: string, seconds: number, value: number): void {
  const pieces = Math.round(seconds * 10);
  sounds.set(name, {
    sampleRate: RATE,
    channels: 1,
    bits: 16,
    async *samples() {
      for (let piece = 0; piece < pieces; piece++) yield [new Float32Array(RATE / 10).fill(value)];
    },
    end() {},
  });
}
const part = (name: string, more: Partial<AssemblePart> = {}): AssemblePart => ({
  name,
  file: new Blob([name]),
  format: 'flac',
  fromSeconds: 0,
  toSeconds: null,
  leastSeconds: null,
  ...more,
});

async function made(
  parts: readonly AssemblePart[],
  fades = { fadeInSeconds: 0, fadeOutSeconds: 0 },
  total = 0,
) {
  const written: number[] = [];
  const writer = {
    add: async ([samples]: readonly Float32Array[]) => void written.push(...samples!),
    finish: async () => {},
    cancel: async () => {},
  };
  const { starts, heard } = await assemble(parts, RECIPE, fades, total, writer, () => {});
  return { starts, written, heard };
}

test('parts follow each other without a gap, and say where each begins', async () => {
  soundOf('fog', 1, 0.25);
  soundOf('light', 0.5, 0.5);
  const { starts, written, heard } = await made([
    part('fog'),
    part('light'),
    part('fog', { toSeconds: 0.2 }),
  ]);
  expect(starts).toEqual([0, 1, 1.5]);
  expect(written).toHaveLength(1.7 * RATE);
  expect([written[RATE - 1], written[RATE], written[1.5 * RATE]]).toEqual([0.25, 0.5, 0.25]);
  expect(heard.seconds).toBeCloseTo(1.7, 6);
});

test('a stretch begins and ends at its very samples, and fades at both ends of the whole', async () => {
  soundOf('fog', 2, 0.5);
  const fades = { fadeInSeconds: 0.25, fadeOutSeconds: 0.5 };
  const { written } = await made([part('fog', { fromSeconds: 0.333, toSeconds: 1.333 })], fades, 1);
  expect(written).toHaveLength(RATE);
  expect(written[0]).toBe(0);
  expect(written[RATE / 8]).toBeCloseTo(0.25, 2);
  expect(written[RATE / 2 - 1]).toBe(0.5);
  expect(written[0.75 * RATE]).toBeCloseTo(0.25, 2);
  expect(written.at(-1)).toBeLessThan(0.001);
});

test('a part of which half is missing, or all, ends it and is named', async () => {
  soundOf('fog', 1, 0.25);
  soundOf('torn', 0.5, 0.25);
  soundOf('mute', 0, 0);
  await expect(made([part('fog', { leastSeconds: 1 }), part('torn', { leastSeconds: 1 })])).rejects.toThrow(
    'torn: 0.5 of 1.0 seconds decode',
  );
  await expect(made([part('fog'), part('mute')])).rejects.toThrow('mute: no sound came out of it');
});
