<script lang="ts">
  import Pause from '@lucide/svelte/icons/pause';
  import Play from '@lucide/svelte/icons/play';
  import { fieldsOf, titleOf, type Item } from '$lib/core/items';
  import { getSession } from '$lib/state/session.svelte';
  import { clock } from '$lib/ui/words/amounts';

  const session = getSession();
  let player = $state<HTMLAudioElement>();
  let loaded = $state.raw<Item | null>(null);
  let url = $state<string | null>(null);
  let paused = $state(true);
  let place = $state(0);
  let length = $state(0);
  let speed = $state(1);
  let trouble = $state<string | null>(null);

  const chosen = $derived(session.selection.items.length === 1 ? (session.selection.items[0] as Item) : null);
  const shown = $derived(loaded && (!paused || !chosen || chosen.id === loaded.id) ? loaded : chosen);

  async function load(item: Item) {
    if (url) URL.revokeObjectURL(url);
    url = null;
    trouble = null;
    try {
      url = URL.createObjectURL(await session.openFile(item));
      loaded = item;
    } catch {
      trouble = `${titleOf(item)} cannot be opened now`;
    }
  }

  async function toggle() {
    if (!paused) return player?.pause();
    if (shown && shown.id !== loaded?.id) await load(shown);
    await player?.play().catch(() => (trouble = 'this browser cannot play it'));
  }

  $effect(() => {
    if (player && url) player.src = url;
  });
</script>

<div class="strip" role="group" aria-label="Listen">
  <audio
    bind:this={player}
    bind:paused
    bind:currentTime={place}
    bind:duration={length}
    bind:playbackRate={speed}
  ></audio>
  <button
    class="play"
    disabled={!shown}
    onclick={toggle}
    aria-label={paused ? 'Play the selected item' : 'Pause'}
  >
    {#if paused}<Play size={15} />{:else}<Pause size={15} />{/if}
  </button>
  {#if shown}
    <div class="what">
      <b>{titleOf(shown)}</b>
      <span class="quiet">{trouble ?? fieldsOf(shown).artist ?? ''}</span>
    </div>
    {#if loaded && shown.id === loaded.id && !trouble}
      <input
        type="range"
        min="0"
        max={length || 1}
        step="0.1"
        bind:value={place}
        aria-label="Place"
        aria-valuetext={clock(place)}
      />
      <span>{clock(place)} / {clock(loaded.facts.durationSeconds)}</span>
      <select bind:value={speed} aria-label="Speed">
        {#each [0.8, 1, 1.25, 1.5, 2] as factor (factor)}<option value={factor}
            >{factor.toFixed(2).replace(/0$/, '')}×</option
          >{/each}
      </select>
    {/if}
  {:else}
    <span class="quiet">select one item to listen to it</span>
  {/if}
</div>

<style>
  .strip {
    display: flex;
    align-items: center;
    gap: 12px;
    width: 480px;
    padding: 0 16px;
  }
  .play {
    display: grid;
    place-items: center;
    width: 28px;
    height: 28px;
    border: 1px solid var(--rule-strong);
    background: var(--raised);
    flex: none;
  }
  .play:disabled {
    color: var(--ink-3);
  }
  .what {
    display: grid;
    min-width: 0;
    font-size: var(--t-small);
    line-height: 1.25;
  }
  .what * {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  input {
    width: 110px;
    accent-color: var(--primary);
  }
  span {
    white-space: nowrap;
  }
  @media (max-width: 1200px) {
    .strip {
      width: 340px;
    }
  }
</style>
