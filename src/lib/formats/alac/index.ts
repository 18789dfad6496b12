export { readConfig, writeConfig } from './config';
export { AlacDecoder } from './decoder';
export { AlacEncoder } from './encoder';
export { FRAME_SAMPLES } from './layout';
export type { AlacConfig } from './layout';
