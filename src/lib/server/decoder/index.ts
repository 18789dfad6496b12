export { Decoder, DecoderError } from './decoder';
export type { DecoderLimits, WantedSound } from './decoder';
