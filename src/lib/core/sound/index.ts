export {
  FINGERPRINT_SECONDS,
  SAME_SOUND,
  fingerprintText,
  parseFingerprint,
  soundDistance,
} from './fingerprint';
export type { Fingerprint } from './fingerprint';
export { SpeechMeter } from './speech-meter';
export { findAlikeSounds } from './find-alike';
export type { AlikePair } from './find-alike';
export { levelOf, peaksFor, proposedStarts, silencesIn, startBehind } from './silences';
export type { Levels, Silence } from './silences';
export { Resampler } from './resampler';
export { DsdDecimator, decimationOf } from './dsd-decimator';
export { LoudnessMeter, gainFor, integratedLoudness, type LoudnessBlocks } from './loudness';
export { WholeSamples } from './whole-samples';
export { MonoBuffer } from './mono-buffer';
export { mixDown } from './mix-down';
