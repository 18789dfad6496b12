import { nameOf } from '$lib/core/paths';
import {
  FeedError,
  newEpisodes,
  renewFeed,
  type Episode,
  type Feed,
  type FeedFacts,
  type FeedId,
} from '$lib/core/feeds';
import { readJsonChapters } from '$lib/core/timing';
import {
  toTexts,
  type Chapter,
  type ChosenPicture,
  type Edits,
  type Overlay,
  type PictureId,
} from '$lib/core/items';
import { safeName, safeValue } from '$lib/core/naming';
import { ServiceError, fetchBounded, fetchJson, fetchUpTo } from '$lib/io/bounded-fetch';
import { newId } from '$lib/io/new-id';
import { toJpeg } from '$lib/io/pictures';
import type { LostFile, WalkedFile } from '$lib/io/take-in/walk';
import { FeedClient } from '$lib/workers/feed-client';
import type { Session } from '../session.svelte';
import { SOURCE_NAMES } from './source-names';

/** Bytes of a feed that are read at the most; more is cut, and what came before is used. */
const MOST_FEED_BYTES = 8_000_000;
/** Bytes of an episode that are fetched at the most. */
const MOST_EPISODE_BYTES = 2_000_000_000;
const EPISODE_PATIENCE = 3_600_000;
/** Pictures of chapters that are fetched of one episode at the most. */
const MOST_PICTURES = 200;

/** Podcast feeds: subscriptions, what is new, and fetching it. */
export class FeedDesk {
  asking = $state(false);
  trouble = $state<string | null>(null);
  /** The feed whose episodes are on show. */
  openId = $state<FeedId | null>(null);

  readonly feeds: readonly Feed[] = $derived.by(() => this.session.library.feeds);
  readonly open: Feed | null = $derived(
    this.feeds.find(({ id }) => id === this.openId) ?? this.feeds[0] ?? null,
  );

  private pictures = new Map<string, Promise<ChosenPicture | null>>();

  constructor(
    private readonly session: Pick<Session, 'intake' | 'library' | 'work'>,
    private readonly reader = new FeedClient(),
  ) {}

  /** Ends its worker, with the library. */
  end(): void {
    this.reader.end();
  }

  private async fetchFeed(address: string): Promise<FeedFacts> {
    const { bytes, cutOff } = await fetchUpTo(address, MOST_FEED_BYTES);
    return this.reader.feed(bytes, cutOff);
  }

  /** Follows the feed at an address. */
  async subscribe(address: string): Promise<void> {
    const wanted = address.trim();
    if (wanted === '') return;
    const known = this.feeds.find((feed) => feed.address === wanted);
    if (known) return this.renew([known]);
    await this.guarded(wanted, async () => this.add(await this.fetchFeed(wanted), wanted));
  }

  /** Reads a feed, or a list of subscriptions, from a file. */
  async readFile(file: File): Promise<void> {
    await this.guarded(file.name, async () => {
      const text = await file.text();
      if (!/<opml[\s>]/i.test(text)) return this.add(await this.reader.feed(text), null);
      const found = (await this.reader.subscriptions(text)).filter(
        ({ address }) => !this.feeds.some((feed) => feed.address === address),
      );
      const failed: string[] = [];
      for (const { title, address } of found) {
        try {
          this.add(await this.fetchFeed(address), address);
        } catch (error) {
          failed.push(`${title} (${why(error)})`);
        }
      }
      if (failed.length > 0) this.trouble = `Not all could be followed: ${failed.join('; ')}.`;
    });
  }

  /** Reads feeds again; one that fails does not stop the others. */
  async renew(feeds: readonly Feed[] = this.feeds): Promise<void> {
    for (const feed of feeds) {
      const { address } = feed;
      if (address === null) continue;
      await this.guarded(feed.title, async () => {
        const facts = await this.fetchFeed(address);
        this.change(feed.id, (now) => renewFeed(now, facts, Date.now()));
      });
      if (this.trouble) break;
    }
  }

  unsubscribe(feed: Feed): void {
    this.session.library.setFeeds(this.feeds.filter(({ id }) => id !== feed.id));
    this.session.work.say(`${feed.title} is no longer followed; its episodes stay`);
  }

  /** Skips these: they are no longer new. */
  passOver(feed: Feed, episodes: readonly Episode[]): void {
    this.change(feed.id, (now) => ({ ...now, passed: [...now.passed, ...episodes.map(({ guid }) => guid)] }));
  }

  /** Fetches episodes with their descriptions in the feed. */
  async fetch(feed: Feed, episodes: readonly Episode[] = newEpisodes(feed)): Promise<void> {
    if (episodes.length === 0) return;
    const stop = new AbortController();
    const come: string[] = [];
    const guids = new Map(episodes.map((episode) => [pathOfEpisode(feed, episode), episode.guid]));
    await this.session.intake.takeIn([
      {
        label: feed.title,
        handle: null,
        origin: 'feed',
        total: episodes.length,
        onCancel: () => stop.abort(),
        // With each that comes, so that whatever ends the page leaves none that is here and called new.
        onTaken: (paths) =>
          this.noteFetched(
            feed,
            paths.flatMap((path) => guids.get(path) ?? []),
          ),
        files: this.fetchAll(feed, episodes, stop.signal, come),
      },
    ]);
    this.noteFetched(feed, come);
    await this.session.library.flush();
  }

  private noteFetched({ id }: Feed, guids: readonly string[]): void {
    this.change(id, (now) => ({ ...now, fetched: [...new Set([...now.fetched, ...guids])] }));
  }

  private async *fetchAll(
    feed: Feed,
    episodes: readonly Episode[],
    signal: AbortSignal,
    come: string[],
  ): AsyncGenerator<WalkedFile | LostFile> {
    for (const episode of episodes) {
      const path = pathOfEpisode(feed, episode);
      try {
        const bytes = await fetchBounded(
          episode.url,
          {},
          { signal, mostBytes: MOST_EPISODE_BYTES, patience: EPISODE_PATIENCE },
        );
        const modified = episode.date ? Date.parse(episode.date) : 0;
        const file = new File([bytes as Uint8Array<ArrayBuffer>], nameOf(path), {
          lastModified: modified,
        });
        const front = await this.pictureOf(episode.pictureUrl ?? feed.pictureUrl);
        const chapters = await this.chaptersOf(episode, signal);
        const edits: Overlay = {
          fields: editsOf(feed, episode),
          ...(front && { pictures: { front } }),
          ...(chapters && { chapters }),
        };
        yield { path, size: file.size, modified, file, says: { edits } };
        come.push(episode.guid);
      } catch (error) {
        if (error instanceof ServiceError && error.code === 'cancelled') return;
        yield { path, lost: { code: 'brokenOff', detail: why(error) } };
      }
    }
  }

  private async chaptersOf(
    { chaptersUrl }: Episode,
    signal: AbortSignal,
  ): Promise<readonly Chapter[] | null> {
    if (chaptersUrl === null) return null;
    try {
      const told = readJsonChapters(await fetchJson(chaptersUrl, {}, { signal }));
      const chapters: Chapter[] = [];
      for (const [index, { chapter, pictureUrl }] of told.entries()) {
        const isWanted = index < MOST_PICTURES && !signal.aborted;
        const picture = isWanted ? await this.pictureOf(pictureUrl) : null;
        chapters.push({ ...chapter, ...(picture && { picture }) });
      }
      return chapters;
    } catch {
      // An episode without its chapters is better than none.
      return null;
    }
  }

  /**
   * A picture of the show or of a chapter, fetched once and kept; null if it cannot be fetched. Episodes do not wait
   * for it.
   */
  private pictureOf(url: string | null): Promise<ChosenPicture | null> {
    if (url === null) return Promise.resolve(null);
    let picture = this.pictures.get(url);
    if (!picture) this.pictures.set(url, (picture = this.keepPicture(url)));
    return picture;
  }

  private async keepPicture(url: string): Promise<ChosenPicture | null> {
    try {
      const bytes = await fetchBounded(url);
      const { blob, mime, width, height } = await toJpeg(new Blob([bytes as Uint8Array<ArrayBuffer>]));
      const id = newId() as PictureId;
      await this.session.library.storage.pictures.keep(id, blob);
      return { id, mime, bytes: blob.size, width, height };
    } catch {
      return null;
    }
  }

  private add(facts: FeedFacts, address: string | null): void {
    const id = newId() as FeedId;
    this.session.library.setFeeds([
      ...this.feeds,
      { ...facts, id, address, checkedAt: Date.now(), fetched: [], passed: [] },
    ]);
    this.openId = id;
  }

  private change(id: FeedId, change: (feed: Feed) => Feed): void {
    this.session.library.setFeeds(this.feeds.map((feed) => (feed.id === id ? change(feed) : feed)));
  }

  private async guarded(what: string, act: () => Promise<void> | void): Promise<void> {
    this.asking = true;
    this.trouble = null;
    try {
      await act();
    } catch (error) {
      this.trouble = `${what}: ${why(error)}.`;
    }
    this.asking = false;
  }
}

const FEED_WORDS: Readonly<Record<FeedError['code'], string>> = {
  notXml: 'this is not a feed: it has no markup',
  noFeed: 'this is a page, not a feed: look for the address of the feed itself',
  noEpisodes: 'the feed has neither a title nor episodes',
};

function why(error: unknown): string {
  if (error instanceof FeedError) return FEED_WORDS[error.code];
  return error instanceof Error ? error.message : String(error);
}

/** The path that an episode gets below its show's source. */
export function pathOfEpisode({ title }: Feed, episode: Episode): string {
  const number = episode.number === null ? (episode.date ?? '') : String(episode.number).padStart(3, '0');
  const part = (text: string) => safeName(safeValue(text, SOURCE_NAMES), SOURCE_NAMES);
  return `${part(title)}/${part(`${number} ${episode.title}`)}.${episode.extension}`;
}

function editsOf(feed: Feed, episode: Episode): Edits {
  const { season, number, date, description } = episode;
  return {
    title: episode.title,
    artist: toTexts(episode.people) ?? toTexts([feed.maker ?? '']),
    album: feed.title,
    show: feed.title,
    genre: ['Podcast'],
    ...(season === null ? {} : { season }),
    ...(number === null ? {} : { episode: number, track: number }),
    ...(date === null ? {} : { date }),
    ...(description === null ? {} : { description: description.slice(0, 20_000) }),
  };
}
