<script lang="ts">
  import { untrack } from 'svelte';
  import { allTracksOf, codecName, titleOf, type Cue, type Item } from '$lib/core/items';
  import { getSession } from '$lib/state/session.svelte';
  import { begunAt } from '$lib/state/playback.svelte';
  import { clock } from '$lib/ui/words/amounts';
  import { flagsWords } from '$lib/ui/words/track-words';

  /** A video with its picture: which episode, which version, which track. */
  let {
    item,
    place = $bindable(0),
    isLarge = false,
  }: {
    item: Item;
    /** Seconds, kept when the view grows or shrinks. */
    place?: number;
    /** In a dialog of its own. */
    isLarge?: boolean;
  } = $props();
  const session = getSession();
  const { listening, playback } = session;

  /** Seconds of a step where the distance of frames is not known yet. */
  const USUAL_FRAME = 0.04;
  const MOST_TEXTS = 20_000;
  const STEPS = [-60, -10, -1, 1, 10, 60];

  let video = $state<HTMLVideoElement>();
  let url = $state<string | null>(null);
  let paused = $state(true);
  let length = $state(0);
  let sound = $state<number | null>(null);
  let texts = $state<number | null>(null);
  let cues = $state.raw<readonly Cue[]>([]);
  let trouble = $state<string | null>(null);
  let busy = $state<string | null>(null);
  let readsTexts = $state(false);
  /** Seconds from one frame to the next, as seen while playing. */
  let frameSeconds = $state(USUAL_FRAME);

  const tracks = $derived(allTracksOf(item));
  const sounds = $derived(tracks.filter(({ type, added }) => type === 'sound' && !added));
  const subtitles = $derived(tracks.filter(({ type }) => type === 'subtitle'));
  const codec = $derived(item.facts.streams.find(({ type }) => type === 'picture')?.codec ?? '');
  const shown = $derived.by(() => {
    const cue = begunAt(cues, place);
    return cue && place < cue.endSeconds ? cue.text : '';
  });

  // Another sound track is another file. What is said of the item meanwhile changes nothing in it.
  $effect(() => {
    const [own, track] = [untrack(() => item), sound];
    let isStale = false;
    trouble = null;
    busy = track === null ? 'opening the file' : 'preparing the sound track';
    const opened = track === null ? session.openFile(own) : listening.withSound(own, track);
    opened
      .then(
        (blob) => {
          if (!isStale) url = URL.createObjectURL(blob);
        },
        (error: unknown) => {
          if (!isStale) trouble = error instanceof Error ? error.message : String(error);
        },
      )
      .finally(() => {
        if (!isStale) busy = null;
      });
    return () => {
      isStale = true;
      if (url) URL.revokeObjectURL(url);
      url = null;
    };
  });

  $effect(() => {
    const own = untrack(() => item);
    const track = untrack(() => subtitles).find(({ id }) => id === texts);
    let isStale = false;
    cues = track?.added ?? [];
    readsTexts = track !== undefined && !track.added;
    if (track && !track.added)
      listening
        .texts(own, track.id, MOST_TEXTS)
        .then(
          (found) => {
            if (!isStale) cues = found;
          },
          (error: unknown) => {
            if (!isStale) trouble = `subtitles: ${error instanceof Error ? error.message : String(error)}`;
          },
        )
        .finally(() => {
          if (!isStale) readsTexts = false;
        });
    return () => (isStale = true);
  });

  // Only the browser knows how far apart frames are.
  $effect(() => {
    const player = video;
    if (!player || !url) return;
    let before = 0;
    let handle = 0;
    const look = (_: number, { mediaTime }: VideoFrameCallbackMetadata) => {
      const apart = mediaTime - before;
      if (!player.paused && apart > 0.005 && apart < 1.5) frameSeconds = apart;
      before = mediaTime;
      handle = player.requestVideoFrameCallback(look);
    };
    handle = player.requestVideoFrameCallback(look);
    return () => player.cancelVideoFrameCallback(handle);
  });

  function begun() {
    playback.pause();
  }

  function toggle() {
    if (!video) return;
    if (video.paused) void video.play().catch(() => (trouble ??= unplayable()));
    else video.pause();
  }

  const unplayable = () =>
    `This browser cannot play ${codec === '' ? 'it' : codecName(codec)}. A copy for a player, made on Prepare, can be seen.`;

  function step(seconds: number) {
    if (!video) return;
    video.pause();
    video.currentTime = Math.max(0, Math.min(length, video.currentTime + seconds));
  }

  function keys(event: KeyboardEvent) {
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    if (event.key === ' ') toggle();
    else if (event.key === ',') step(-frameSeconds);
    else if (event.key === '.') step(frameSeconds);
    else if (by !== undefined) step(by * (event.shiftKey ? 10 : 1));
    else return;
    event.preventDefault();
    event.stopPropagation();
  }

  const trackWords = ({ id, language, name, ...flags }: (typeof tracks)[number]) =>
    [`${id}`, language, name, flagsWords({ id, language, name, ...flags })].filter(Boolean).join(', ');
</script>

<div class="view" class:large={isLarge} role="group" aria-label="Video of {titleOf(item)}">
  <!-- The picture takes keys itself: space, arrows, comma and full stop. -->
  <!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions -->
  <div class="picture" tabindex="0" role="application" aria-label="Picture" onkeydown={keys}>
    <!-- svelte-ignore a11y_media_has_caption -->
    <video
      bind:this={video}
      src={url}
      bind:paused
      bind:duration={length}
      onloadedmetadata={() => video && (video.currentTime = place)}
      ontimeupdate={() => video && (place = video.currentTime)}
      onseeked={() => video && (place = video.currentTime)}
      onplay={begun}
      onerror={() => url && (trouble = unplayable())}
      onclick={toggle}
    ></video>
    {#if shown !== ''}<p class="texts">{shown}</p>{/if}
  </div>
  {#if trouble}<p class="wrong" role="alert">{trouble}</p>{:else if busy !== null || readsTexts}<p
      class="quiet"
      role="status"
    >
      {busy ?? 'reading the subtitles'}
    </p>{/if}
  <div class="bar">
    <button class="btn" disabled={!url} onclick={toggle}>{paused ? 'Play' : 'Pause'}</button>
    <span class="steps">
      <button class="btn" disabled={!url} onclick={() => step(-frameSeconds)}>Frame back</button>
      <button class="btn" disabled={!url} onclick={() => step(frameSeconds)}>Frame on</button>
    </span>
    <span class="time" role="timer">{clock(place)} / {clock(length || item.facts.durationSeconds)}</span>
  </div>
  <input
    type="range"
    min="0"
    max={length || item.facts.durationSeconds || 1}
    step="0.01"
    value={place}
    disabled={!url}
    aria-label="Place in the video"
    aria-valuetext={clock(place)}
    oninput={(event) => video && (video.currentTime = Number(event.currentTarget.value))}
  />
  <div class="bar">
    {#each STEPS as seconds (seconds)}
      <button class="btn small" disabled={!url} onclick={() => step(seconds)}
        >{seconds > 0 ? '+' : '−'}{Math.abs(seconds)} s</button
      >
    {/each}
  </div>
  {#if sounds.length > 1 || subtitles.length > 0}
    <div class="bar">
      {#if sounds.length > 1}
        <label
          >sound <select
            value={String(sound ?? '')}
            onchange={(event) => (sound = Number(event.currentTarget.value) || null)}
          >
            <option value="">as the file plays</option>
            {#each sounds as track (track.id)}<option value={String(track.id)}>{trackWords(track)}</option
              >{/each}
          </select></label
        >
      {/if}
      {#if subtitles.length > 0}
        <label
          >subtitles <select
            value={String(texts ?? '')}
            onchange={(event) => (texts = Number(event.currentTarget.value) || null)}
          >
            <option value="">none</option>
            {#each subtitles as track (track.id)}<option value={String(track.id)}>{trackWords(track)}</option
              >{/each}
          </select></label
        >
      {/if}
    </div>
  {/if}
</div>

<style>
  .view {
    display: grid;
    gap: 6px;
  }
  .picture {
    position: relative;
    background: #000;
  }
  video {
    display: block;
    width: 100%;
    aspect-ratio: 16 / 9;
    object-fit: contain;
  }
  .large video {
    max-height: 62vh;
  }
  .texts {
    position: absolute;
    inset: auto 8px 8px;
    text-align: center;
    white-space: pre-line;
    color: #fff;
    background: rgb(0 0 0 / 70%);
  }
  .large .texts {
    font-size: var(--t-title);
  }
  .bar {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 6px;
  }
  .steps {
    display: flex;
    gap: 4px;
  }
  input[type='range'] {
    width: 100%;
    accent-color: var(--primary);
  }
  .btn.small {
    padding-inline: 6px;
    font-size: var(--t-small);
  }
  .time {
    margin-left: auto;
    font: var(--t-small) var(--font-mono);
  }
  label {
    display: flex;
    align-items: center;
    gap: 6px;
    min-width: 0;
    color: var(--ink-2);
  }
  select {
    min-width: 0;
    max-width: 230px;
    height: 26px;
    padding: 0 6px;
    border: 1px solid var(--rule-strong);
    background: var(--raised);
    color: var(--ink);
  }
  .wrong {
    color: var(--blocks-ink);
  }
</style>
