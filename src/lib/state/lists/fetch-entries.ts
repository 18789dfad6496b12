import type { Item } from '$lib/core/items';
import { entriesOf, layTo, type FetchFrom, type HandList, type ListId } from '$lib/core/lists';
import type { Session } from '../session.svelte';
import { FeedDesk, pathOfEpisode } from '../sources/feed-desk.svelte';
import { ShelfDesk } from '../sources/shelf-desk.svelte';

/**
 * Fetches entries of a hand list that are elsewhere: each becomes an item in its place, as one act.
 * @returns how many came, and why others did not
 */
export async function fetchEntries(
  session: Session,
  list: ListId,
  wanted: readonly FetchFrom[],
): Promise<{ readonly come: number; readonly trouble: string | null }> {
  let come = 0;
  const troubles: string[] = [];
  const shelves = new Map<string, Extract<FetchFrom, { type: 'shelf' }>[]>();
  for (const from of wanted)
    if (from.type === 'shelf') shelves.set(from.address, [...(shelves.get(from.address) ?? []), from]);
  for (const [address, own] of shelves) {
    // A separate desk, so that the selection on the visible one stays.
    const desk = new ShelfDesk(session);
    await desk.look(address);
    desk.want(
      desk.tracks.map(({ id }) => id),
      false,
    );
    desk.want(
      own.map(({ track }) => track),
      true,
    );
    const paths = new Map(desk.coming.map(({ track, path }) => [track.id, path]));
    await desk.fetch();
    for (const from of own)
      if (lay(session, list, from, itemAt(session, desk.shelf?.name ?? '', paths.get(from.track) ?? '')))
        come++;
    if (desk.trouble) troubles.push(desk.trouble);
  }
  const feeds = session.part('feeds', () => new FeedDesk(session));
  for (const from of wanted) {
    if (from.type !== 'feed') continue;
    const feed = session.library.feeds.find(({ id }) => id === from.feed);
    const episode = feed?.episodes.find(({ guid }) => guid === from.episode);
    if (!feed || !episode) {
      troubles.push(
        `${feed ? `${feed.title} does not have the episode any more` : 'The feed is no longer followed'}.`,
      );
      continue;
    }
    await feeds.fetch(feed, [episode]);
    if (lay(session, list, from, itemAt(session, feed.title, pathOfEpisode(feed, episode)))) come++;
  }
  await session.library.flush();
  return { come, trouble: troubles[0] ?? null };
}

/** The item that came from a source of a name, under a path. */
function itemAt({ library }: Session, source: string, path: string): Item | null {
  const own = new Set(library.sources.flatMap(({ id, label }) => (label === source ? id : [])));
  return library.items.find((item) => item.path === path && own.has(item.source)) ?? null;
}

/** Replaces an entry with an item, wherever the entry is by now. */
function lay({ library, lists }: Session, id: ListId, from: FetchFrom, item: Item | null): boolean {
  const list = library.lists.find((one): one is HandList => one.id === id && one.type === 'hand');
  if (!item || !list) return false;
  const said = JSON.stringify(from);
  const position = entriesOf(list).findIndex(
    (one) => 'open' in one && JSON.stringify(one.open.from) === said,
  );
  if (position < 0) return false;
  lists.keep(layTo(list, position, item.id), `Fetch an entry of ${list.name}`);
  return true;
}
