import loadChromaprint from '@unimusic/chromaprint/dist/chromaprint.js';
import wasmUrl from '@unimusic/chromaprint/dist/chromaprint.wasm?url';
import { fingerprintOf } from './chromaprint.js';

let loaded: Promise<unknown> | null = null;

/** The fingerprint of one channel of 16 bits; empty when the sound is too short. @param sampleRate in hertz */
export async function fingerprint(samples: Int16Array, sampleRate: number): Promise<Uint32Array> {
  loaded ??= loadChromaprint({ locateFile: () => wasmUrl });
  return fingerprintOf(await loaded, samples, sampleRate, 1);
}
