<script lang="ts">
  import { newEpisodes, type Episode, type Feed } from '$lib/core/feeds';
  import { FeedDesk } from '$lib/state/sources/feed-desk.svelte';
  import { getSession } from '$lib/state/session.svelte';
  import Panel from '$lib/ui/Panel.svelte';
  import { bytes, counted } from '$lib/ui/words/amounts';
  import IntoList from './IntoList.svelte';
  import { feedWarningWords } from '$lib/ui/words/feed-words';

  /** Podcast feeds: what is followed, what is new, and fetching it. */
  const session = getSession();
  const desk = session.part('feeds', () => new FeedDesk(session));
  const uid = $props.id();
  let address = $state('');
  let picker = $state<HTMLInputElement>();
  let older = $state(100);

  const busy = $derived(session.intake.busy);
  const fresh = $derived(desk.open ? newEpisodes(desk.open) : []);
  const freshIds = $derived(new Set(fresh.map(({ guid }) => guid)));
  const when = new Intl.DateTimeFormat('en-GB', {
    day: 'numeric',
    month: 'short',
    hour: '2-digit',
    minute: '2-digit',
  });

  /** Episodes as a list has them until they are fetched. */
  const opensOf = (feed: Feed, episodes: readonly Episode[]) =>
    episodes.map(({ guid, title, url }) => ({
      ...{ path: url, title, artist: feed.title, seconds: null },
      from: { type: 'feed' as const, feed: feed.id, episode: guid },
    }));

  const stateOf = ({ fetched, passed }: Feed, { guid }: Episode) =>
    fetched.includes(guid) ? 'fetched' : passed.includes(guid) ? 'skipped' : 'new';
  const numbered = ({ season, number }: Episode) =>
    [season === null ? '' : `${season}:`, number ?? ''].join('');
</script>

<input
  bind:this={picker}
  type="file"
  accept=".xml,.rss,.opml,application/rss+xml,text/x-opml"
  hidden
  aria-label="Feed or list of feeds"
  onchange={(event) => {
    const file = event.currentTarget.files?.[0];
    if (file) void desk.readFile(file);
  }}
/>
<Panel title="Feeds">
  {#snippet tools()}
    <form
      onsubmit={(event) => {
        event.preventDefault();
        void desk.subscribe(address).then(() => (address = ''));
      }}
    >
      <label for="{uid}-address">address</label>
      <input id="{uid}-address" bind:value={address} placeholder="/feeds/slack-water" />
      <button class="btn" disabled={desk.asking || address.trim() === ''}
        >{desk.asking ? 'Reading' : 'Follow'}</button
      >
    </form>
    <button class="btn" onclick={() => picker?.click()}>From a file</button>
    <button class="btn" disabled={desk.asking || desk.feeds.length === 0} onclick={() => void desk.renew()}
      >Check for new episodes</button
    >
  {/snippet}
  {#if desk.trouble}<p class="trouble" role="alert">{desk.trouble}</p>{/if}
  {#if desk.feeds.length === 0}
    <p class="about quiet">
      Follow a feed by its address, or read a feed or a list of subscriptions (OPML) from a file. Episodes
      come with their show, number, day, description, picture and chapters.
    </p>
  {:else}
    <div class="two">
      <ul class="feeds" aria-label="Followed feeds">
        {#each desk.feeds as feed (feed.id)}
          <li>
            <button aria-pressed={feed.id === desk.open?.id} onclick={() => (desk.openId = feed.id)}>
              <b>{feed.title}</b>
              <small
                >{newEpisodes(feed).length} new of {feed.episodes.length}, read {when.format(
                  feed.checkedAt,
                )}</small
              >
            </button>
          </li>
        {/each}
      </ul>
      {#if desk.open}
        {@const feed = desk.open}
        <section aria-label={feed.title}>
          <h2>{feed.title}</h2>
          <p class="quiet">{[feed.maker, feed.description].filter(Boolean).join(': ')}</p>
          {#each feed.warnings as warning (warning.code)}
            <p class="warn">{feedWarningWords(warning)}</p>
          {/each}
          <div class="acts">
            <button
              class="btn btn-primary"
              disabled={busy || fresh.length === 0}
              onclick={() => void desk.fetch(feed)}
            >
              {fresh.length === 0
                ? 'Nothing new'
                : `Fetch ${fresh.length === 1 ? 'the new one' : `all ${fresh.length} new`}`}
            </button>
            <button class="btn" disabled={fresh.length === 0} onclick={() => desk.passOver(feed, fresh)}
              >Skip the new ones</button
            >
            <button class="btn" onclick={() => desk.unsubscribe(feed)}>Unfollow</button>
          </div>
          {#if fresh.length > 0}<IntoList
              opens={opensOf(feed, fresh)}
              label={counted(fresh.length, 'new episode')}
            />{/if}
          <table>
            <thead
              ><tr
                ><th scope="col">no.</th><th scope="col">episode</th><th scope="col">day</th><th scope="col"
                  >size</th
                ><th scope="col">state</th></tr
              ></thead
            >
            <tbody>
              {#each feed.episodes.slice(0, older) as episode (episode.guid)}
                <tr class:fresh={freshIds.has(episode.guid)}>
                  <td>{numbered(episode)}</td>
                  <td>
                    <b>{episode.title}</b>
                    {#if episode.chaptersUrl}<small class="quiet">with chapters</small>{/if}
                    {#if episode.description}<small class="said"
                        >{episode.description.split('\n', 1)[0]}</small
                      >{/if}
                  </td>
                  <td>{episode.date ?? ''}</td>
                  <td>{episode.bytes === null ? '' : bytes(episode.bytes)}</td>
                  <td>
                    {#if freshIds.has(episode.guid)}
                      <button
                        class="act"
                        disabled={busy}
                        aria-label="Fetch {episode.title}"
                        onclick={() => void desk.fetch(feed, [episode])}>Fetch</button
                      >
                    {:else}{stateOf(feed, episode)}{/if}
                  </td>
                </tr>
              {/each}
            </tbody>
          </table>
          {#if feed.episodes.length > older}
            <button class="btn" onclick={() => (older += 200)}
              >{counted(feed.episodes.length - older, 'older episode')} more</button
            >
          {/if}
        </section>
      {/if}
    </div>
  {/if}
</Panel>

<style>
  .about {
    padding: 16px;
    max-width: 560px;
  }
  .two {
    display: grid;
    grid-template-columns: 210px minmax(0, 1fr);
    gap: 20px;
    padding: 0 16px 16px;
  }
  .feeds button {
    display: grid;
    width: 100%;
    padding: 8px;
    text-align: left;
    border-bottom: 1px solid var(--rule);
    border-left: 3px solid transparent;
  }
  .feeds button[aria-pressed='true'] {
    background: var(--select);
    border-left-color: var(--primary);
  }
  small {
    font-size: var(--t-small);
    color: var(--ink-2);
  }
  h2 {
    font-size: var(--t-sub);
  }
  .warn {
    color: var(--attention-ink);
  }
  .acts {
    display: flex;
    gap: 8px;
    margin: 8px 0;
  }
  table {
    width: 100%;
    border-collapse: collapse;
  }
  th,
  td {
    padding: 5px 10px 5px 0;
    text-align: left;
    vertical-align: top;
    font-weight: 400;
    border-bottom: 1px solid var(--rule);
  }
  td {
    white-space: nowrap;
  }
  td:nth-child(2) {
    white-space: normal;
    width: 100%;
  }
  thead th {
    font-size: var(--t-small);
    color: var(--ink-2);
  }
  .said {
    display: -webkit-box;
    -webkit-line-clamp: 2;
    line-clamp: 2;
    -webkit-box-orient: vertical;
    overflow: hidden;
    white-space: pre-line;
  }
</style>
