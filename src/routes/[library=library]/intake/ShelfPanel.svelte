<script lang="ts">
  import { onMount } from 'svelte';
  import { folderOf, nameOf } from '$lib/core/paths';
  import type { ShelfTrack } from '$lib/io/shelf-client';
  import { ShelfDesk } from '$lib/state/sources/shelf-desk.svelte';
  import { getSession } from '$lib/state/session.svelte';
  import Panel from '$lib/ui/Panel.svelte';
  import { bytes, counted } from '$lib/ui/words/amounts';
  import IntoList from './IntoList.svelte';
  import { problemWords } from '$lib/ui/words/pattern-words';

  /** A remote shelf: what it has, what would come and under which names, and fetching it. */
  const session = getSession();
  const desk = session.part('shelf', () => new ShelfDesk(session));
  const uid = $props.id();

  const busy = $derived(session.intake.busy);
  const folders = $derived.by(() => {
    const byFolder = new Map<string, typeof desk.coming>();
    for (const coming of desk.coming) {
      const folder = folderOf(coming.path);
      byFolder.set(folder, [...(byFolder.get(folder) ?? []), coming]);
    }
    return [...byFolder];
  });
  /** What was chosen and is not here, as a list has it until it is fetched. */
  const opens = $derived(
    desk.missing.map(({ track: { id, title, artist }, path }) => ({
      ...{ path, title, artist, seconds: null },
      from: { type: 'shelf' as const, address: desk.shelfAddress, track: id },
    })),
  );
  const idsOf = (tracks: readonly ShelfTrack[]) =>
    tracks.filter(({ offered }) => offered).map(({ id }) => id);
  const hasAll = (tracks: readonly ShelfTrack[]) => {
    const ids = idsOf(tracks);
    return ids.length > 0 && ids.every((id) => desk.wanted.has(id));
  };

  onMount(() => {
    if (!desk.shelf) void desk.look();
  });
</script>

{#snippet choose(label: string, tracks: readonly ShelfTrack[], note: string)}
  <label class="whole" class:none={idsOf(tracks).length === 0}>
    <input
      type="checkbox"
      disabled={idsOf(tracks).length === 0}
      checked={hasAll(tracks)}
      onchange={(event) => desk.want(idsOf(tracks), event.currentTarget.checked)}
    />
    {label} <span class="quiet">{note}</span>
  </label>
{/snippet}

{#snippet one(track: ShelfTrack)}
  <li>
    <label class:none={!track.offered}>
      <input
        type="checkbox"
        disabled={!track.offered}
        checked={desk.wanted.has(track.id)}
        onchange={(event) => desk.want([track.id], event.currentTarget.checked)}
      />
      {track.number ?? ''}
      {track.title}
      {#if !track.offered}<span class="quiet">not offered by the owner</span>
      {:else}<span class="quiet">{bytes(track.bytes ?? 0)}</span>{/if}
    </label>
  </li>
{/snippet}

<Panel title="Remote shelf">
  {#snippet tools()}
    <form
      onsubmit={(event) => {
        event.preventDefault();
        void desk.look();
      }}
    >
      <label for="{uid}-address">address of a track, an album, an artist or the shelf</label>
      <input id="{uid}-address" bind:value={desk.address} />
      <button class="btn" disabled={desk.asking}>{desk.asking ? 'Looking' : 'Look'}</button>
    </form>
  {/snippet}
  {#if desk.trouble}<p class="trouble" role="alert">{desk.trouble}</p>{/if}
  {#if desk.shelf}
    <div class="two">
      <section aria-label="On the shelf">
        <h2>{desk.shelf.name} has</h2>
        {#each desk.shelf.artists as artist (artist.id)}
          {@const all = [...artist.albums.flatMap(({ tracks }) => tracks), ...artist.singles]}
          {@render choose(artist.name, all, `${counted(all.length, 'track')}`)}
          <ul>
            {#each artist.albums as album (album.id)}
              <li>
                {@render choose(album.title, album.tracks, album.year ? String(album.year) : '')}
                <ul>
                  {#each album.tracks as track (track.id)}{@render one(track)}{/each}
                </ul>
              </li>
            {/each}
            {#each artist.singles as track (track.id)}{@render one(track)}{/each}
          </ul>
        {/each}
      </section>
      <section aria-label="What will be fetched">
        <h2>What will be fetched</h2>
        <label class="pattern" for="{uid}-pattern">names by the pattern</label>
        <input
          id="{uid}-pattern"
          class="path wide"
          bind:value={desk.pattern}
          aria-invalid={desk.problem !== null}
          aria-describedby="{uid}-problem"
        />
        <p id="{uid}-problem" class="wrong">{desk.problem ? problemWords(desk.problem) : ''}</p>
        {#each folders as [folder, list] (folder)}
          <p class="path quiet">{folder}/</p>
          <ul>
            {#each list as { track, path, have, here } (track.id)}
              <li class="path">
                {nameOf(path)}
                {#if here}<span class="quiet">here already</span>{:else if have > 0}<span class="quiet"
                    >{bytes(have)} of {bytes(track.bytes ?? 0)} here already</span
                  >{/if}
              </li>
            {/each}
          </ul>
        {:else}
          {#if !desk.problem}<p class="quiet">
              Choose tracks, albums or an artist, and see here what they file name.
            </p>{/if}
        {/each}
        <button
          class="btn btn-primary"
          disabled={busy || desk.missing.length === 0}
          onclick={() => void desk.fetch()}
        >
          Fetch {counted(desk.missing.length, 'track')}, {bytes(desk.bytes)}
        </button>
        <IntoList {opens} label={counted(opens.length, 'track')} />
      </section>
    </div>
  {/if}
</Panel>

<style>
  .two {
    display: grid;
    grid-template-columns: minmax(0, 1fr) minmax(0, 1.1fr);
    gap: 24px;
    padding: 0 16px 16px;
  }
  h2 {
    font-size: var(--t-sub);
    margin-bottom: 6px;
  }
  section > ul,
  section > ul ul {
    padding-left: 20px;
  }
  label.whole,
  li label {
    display: flex;
    align-items: baseline;
    gap: 7px;
    padding: 2px 0;
  }
  .whole {
    font-weight: 600;
  }
  .none {
    color: var(--ink-3);
  }
  .pattern {
    color: var(--ink-2);
  }
  .wide {
    width: 100%;
    margin-top: 3px;
  }
  .wrong {
    min-height: 18px;
    color: var(--blocks-ink);
    font-size: var(--t-small);
  }
  section .btn {
    margin-top: 10px;
  }
</style>
