import { nameOf } from '$lib/core/paths';
import { EMPTY_FIELDS, toTexts, yearDate, type Edits, type SourceId } from '$lib/core/items';
import { parsePattern, patternValues, type PatternProblem } from '$lib/core/naming';
import { ServiceError } from '$lib/io/bounded-fetch';
import { ShelfClient, sha256, type Shelf, type ShelfTrack } from '$lib/io/shelf-client';
import type { LostFile, WalkedFile } from '$lib/io/take-in/walk';
import type { Session } from '../session.svelte';
import { partsBy } from './source-names';

/** Works without an album too, since a single has none. */
const DEFAULT_PATTERN = ':artist/:album{ (:year)}/{:track }:title';

/** What will be fetched: a track with the path that it gets. */
export interface Fetchable {
  readonly track: ShelfTrack;
  readonly path: string;
  /** Bytes that are here already from an earlier try. */
  readonly have: number;
  /** It is in the library already, and will not come again. */
  readonly here: boolean;
}

/** Where parts of tracks are kept until they are complete. */
const PARTS = 'shelf-parts' as SourceId;

/** A remote shelf: the content of an address, what would be fetched, and fetching it. */
export class ShelfDesk {
  address = $state('/shelf');
  shelf = $state.raw<Shelf | null>(null);
  trouble = $state<string | null>(null);
  asking = $state(false);
  pattern = $state(DEFAULT_PATTERN);
  /** Ids of tracks that are wanted. */
  wanted = $state.raw<ReadonlySet<string>>(new Set());
  private have = $state.raw<ReadonlyMap<string, number>>(new Map());

  readonly tracks: readonly ShelfTrack[] = $derived(
    this.shelf?.artists.flatMap(({ albums, singles }) => [
      ...albums.flatMap((album) => album.tracks),
      ...singles,
    ]) ?? [],
  );
  readonly problem: PatternProblem | null = $derived.by(() => {
    const parsed = parsePattern(this.pattern);
    return parsed.type === 'wrong' ? parsed.problem : null;
  });
  readonly coming: readonly Fetchable[] = $derived.by(() =>
    this.problem
      ? []
      : this.tracks
          .filter(({ id, offered }) => offered && this.wanted.has(id))
          .map((track) => {
            const path = this.pathOf(track);
            return { track, path, have: this.have.get(track.id) ?? 0, here: this.here.has(path) };
          }),
  );
  /** What would really be fetched. */
  readonly missing: readonly Fetchable[] = $derived(this.coming.filter(({ here }) => !here));
  readonly bytes: number = $derived(
    this.missing.reduce((sum, { track, have }) => sum + (track.bytes ?? 0) - have, 0),
  );
  /** Paths that came from this shelf before. */
  private readonly here: ReadonlySet<string> = $derived.by(() => {
    const { sources, items } = this.session.library;
    const own = sources.find(({ type, label }) => type === 'kept' && label === this.shelf?.name)?.id;
    return new Set(own ? items.filter(({ source }) => source === own).map(({ path }) => path) : []);
  });

  /** Of the whole shelf, whatever of it is looked at. */
  get shelfAddress(): string {
    return this.client.base;
  }

  private readonly client = new ShelfClient();

  constructor(private readonly session: Pick<Session, 'intake' | 'library'>) {}

  /** Looks at an address. */
  async look(address = this.address): Promise<void> {
    this.address = address;
    this.asking = true;
    this.trouble = null;
    try {
      this.shelf = await this.client.describe(address);
      this.wanted = new Set(
        address.replace(/\/$/, '') === this.client.base
          ? []
          : this.tracks.filter(({ offered }) => offered).map(({ id }) => id),
      );
      await this.countParts();
    } catch (error) {
      this.shelf = null;
      this.trouble = `${address} could not be read: ${error instanceof Error ? error.message : String(error)}. Check the address.`;
    }
    this.asking = false;
  }

  want(ids: readonly string[], yes: boolean): void {
    const next = new Set(this.wanted);
    for (const id of ids) {
      if (yes) next.add(id);
      else next.delete(id);
    }
    this.wanted = next;
  }

  /** Fetches the selected tracks, continuing those that were begun before. */
  async fetch(): Promise<void> {
    const coming = this.missing;
    if (coming.length === 0) return;
    const stop = new AbortController();
    await this.session.intake.takeIn([
      {
        label: this.shelf?.name ?? 'shelf',
        handle: null,
        origin: 'shelf',
        total: coming.length,
        onCancel: () => stop.abort(),
        files: this.fetchAll(coming, stop.signal),
      },
    ]);
    await this.countParts();
  }

  private async *fetchAll(
    coming: readonly Fetchable[],
    signal: AbortSignal,
  ): AsyncGenerator<WalkedFile | LostFile> {
    for (const { track, path } of coming) {
      try {
        const blob = await this.fetchOne(track, signal);
        const file = new File([blob], nameOf(path), { lastModified: 0 });
        // The same track again is the same file: a shelf reports no dates, so it has a fixed one.
        yield { path, size: file.size, modified: 0, file, says: { edits: { fields: editsOf(track) } } };
      } catch (error) {
        if (error instanceof ServiceError && error.code === 'cancelled') return;
        if (error instanceof DigestError)
          yield { path, lost: { code: 'digestDiffers', detail: track.title } };
        else
          yield {
            path,
            lost: { code: 'brokenOff', detail: error instanceof Error ? error.message : String(error) },
          };
      }
    }
  }

  /** A whole track, proved by size and digest. What came is kept, piece by piece, until it is whole. */
  private async fetchOne(track: ShelfTrack, signal: AbortSignal): Promise<Blob> {
    const { storage } = this.session.library;
    let have = (await storage.files.find(PARTS, track.id)) ?? new Blob([]);
    for await (const piece of this.client.fetchFrom(track, have.size, signal)) {
      have = new Blob([have, piece as Uint8Array<ArrayBuffer>], { type: 'audio/mpeg' });
      await storage.files.keep(PARTS, track.id, have);
    }
    await storage.files.drop(PARTS, track.id);
    if (track.sha256 && (await sha256(have)) !== track.sha256) throw new DigestError();
    return have;
  }

  private async countParts(): Promise<void> {
    const { storage } = this.session.library;
    const have = new Map<string, number>();
    for (const { id, offered } of this.tracks) {
      const part = offered ? await storage.files.find(PARTS, id) : null;
      if (part) have.set(id, part.size);
    }
    this.have = have;
  }

  private pathOf(track: ShelfTrack): string {
    const parsed = parsePattern(this.pattern);
    if (parsed.type === 'wrong') return '';
    const fields = { ...EMPTY_FIELDS, ...editsOf(track) };
    // A single has no album: the level that would name it falls away.
    const named = partsBy(parsed.pattern, patternValues(fields, 'song', { name: track.title, folder: null }));
    return `${named.join('/')}.${track.extension}`;
  }
}

class DigestError extends Error {}

function editsOf({ title, artist, album, year, number, tracks }: ShelfTrack): Edits {
  return {
    title,
    artist: toTexts([artist]),
    ...(album === null ? {} : { album, albumArtist: artist }),
    ...(year === null ? {} : { date: yearDate(year) }),
    ...(number === null ? {} : { track: number }),
    ...(tracks === null ? {} : { tracks }),
  };
}
