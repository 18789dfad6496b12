/** How a sound is wanted: hertz, and channels. */
export interface WantedSound {
  readonly type: 'sound';
  readonly sampleRate: number;
  readonly channels: number;
}

/** What moving pictures are encoded to. Pixels; bits a second. */
export interface WantedPicture {
  readonly codec: keyof typeof ENCODERS;
  readonly width: number;
  readonly height: number;
  readonly bitrate: number;
}

/** How a video is wanted, in Matroska. */
export interface WantedVideo {
  readonly type: 'video';
  /** Null where its packets are wanted as they are. */
  readonly picture: WantedPicture | null;
  /** Whether packets of its sounds are wanted as they are, else without a loss. */
  readonly keepsSounds: boolean;
}

/** Encoders by the codec's name in WebCodecs, with how hard each is to try. */
const ENCODERS = {
  avc: ['libx264', '-preset', 'medium', '-pix_fmt', 'yuv420p'],
  vp9: ['libvpx-vp9', '-deadline', 'good', '-cpu-used', '4', '-row-mt', '1', '-pix_fmt', 'yuv420p'],
  vp8: ['libvpx', '-deadline', 'good', '-cpu-used', '4', '-pix_fmt', 'yuv420p'],
  av1: ['libsvtav1', '-preset', '8', '-pix_fmt', 'yuv420p'],
} as const;

export const isPictureCodec = (name: string): name is WantedPicture['codec'] => Object.hasOwn(ENCODERS, name);

/** What the program is told to write, and where. */
export const outputOf = (wanted: WantedSound | WantedVideo): readonly string[] =>
  wanted.type === 'sound' ? soundOutput(wanted) : videoOutput(wanted);

const soundOutput = ({ sampleRate, channels }: WantedSound): readonly string[] => [
  ...['-map', '0:a:0', '-f', 'f32le', '-ac', String(channels), '-ar', String(sampleRate), 'pipe:1'],
];

function videoOutput({ picture, keepsSounds }: WantedVideo): readonly string[] {
  const shown = picture
    ? [
        ...['-c:v', ...ENCODERS[picture.codec], '-b:v', String(picture.bitrate)],
        // Lines of two moments in one picture are drawn apart where the file says that it has such.
        ...['-vf', `yadif=deint=interlaced,scale=${picture.width}:${picture.height},setsar=1`],
      ]
    : ['-c:v', 'copy'];
  return [
    ...['-map', '0:v:0', '-map', '0:a?', ...shown, '-c:a', keepsSounds ? 'copy' : 'flac'],
    ...['-sn', '-dn', '-map_chapters', '-1', '-progress', 'pipe:3', '-f', 'matroska', 'pipe:1'],
  ];
}
