export { Converter, ConverterError } from './converter';
export { isPictureCodec } from './wanted';
export type { WantedFilm, WantedSound } from './wanted';
