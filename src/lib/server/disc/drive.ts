import { renderTune } from '../sound/tunes.js';
import { DISCS, type Disc } from './discs';

/** How much faster than it plays a track is read. */
const SPEED = 24;
/** Share of a damaged track that can be read before the drive gives up. */
const READABLE_SHARE = 0.45;
const PIECE_BYTES = 32_768;
const WAV_HEADER = 44;
/** Bytes of a second of sound as these discs hold it: one channel, 16 bits, 22,050 a second. */
const BYTES_A_SECOND = 44_100;

let inside: Disc | null = null;

export interface DriveState {
  /** Null when the tray is empty. */
  readonly tracks:
    readonly { readonly number: number; readonly lengthSeconds: number; readonly bytes: number }[] | null;
  /** Changes with every disc that goes in. */
  readonly disc: string | null;
}

/** What the drive sees: a table of contents, no names. */
export function driveState(): DriveState {
  return {
    disc: inside?.id ?? null,
    tracks:
      inside?.tracks.map(({ seconds }, index) => ({
        number: index + 1,
        lengthSeconds: seconds,
        bytes: WAV_HEADER + seconds * BYTES_A_SECOND,
      })) ?? null,
  };
}

/** Puts a disc in by hand. @throws {RangeError} when there is none of that name */
export function insertDisc(id: string): void {
  const disc = DISCS.find((one) => one.id === id);
  if (!disc) throw new RangeError(`no such disc: ${id}`);
  inside = disc;
}

export function eject(): void {
  inside = null;
}

/** Reads one track at the drive's speed; null when there is none. A damaged track breaks off in the middle. */
export function readTrack(number: number): { bytes: number; body: ReadableStream<Uint8Array> } | null {
  const track = inside?.tracks[number - 1];
  if (!track) return null;
  const wav = renderTune(track.seed, track.seconds);
  const readable = track.damaged ? Math.floor(wav.length * READABLE_SHARE) : wav.length;
  let at = 0;
  const body = new ReadableStream<Uint8Array>({
    async pull(controller) {
      if (at >= wav.length) return controller.close();
      if (at >= readable) return controller.error(new Error('unreadable sectors'));
      const piece = wav.subarray(at, Math.min(readable, at + PIECE_BYTES));
      at += piece.length;
      await new Promise((resolve) => setTimeout(resolve, (1000 * piece.length) / (BYTES_A_SECOND * SPEED)));
      controller.enqueue(new Uint8Array(piece));
    },
  });
  return { bytes: wav.length, body };
}
