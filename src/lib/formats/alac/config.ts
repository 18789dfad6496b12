import { FormatError } from '../format';
import type { AlacConfig } from './layout';

const CONFIG_BYTES = 24;

/** What a decoder needs to know, as its files hold it. @param mostPacket bytes of the largest packet */
export function writeConfig(
  { frameSamples, bits, channels, sampleRate, mean, history, mostBits }: AlacConfig,
  mostPacket: number,
  averageBits: number,
): Uint8Array<ArrayBuffer> {
  const bytes = new Uint8Array(CONFIG_BYTES);
  const view = new DataView(bytes.buffer);
  view.setUint32(0, frameSamples);
  // The version that a reader has to know.
  view.setUint8(4, 0);
  view.setUint8(5, bits);
  view.setUint8(6, history);
  view.setUint8(7, mean);
  view.setUint8(8, mostBits);
  view.setUint8(9, channels);
  // The longest run, which nothing goes by.
  view.setUint16(10, 255);
  view.setUint32(12, mostPacket);
  view.setUint32(16, averageBits);
  view.setUint32(20, sampleRate);
  return bytes;
}

/** @throws {FormatError} where it is none, or asks for frames that no file has */
export function readConfig(bytes: Uint8Array): AlacConfig {
  if (bytes.length < CONFIG_BYTES)
    throw new FormatError('damaged', 'what a decoder of ALAC needs is cut short');
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  const config = {
    frameSamples: view.getUint32(0),
    bits: view.getUint8(5),
    history: view.getUint8(6),
    mean: view.getUint8(7),
    mostBits: view.getUint8(8),
    channels: view.getUint8(9),
    sampleRate: view.getUint32(20),
  };
  const isSound =
    config.frameSamples > 0 &&
    config.frameSamples <= 65_536 &&
    [16, 20, 24, 32].includes(config.bits) &&
    config.channels >= 1 &&
    config.channels <= 8 &&
    config.mostBits <= 16 &&
    config.sampleRate > 0;
  if (!isSound) throw new FormatError('damaged', 'what a decoder of ALAC needs makes no sense');
  return config;
}
