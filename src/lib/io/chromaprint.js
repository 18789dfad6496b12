// Plain JavaScript, since the script that fingerprints the demo's recordings runs it as it stands.

/**
 * Fingerprint of sound by the wasm module of @unimusic/chromaprint, whose own wrapper needs a window.
 * @param {any} wasm the module, loaded
 * @param {Int16Array} samples interleaved
 * @param {number} sampleRate in hertz
 * @param {number} channels
 * @returns {Uint32Array} empty when the sound is too short
 */
export function fingerprintOf(wasm, samples, sampleRate, channels) {
  const context = wasm._chromaprint_new(1);
  const data = wasm._malloc(samples.length * 2);
  const out = wasm._malloc(8);
  try {
    wasm.HEAP16.set(samples, data / 2);
    wasm._chromaprint_start(context, sampleRate, channels);
    wasm._chromaprint_feed(context, data, samples.length);
    wasm._chromaprint_finish(context);
    if (!wasm._chromaprint_get_raw_fingerprint(context, out, out + 4)) return new Uint32Array(0);
    // Memory may have grown: its views are looked up again.
    const start = wasm.HEAP32[out / 4];
    const length = wasm.HEAP32[out / 4 + 1];
    const print = new Uint32Array(wasm.HEAP32.buffer, start, length).slice();
    wasm._free(start);
    return print;
  } finally {
    wasm._free(out);
    wasm._free(data);
    wasm._chromaprint_free(context);
  }
}
