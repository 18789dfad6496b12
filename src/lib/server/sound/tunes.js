// A small seeded synthesiser: plucked notes over a drone, different for every seed.

const RATE = 22_050;
const SCALE = [0, 2, 3, 5, 7, 9, 10, 12, 14, 15];

/**
 * Numbers from 0 to 1 that a seed fixes (mulberry32).
 * @param {number} seed
 */
export function random(seed) {
  let state = seed * 0x9e3779b9;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4294967296;
  };
}

/**
 * A mono 16-bit WAV file of this length in seconds.
 * @param {number} seed
 * @param {number} seconds
 */
export function renderTune(seed, seconds) {
  const next = random(seed);
  const base = 110 * 2 ** (Math.floor(next() * 12) / 12);
  const beat = Math.floor(RATE * (0.28 + next() * 0.2));
  const samples = new Float32Array(RATE * seconds);
  for (let start = 0; start < samples.length; start += beat) {
    if (next() < 0.2) continue;
    const step = SCALE[Math.floor(next() * SCALE.length)] ?? 0;
    pluck(samples, start, base * 2 * 2 ** (step / 12), beat * 3);
  }
  for (let i = 0; i < samples.length; i++)
    samples[i] = (samples[i] ?? 0) + 0.12 * Math.sin((2 * Math.PI * base * i) / RATE);
  return wav(samples);
}

/**
 * @param {Float32Array} samples
 * @param {number} start
 * @param {number} frequency
 * @param {number} length
 */
function pluck(samples, start, frequency, length) {
  const end = Math.min(samples.length, start + length);
  for (let i = start; i < end; i++) {
    const time = (i - start) / RATE;
    samples[i] = (samples[i] ?? 0) + 0.28 * Math.exp(-5 * time) * Math.sin(2 * Math.PI * frequency * time);
  }
}

/** @param {Float32Array} samples */
function wav(samples) {
  const bytes = Buffer.alloc(44 + samples.length * 2);
  bytes.write('RIFF', 0);
  bytes.writeUInt32LE(36 + samples.length * 2, 4);
  bytes.write('WAVEfmt ', 8);
  bytes.writeUInt32LE(16, 16);
  bytes.writeUInt16LE(1, 20);
  bytes.writeUInt16LE(1, 22);
  bytes.writeUInt32LE(RATE, 24);
  bytes.writeUInt32LE(RATE * 2, 28);
  bytes.writeUInt16LE(2, 32);
  bytes.writeUInt16LE(16, 34);
  bytes.write('data', 36);
  bytes.writeUInt32LE(samples.length * 2, 40);
  for (let i = 0; i < samples.length; i++) {
    // Steps of 32 keep lossless files small without being heard in so simple a sound.
    const value = Math.round((Math.max(-1, Math.min(1, samples[i] ?? 0)) * 32_000) / 32) * 32;
    bytes.writeInt16LE(value, 44 + i * 2);
  }
  return bytes;
}
