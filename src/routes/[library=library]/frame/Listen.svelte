<script lang="ts">
  import Equal from '@lucide/svelte/icons/equal';
  import Next from '@lucide/svelte/icons/skip-forward';
  import Pause from '@lucide/svelte/icons/pause';
  import Play from '@lucide/svelte/icons/play';
  import Previous from '@lucide/svelte/icons/skip-back';
  import { onMount, untrack } from 'svelte';
  import Queue from './Queue.svelte';
  import { fieldText, fieldsOf, timedOf, titleOf } from '$lib/core/items';
  import { begunAt } from '$lib/state/playback.svelte';
  import { getSession } from '$lib/state/session.svelte';
  import { clock } from '$lib/ui/words/amounts';

  /** Plays items one after the other, with their chapters and timed words, whatever board is looked at. */
  const session = getSession();
  const { scope, selection, playback } = session;

  const SPEEDS = [0.5, 0.8, 1, 1.25, 1.5, 2, 3];

  let player = $state<HTMLAudioElement>();
  const { loaded, trouble, chapter, at } = $derived(playback);

  const chosen = $derived(selection.items[0] ?? null);
  const shown = $derived(
    loaded && (!playback.paused || !chosen || selection.ids.has(loaded.id)) ? loaded : chosen,
  );
  const isLoaded = $derived(loaded !== null && shown?.id === loaded.id && !trouble);

  const line = $derived(loaded ? begunAt(timedOf(loaded), playback.place) : null);
  const below = $derived.by(() => {
    if (trouble !== null || !shown) return trouble ?? '';
    if (isLoaded && line && line.text !== '') return line.text;
    if (isLoaded && chapter) return chapter.title;
    return fieldText(fieldsOf(shown).artist);
  });

  async function toggle() {
    if (!playback.paused) return playback.pause();
    if (!shown) return;
    // The selection where it is more than one, else all in scope.
    if (shown.id === loaded?.id && playback.entries.length > 0) return playback.start(shown);
    await playback.playAll(selection.ids.size > 1 ? scope.inRowOrder(selection.items) : scope.items, shown);
  }

  // Keys of keyboards and headsets, and what the system shows of what is played.
  onMount(() => {
    const { mediaSession } = navigator;
    const handlers: readonly (readonly [MediaSessionAction, () => void])[] = [
      ['play', () => void toggle()],
      ['pause', () => playback.pause()],
      ['nexttrack', () => void playback.go(1)],
      ['previoustrack', () => void playback.go(-1)],
      ['seekbackward', () => playback.seek(playback.place - 10)],
      ['seekforward', () => playback.seek(playback.place + 30)],
    ];
    for (const [action, handler] of handlers) mediaSession?.setActionHandler(action, handler);
    const detach = player && playback.attach(player);
    return () => {
      for (const [action] of handlers) mediaSession?.setActionHandler(action, null);
      detach?.();
    };
  });
  $effect(() => {
    const item = loaded;
    if (!item || typeof MediaMetadata === 'undefined') return;
    const { artist, album } = fieldsOf(item);
    navigator.mediaSession.metadata = new MediaMetadata({
      title: titleOf(item),
      artist: fieldText(artist),
      album: album ?? '',
    });
  });
  // What was said of it since is said of what is played.
  $effect(() => {
    void session.library.items;
    untrack(() => {
      const now = playback.loaded && session.library.find(playback.loaded.id);
      if (now) playback.loaded = now;
    });
  });
</script>

<div class="strip" role="group" aria-label="Listen">
  <audio
    bind:this={player}
    bind:paused={playback.paused}
    bind:currentTime={playback.place}
    bind:duration={playback.length}
    onended={() => void playback.ended()}
  ></audio>
  <button class="step" disabled={at < 0} onclick={() => playback.go(-1)} aria-label="Back"
    ><Previous size={14} /></button
  >
  <button
    class="play"
    disabled={!shown}
    onclick={toggle}
    aria-label={playback.paused ? 'Play the selected item' : 'Pause'}
  >
    {#if playback.paused}<Play size={15} />{:else}<Pause size={15} />{/if}
  </button>
  <button
    class="step"
    disabled={at < 0 || at >= playback.entries.length - 1}
    onclick={() => playback.go(1)}
    aria-label="Next"
    title={at >= 0 ? `${at + 1} of ${playback.entries.length}` : undefined}><Next size={14} /></button
  >
  <Queue />
  {#if shown}
    <div class="what">
      <b>{titleOf(shown)}</b>
      <span class="quiet">{below}</span>
    </div>
    {#if loaded && isLoaded}
      {#if chapter !== null}
        <span class="chapters">
          <button onclick={() => playback.goChapter(-1)} aria-label="Chapter before">‹</button>
          <button onclick={() => playback.goChapter(1)} aria-label="Next chapter">›</button>
        </span>
      {/if}
      <input
        type="range"
        min="0"
        max={playback.length || 1}
        step="0.1"
        bind:value={playback.place}
        aria-label="Place"
        aria-valuetext={clock(playback.place)}
      />
      <span class="times">{clock(playback.place)} / {clock(loaded.facts.durationSeconds)}</span>
      <select
        value={playback.speed}
        aria-label="Speed"
        onchange={(event) => playback.setSpeed(Number(event.currentTarget.value))}
      >
        {#each SPEEDS as factor (factor)}<option value={factor}>{factor.toFixed(2).replace(/0$/, '')}×</option
          >{/each}
      </select>
      <button
        class="step"
        aria-pressed={playback.steady}
        onclick={() => playback.setSteady(!playback.steady)}
        aria-label="Even loudness"
        title="Even loudness"><Equal size={14} /></button
      >
    {/if}
  {:else}
    <span class="quiet">select something to play it</span>
  {/if}
</div>

<style>
  .strip {
    display: flex;
    align-items: center;
    gap: 8px;
    width: 520px;
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
  .step {
    display: grid;
    place-items: center;
    width: 20px;
    height: 24px;
    flex: none;
    color: var(--ink-2);
  }
  .step:disabled {
    color: var(--ink-3);
  }
  .step[aria-pressed='true'] {
    background: var(--select);
    color: var(--primary-ink);
  }
  .chapters button {
    padding: 0 5px;
  }
  .times {
    font-variant-numeric: tabular-nums;
  }
  .what {
    flex: 1;
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
    width: 84px;
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
  @media (max-width: 760px) {
    .strip {
      width: 100%;
      padding: 2px 12px;
    }
  }
</style>
