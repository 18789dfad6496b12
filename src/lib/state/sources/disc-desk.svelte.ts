import { folderOf, nameOf } from '$lib/core/paths';
import {
  factsFor,
  matchOf,
  rankCandidates,
  TAKEN_FIELDS,
  type Candidate,
  type LineFile,
  type ReferenceRelease,
} from '$lib/core/identify';
import { EMPTY_FIELDS, toTexts, type Edits } from '$lib/core/items';
import { patternValues } from '$lib/core/naming';
import { ServiceError } from '$lib/io/bounded-fetch';
import { DiscClient, type DiscTrack, type Drive } from '$lib/io/disc-client';
import { ReferenceClient } from '$lib/io/reference-client';
import type { LostFile, WalkedFile } from '$lib/io/take-in/walk';
import type { FlacEncoder } from './flac-encoder';
import { KeptPattern } from '../kept-pattern.svelte';
import type { Session } from '../session.svelte';

/** The names that the curator gives to an unknown disc. */
export interface MixNames {
  readonly album: string;
  readonly artist: string;
  /** A line for each track, `Artist - Title` or a title. */
  readonly lines: string;
}

/** How far reading is. */
export interface DiscProgress {
  readonly track: number;
  readonly bytesDone: number;
  readonly bytesTotal: number;
  /** Times as fast as it plays. */
  readonly speed: number;
  readonly secondsLeft: number | null;
}

const BYTES_A_SECOND = 44_100;

/** The disc in the drive: its tracks, its release, its names, and taking it in. */
export class DiscDesk {
  drive = $state.raw<Drive | null>(null);
  trouble = $state<string | null>(null);
  candidates = $state.raw<readonly Candidate[]>([]);
  /** `asking` while the reference is asked; `nobody` if it does not know the disc. */
  known = $state<'no' | 'asking' | 'found' | 'nobody'>('no');
  chosen = $state<string | null>(null);
  tracks = $state.raw<ReadonlySet<number>>(new Set());
  mix = $state.raw<MixNames>({ album: '', artist: '', lines: '' });
  /** What tracks are stored as. */
  format = $state<'flac' | 'wav'>('flac');
  /** Folders and names of tracks. */
  readonly pattern = new KeptPattern('lectorum-disc-names', ':album|sourceFolder/:track :title|sourceName');
  progress = $state.raw<DiscProgress | null>(null);
  /** The message after a disc was taken in. */
  ended = $state<string | null>(null);

  readonly release: ReferenceRelease | null = $derived(
    this.candidates.find(({ key }) => key === this.chosen)?.release ?? null,
  );

  private keptAsWav = 0;
  private readonly client = new DiscClient();
  private readonly reference = new ReferenceClient();

  constructor(private readonly session: Pick<Session, 'intake' | 'library'>) {}

  async look(): Promise<void> {
    await this.set(() => this.client.state());
  }

  async insert(disc: string): Promise<void> {
    await this.set(() => this.client.insert(disc));
    await this.ask();
  }

  async eject(): Promise<void> {
    await this.set(() => this.client.eject());
  }

  toggle(track: number): void {
    const next = new Set(this.tracks);
    if (!next.delete(track)) next.add(track);
    this.tracks = next;
  }

  /** Looks the disc up by its track lengths. */
  async ask(): Promise<void> {
    const tracks = this.drive?.tracks;
    if (!tracks) return;
    this.known = 'asking';
    try {
      const lengths = tracks.map(({ lengthSeconds }) => lengthSeconds);
      const { releases } = await this.reference.lookUp({ type: 'album', lengths });
      // A disc has its tracks in order and no names: only lengths and count can speak.
      const found = rankCandidates(tracks.map(toLineFile), '', releases);
      this.candidates = found.filter(({ release }) => fitsDisc(release, lengths));
      this.known = this.candidates.length > 0 ? 'found' : 'nobody';
      // The curator decides between two that match equally.
      const [first, second] = this.candidates;
      this.chosen = first && (!second || first.score > second.score + 5) ? first.key : null;
    } catch (error) {
      this.known = 'no';
      this.trouble = `The reference could not be reached: ${said(error)}. You can name the disc by hand.`;
    }
  }

  /** The title of a track by the chosen release or by hand; null if it has none. */
  titleOf(track: number): string | null {
    return this.editsFor(track).title ?? null;
  }

  /** Reads the chosen tracks and takes them in; a damaged one does not stop the others. */
  async takeIn(): Promise<void> {
    const chosen = (this.drive?.tracks ?? []).filter(({ number }) => this.tracks.has(number));
    if (chosen.length === 0) return;
    this.ended = null;
    const stop = new AbortController();
    const { label } = this;
    const result = await this.session.intake.takeIn([
      {
        label,
        handle: null,
        origin: 'disc',
        total: chosen.length,
        onCancel: () => stop.abort(),
        files: this.readAll(chosen, stop.signal),
      },
    ]);
    this.progress = null;
    if (!result) return;
    const lost = result.unread > 0 ? `, ${result.unread} could not be read` : '';
    this.ended = result.cancelled
      ? `Cancelled: ${result.added} of ${chosen.length} tracks taken in`
      : `Finished: ${result.added} of ${chosen.length} tracks taken in${lost}${this.wavWords()}`;
  }

  /** Encodes tracks as they come from the drive; null if they stay WAV. Ends when reading is cancelled. */
  private async encoderFor(signal: AbortSignal): Promise<FlacEncoder | null> {
    if (this.format === 'wav') return null;
    const { FlacEncoder } = await import('./flac-encoder');
    const encoder = new FlacEncoder(this.session.library.name);
    signal.addEventListener('abort', () => encoder.end());
    return encoder;
  }

  private wavWords(): string {
    return this.keptAsWav === 0
      ? ''
      : `; ${this.keptAsWav} stored as WAV, since this browser could not encode FLAC`;
  }

  private async *readAll(
    tracks: readonly DiscTrack[],
    signal: AbortSignal,
  ): AsyncGenerator<WalkedFile | LostFile> {
    const bytesTotal = tracks.reduce((sum, { bytes }) => sum + bytes, 0);
    const startedAt = performance.now();
    let bytesDone = 0;
    this.keptAsWav = 0;
    const taken = new Set<string>();
    const encoder = await this.encoderFor(signal);
    try {
      for (const track of tracks) {
        const stem = freeStem(this.pathOf(track), taken);
        try {
          const blob = await this.client.read(track, signal, (count) => {
            bytesDone += count;
            this.tell(track.number, bytesDone, bytesTotal, startedAt);
          });
          const file = await this.stored(blob, stem, encoder);
          if (signal.aborted) return;
          const path = [folderOf(stem), file.name].filter(Boolean).join('/');
          const edits = this.editsFor(track.number);
          const says = { edits: { fields: edits }, identity: this.identityFor(track.number) };
          yield { path, size: file.size, modified: file.lastModified, file, says };
        } catch (error) {
          if (error instanceof ServiceError && error.code === 'cancelled') return;
          yield { path: `${stem}.${this.format}`, lost: { code: 'brokenOff', detail: said(error) } };
        }
      }
    } finally {
      encoder?.end();
    }
  }

  /** A track as a file of the chosen format. If it cannot be encoded, it stays WAV. */
  private async stored(wav: Blob, stem: string, encoder: FlacEncoder | null): Promise<File> {
    const lastModified = Date.now();
    const flac = encoder && (await encoder.encode(wav, `${stem}.flac`));
    if (encoder && !flac) this.keptAsWav++;
    return new File([flac ?? wav], nameOf(`${stem}.${flac ? 'flac' : 'wav'}`), { lastModified });
  }

  private tell(track: number, bytesDone: number, bytesTotal: number, startedAt: number): void {
    const elapsed = (performance.now() - startedAt) / 1000;
    const rate = elapsed > 0 ? bytesDone / elapsed : 0;
    this.progress = {
      track,
      bytesDone,
      bytesTotal,
      speed: rate / BYTES_A_SECOND,
      secondsLeft: elapsed > 0.5 && rate > 0 ? (bytesTotal - bytesDone) / rate : null,
    };
  }

  /** Where the first of the chosen tracks goes, as an example. */
  get example(): string {
    const first = this.drive?.tracks?.find(({ number }) => this.tracks.has(number));
    return first ? `${this.pathOf(first)}.${this.format}` : '';
  }

  private get label(): string {
    return this.release?.title || this.mix.album.trim() || 'a disc';
  }

  /** Where a track goes, without extension. */
  private pathOf({ number }: DiscTrack): string {
    const fields = { ...EMPTY_FIELDS, ...this.editsFor(number) };
    const values = patternValues(fields, 'song', { name: 'Track', folder: this.label });
    return this.pattern.pathFor(values) ?? `Track ${number}`;
  }

  private entryOf(track: number) {
    return this.release?.entries[track - 1] ?? null;
  }

  private identityFor(track: number) {
    const entry = this.entryOf(track);
    return entry && this.release ? matchOf(this.release, entry, Date.now()) : null;
  }

  private editsFor(track: number): Edits {
    const { release } = this;
    const entry = this.entryOf(track);
    if (release && entry) return factsFor(release, entry, new Set(TAKEN_FIELDS.album));
    const { album, artist, lines } = this.mix;
    const line = lines.split('\n')[track - 1]?.trim() ?? '';
    const [first = '', ...rest] = line.split(' - ');
    const [by, title] = rest.length > 0 ? [first.trim(), rest.join(' - ').trim()] : [artist.trim(), line];
    const total = this.drive?.tracks?.length ?? null;
    const mixed = artist.trim() === '';
    return {
      ...(title ? { title } : {}),
      ...(by ? { artist: toTexts([by]) } : {}),
      ...(album.trim() ? { album: album.trim(), track, tracks: total } : { track }),
      ...(album.trim() && mixed ? { compilation: true } : {}),
      ...(album.trim() && !mixed ? { albumArtist: artist.trim() } : {}),
    };
  }

  private async set(change: () => Promise<Drive>): Promise<void> {
    this.trouble = null;
    try {
      const before = this.drive?.disc;
      this.drive = await change();
      if (this.drive.disc === before) return;
      this.tracks = new Set(this.drive.tracks?.map(({ number }) => number));
      this.candidates = [];
      this.chosen = null;
      this.known = 'no';
      this.ended = null;
      this.mix = { album: '', artist: '', lines: '' };
    } catch (error) {
      this.trouble = `The drive does not answer: ${said(error)}.`;
    }
  }
}

/** Seconds by which a track of the same pressing may differ: drives and references round their lengths. */
const SAME_TRACK = 2;

const fitsDisc = ({ entries }: ReferenceRelease, lengths: readonly number[]): boolean =>
  entries.length === lengths.length &&
  entries.every(
    ({ lengthSeconds }, index) => Math.abs((lengthSeconds ?? 0) - (lengths[index] ?? 0)) <= SAME_TRACK,
  );

/** A path that no other track of the disc has, letter case aside: a pattern may give several the same. */
function freeStem(wanted: string, taken: Set<string>): string {
  let stem = wanted;
  for (let count = 2; taken.has(stem.toLowerCase()); count++) stem = `${wanted} (${count})`;
  taken.add(stem.toLowerCase());
  return stem;
}

const said = (error: unknown) => (error instanceof Error ? error.message : String(error));

const toLineFile = ({ number, lengthSeconds }: DiscTrack): LineFile => ({
  id: String(number),
  stem: `track ${number}`,
  title: null,
  number,
  disc: null,
  lengthSeconds,
  heard: null,
});
