import type { TwinId } from '$lib/core/twins';
import { readRiffFacts } from '$lib/formats/riff';
import { blobSource } from '$lib/io/blob-source';
import { detached } from '$lib/io/detached';
import { newId } from '$lib/io/new-id';
import { sameBytes } from '$lib/io/take-in/same-bytes';
import { dropTwinFile, findTwinFile } from '$lib/io/twin-files';
import { ConvertClient } from '$lib/workers/convert-client';
import { SoundClient } from '$lib/workers/sound-client';

/** Bits of a sample of an audio disc (IEC 60908). */
const DISC_BITS = 16;

/** Encodes the tracks of a disc as FLAC, one after the other, in workers that are started once. */
export class FlacEncoder {
  private readonly converting = new ConvertClient();
  private readonly sound = new SoundClient();

  constructor(private readonly library: string) {}

  end(): void {
    this.converting.end();
    this.sound.end();
  }

  /**
   * A WAV file as FLAC. The result is decoded again, and every sample compared.
   * @returns null if it cannot be encoded so, or after `end`
   */
  async encode(wav: Blob, path: string): Promise<File | null> {
    const facts = await readRiffFacts(blobSource(wav), 'riff');
    const { sampleRate, channels, bits, durationSeconds: seconds } = facts;
    if (sampleRate === null || channels === null || seconds === null || bits !== DISC_BITS) return null;
    const twin = newId() as TwinId;
    try {
      const recipe = { codec: 'flac', bitrate: null, sampleRate, channels, mostBits: DISC_BITS } as const;
      const job = {
        library: this.library,
        twin,
        file: wav,
        format: 'wav',
        recipe,
        seconds,
        isWhole: true,
      } as const;
      const result = await this.converting.make(job, () => {});
      const made = result.type === 'made' ? await findTwinFile(this.library, twin) : null;
      return made && (await this.isSame(wav, made)) ? await detached(made, path) : null;
    } catch {
      // What cannot be encoded, or is not wanted any more, stays as it came from the disc.
      return null;
    } finally {
      await dropTwinFile(this.library, twin);
    }
  }

  private async isSame(wav: Blob, flac: Blob): Promise<boolean> {
    const [before, after] = [await this.sound.plain(wav, 'wav'), await this.sound.plain(flac, 'flac')];
    return sameBytes(before, after);
  }
}
