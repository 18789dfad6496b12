import type { Cue, Item } from '$lib/core/items';
import type { LoudnessBlocks } from '$lib/core/sound';
import { SoundClient } from '$lib/workers/sound-client';
import type { Listened } from '$lib/workers/sound-protocol';
import type { Work } from './work.svelte';

/** The result of analysing one item's audio, or why it could not be. */
export type Heard =
  | { readonly type: 'heard'; readonly listened: Listened }
  | { readonly type: 'deaf'; readonly reason: string };

/** Analyses items' audio in the background and caches the results while the page is open. */
export class Listening {
  private readonly client = new SoundClient();
  private readonly known = new Map<string, Heard>();

  constructor(
    private readonly openFile: (item: Item) => Promise<Blob>,
    private readonly work: Work,
  ) {}

  end(): void {
    this.client.end();
  }

  /** The result for one item, analysing it if needed. Never rejects. */
  async hear(item: Item, whole = false): Promise<Heard> {
    const key = `${item.id}\n${item.size}\n${item.modified}`;
    const known = this.known.get(key);
    if (known && (!whole || known.type === 'deaf' || known.listened.whole)) return known;
    let heard: Heard;
    try {
      heard = {
        type: 'heard',
        listened: await this.client.listen(await this.openFile(item), item.format, whole),
      };
    } catch (error) {
      heard = { type: 'deaf', reason: error instanceof Error ? error.message : String(error) };
    }
    this.known.set(key, heard);
    return heard;
  }

  /** A file of an item that the browser plays: its own, or its audio as WAV. */
  async playable(item: Item): Promise<Blob> {
    const file = await this.openFile(item);
    const isAlac = item.format === 'mp4' && item.facts.streams.some(({ codec }) => codec === 'alac');
    const isOurs = isAlac || item.format === 'aiff' || item.format === 'dsf' || item.format === 'dff';
    return isOurs ? this.client.plain(file, item.format) : file;
  }

  /** A video of which only one sound track is heard. @throws {Error} if its tracks cannot be separated */
  async withSound(item: Item, track: number): Promise<Blob> {
    const sounds = (item.file.tracks ?? []).filter(({ type }) => type === 'sound');
    const leaveOut = sounds.flatMap(({ id }) => (id === track ? [] : id));
    return this.client.withSound(await this.openFile(item), item.format, track, leaveOut);
  }

  /** Some seconds of one track, as a file that plays. @throws {Error} saying why it cannot be heard */
  async excerpt(item: Item, track: number, fromSeconds: number, seconds: number): Promise<Blob> {
    return this.client.excerpt(await this.openFile(item), item.format, track, fromSeconds, seconds);
  }

  /** The first texts of a track of subtitles. @throws {Error} saying why there are none */
  async texts(item: Item, track: number, most: number): Promise<readonly Cue[]> {
    return this.client.texts(await this.openFile(item), item.format, track, most);
  }

  /**
   * The loudness of an item over time.
   * @param onHeard called with the seconds that are done
   * @throws {Error} that says why it could not be decoded completely
   */
  async loudness(item: Item, onHeard: (seconds: number) => void): Promise<LoudnessBlocks> {
    return this.client.loudness(await this.openFile(item), item.format, onHeard);
  }

  /** Digest of an item's audio and video data; null if its structure cannot be read. */
  async digest(item: Item): Promise<string | null> {
    try {
      return await this.client.digest(await this.openFile(item), item.format);
    } catch {
      return null;
    }
  }

  /**
   * Fingerprints of these items, in order; an empty text if there is none. After cancelling, results are kept.
   * @param isQuiet it is part of a job that the dock shows already
   */
  async fingerprints(items: readonly Item[], signal: AbortSignal, isQuiet = false): Promise<string[]> {
    let cancelled = false;
    const job = isQuiet ? null : this.work.start('Listen', items.length, () => (cancelled = true));
    const prints: string[] = [];
    for (const [index, item] of items.entries()) {
      const heard = cancelled || signal.aborted ? null : await this.hear(item);
      prints.push((heard?.type === 'heard' && heard.listened.fingerprint) || '');
      job?.progress(index + 1);
    }
    const count = prints.filter(Boolean).length;
    job?.finish(`Listened to ${count} of ${items.length}`, count < items.length && !cancelled);
    return prints;
  }
}
