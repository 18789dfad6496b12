<script lang="ts">
  import Equal from '@lucide/svelte/icons/equal';
  import Next from '@lucide/svelte/icons/skip-forward';
  import Pause from '@lucide/svelte/icons/pause';
  import Play from '@lucide/svelte/icons/play';
  import Previous from '@lucide/svelte/icons/skip-back';
  import { onMount, untrack } from 'svelte';
  import { chaptersOf, fieldText, fieldsOf, timedOf, titleOf, type Item } from '$lib/core/items';
  import { getSession } from '$lib/state/session.svelte';
  import { clock } from '$lib/ui/words/amounts';
  import { SteadySound } from './steady-sound';

  /** Plays items one after the other, with their chapters and timed words, whatever board is looked at. */
  const session = getSession();
  const { scope, selection } = session;

  /** Seconds into an item up to which going back means the one before. */
  const AT_BEGINNING = 4;
  const SPEEDS = [0.5, 0.8, 1, 1.25, 1.5, 2, 3];

  let player = $state<HTMLAudioElement>();
  let loaded = $state.raw<Item | null>(null);
  let url = $state<string | null>(null);
  let paused = $state(true);
  let place = $state(0);
  let length = $state(0);
  let speed = $state(1);
  let steady = $state(false);
  let trouble = $state<string | null>(null);
  /** What is played one after the other: the selection where it is more than one, else all in scope. */
  let queue = $state.raw<readonly Item[]>([]);
  let sound: SteadySound | null = null;
  /** Which load is the last one asked for. */
  let turn = 0;

  const chosen = $derived(selection.items[0] ?? null);
  const shown = $derived(loaded && (!paused || !chosen || selection.ids.has(loaded.id)) ? loaded : chosen);
  const isLoaded = $derived(loaded !== null && shown?.id === loaded.id && !trouble);
  const at = $derived(loaded ? queue.findIndex(({ id }) => id === loaded?.id) : -1);

  /** The last of those that have begun. */
  const begun = <T extends { readonly startSeconds: number }>(all: readonly T[]): T | null =>
    all.findLast(({ startSeconds }) => startSeconds <= place + 0.05) ?? null;
  const chapter = $derived(loaded ? begun(chaptersOf(loaded)) : null);
  const line = $derived(loaded ? begun(timedOf(loaded)) : null);
  const below = $derived.by(() => {
    if (trouble !== null || !shown) return trouble ?? '';
    if (isLoaded && line && line.text !== '') return line.text;
    if (isLoaded && chapter) return chapter.title;
    return fieldText(fieldsOf(shown).artist);
  });

  async function load(item: Item): Promise<boolean> {
    const own = ++turn;
    trouble = null;
    loaded = item;
    player?.pause();
    // What was heard before must not be heard under another title, should this one not open.
    if (url) URL.revokeObjectURL(url);
    url = null;
    try {
      const file = await session.openFile(item);
      // Another one was asked for meanwhile.
      if (own !== turn) return false;
      url = URL.createObjectURL(file);
      if (player) player.src = url;
      return true;
    } catch {
      if (own === turn) trouble = `${titleOf(item)} cannot be opened now`;
      return false;
    }
  }

  async function start(item: Item) {
    if (item.id !== loaded?.id || !url) {
      if (!(await load(item))) return;
    }
    await player?.play().catch(() => (trouble = 'this browser cannot play it'));
    if (player) player.playbackRate = speed;
  }

  async function toggle() {
    if (!paused) return player?.pause();
    if (!shown) return;
    if (shown.id !== loaded?.id || queue.length === 0)
      queue = selection.ids.size > 1 ? scope.items.filter(({ id }) => selection.ids.has(id)) : scope.items;
    await start(shown);
  }

  /** Goes to the next one, or to the one before; further into one, back means its beginning. */
  async function go(by: 1 | -1) {
    if (by < 0 && player && place > AT_BEGINNING) {
      player.currentTime = 0;
      return;
    }
    const item = queue[at + by];
    if (item) await start(item);
  }

  /** To the chapter beside the one that is heard. */
  function goChapter(by: 1 | -1) {
    if (!loaded || !player) return;
    const all = chaptersOf(loaded);
    const index = chapter ? all.indexOf(chapter) : -1;
    const isInto = by < 0 && chapter !== null && place - chapter.startSeconds > AT_BEGINNING;
    const to = all[isInto ? index : index + by];
    if (to) player.currentTime = to.startSeconds;
  }

  function setSteady(on: boolean) {
    steady = on;
    if (!player) return;
    sound ??= new SteadySound(player);
    sound.set(on);
  }

  // Keys of keyboards and headsets, and what the system shows of what is played.
  onMount(() => {
    const { mediaSession } = navigator;
    const handlers: readonly (readonly [MediaSessionAction, () => void])[] = [
      ['play', () => void toggle()],
      ['pause', () => player?.pause()],
      ['nexttrack', () => void go(1)],
      ['previoustrack', () => void go(-1)],
      ['seekbackward', () => player && (player.currentTime -= 10)],
      ['seekforward', () => player && (player.currentTime += 30)],
    ];
    for (const [action, handler] of handlers) mediaSession?.setActionHandler(action, handler);
    return () => {
      for (const [action] of handlers) mediaSession?.setActionHandler(action, null);
      if (url) URL.revokeObjectURL(url);
      sound?.end();
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
      if (loaded) loaded = session.library.find(loaded.id) ?? loaded;
    });
  });
</script>

<div class="strip" role="group" aria-label="Listen">
  <audio
    bind:this={player}
    bind:paused
    bind:currentTime={place}
    bind:duration={length}
    onended={() => void go(1)}
  ></audio>
  <button class="step" disabled={at < 0} onclick={() => go(-1)} aria-label="Back"
    ><Previous size={14} /></button
  >
  <button
    class="play"
    disabled={!shown}
    onclick={toggle}
    aria-label={paused ? 'Play the selected item' : 'Pause'}
  >
    {#if paused}<Play size={15} />{:else}<Pause size={15} />{/if}
  </button>
  <button
    class="step"
    disabled={at < 0 || at >= queue.length - 1}
    onclick={() => go(1)}
    aria-label="Next"
    title={at >= 0 ? `${at + 1} of ${queue.length}` : undefined}><Next size={14} /></button
  >
  {#if shown}
    <div class="what">
      <b>{titleOf(shown)}</b>
      <span class="quiet">{below}</span>
    </div>
    {#if loaded && isLoaded}
      {#if chapter !== null}
        <span class="chapters">
          <button onclick={() => goChapter(-1)} aria-label="Chapter before">‹</button>
          <button onclick={() => goChapter(1)} aria-label="Next chapter">›</button>
        </span>
      {/if}
      <input
        type="range"
        min="0"
        max={length || 1}
        step="0.1"
        bind:value={place}
        aria-label="Place"
        aria-valuetext={clock(place)}
      />
      <span class="times">{clock(place)} / {clock(loaded.facts.durationSeconds)}</span>
      <select
        value={speed}
        aria-label="Speed"
        onchange={(event) => {
          speed = Number(event.currentTarget.value);
          if (player) player.playbackRate = speed;
        }}
      >
        {#each SPEEDS as factor (factor)}<option value={factor}>{factor.toFixed(2).replace(/0$/, '')}×</option
          >{/each}
      </select>
      <button
        class="step"
        aria-pressed={steady}
        onclick={() => setSteady(!steady)}
        aria-label="Steady loudness"
        title="Steady loudness"><Equal size={14} /></button
      >
    {/if}
  {:else}
    <span class="quiet">select something to listen to it</span>
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
</style>
