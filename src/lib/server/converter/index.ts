export { Converter, ConverterError } from './converter';
export { isPictureCodec } from './wanted';
export type { WantedVideo, WantedSound } from './wanted';
