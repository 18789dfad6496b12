<script lang="ts">
  import { scaleLinear } from 'd3-scale';
  import { area } from 'd3-shape';
  import type { Chapter } from '$lib/core/items';
  import { peaksFor, startBehind, type Levels, type Silence } from '$lib/core/sound';
  import { timeText } from '$lib/core/timing';
  import Choice from '$lib/ui/Choice.svelte';

  /** A recording from left to right: how loud it is, where its chapters begin, and where they may. Marks are dragged, or moved by arrows. */
  let {
    chapters,
    durationSeconds,
    levels,
    proposed,
    place,
    chosen,
    onseek,
    onmove,
    onchoose,
    onpropose,
  }: {
    chapters: readonly Chapter[];
    durationSeconds: number;
    /** Null while it is not known. */
    levels: Levels | null;
    proposed: readonly Silence[];
    /** Seconds; null while it is not heard. */
    place: number | null;
    /** The chapter that is worked on. */
    chosen: number | null;
    onseek: (seconds: number) => void;
    onmove: (index: number, seconds: number) => void;
    onchoose: (index: number) => void;
    onpropose: (silence: Silence) => void;
  } = $props();

  const HEIGHT = 96;
  const ZOOMS = [1, 4, 16, 64];
  /** Pixels between two times that are told. */
  const TICK_EVERY = 110;

  let width = $state(800);
  let zoom = $state(1);
  /** Seconds at the left edge. */
  let left = $state(0);
  /** A mark on its way, before it is let go. */
  let dragged = $state.raw<{ readonly index: number; readonly seconds: number } | null>(null);
  let strip = $state<HTMLElement>();

  const span = $derived(durationSeconds / zoom);
  const from = $derived(Math.max(0, Math.min(left, durationSeconds - span)));
  const x = $derived(scaleLinear([from, from + span], [0, width]));
  const wave = $derived.by(() => {
    if (!levels) return '';
    const count = Math.max(1, Math.floor(width / 2));
    const peaks = peaksFor(levels, from * levels.perSecond, (from + span) * levels.perSecond, count);
    const y = scaleLinear([0, Math.max(0.05, ...peaks)], [0, HEIGHT / 2 - 8]);
    return (
      area<number>()
        .x((_, index) => index * 2)
        .y0((peak) => HEIGHT / 2 - y(peak))
        .y1((peak) => HEIGHT / 2 + y(peak) + 0.5)(peaks) ?? ''
    );
  });
  const ticks = $derived(x.ticks(Math.max(2, Math.floor(width / TICK_EVERY))));
  const inSight = (seconds: number) => seconds >= from && seconds <= from + span;
  const startOf = (index: number, chapter: Chapter) =>
    dragged?.index === index ? dragged.seconds : chapter.startSeconds;

  function zoomTo(next: number) {
    const middle = place ?? (chosen === null ? from + span / 2 : (chapters[chosen]?.startSeconds ?? 0));
    zoom = next;
    left = middle - durationSeconds / next / 2;
  }

  /** What is heard stays in sight. */
  $effect(() => {
    if (place !== null && zoom > 1 && !inSight(place)) left = place - span * 0.1;
  });

  function secondsAt(event: PointerEvent | MouseEvent): number {
    const box = strip?.getBoundingClientRect();
    return Math.max(0, Math.min(durationSeconds, x.invert(event.clientX - (box?.left ?? 0))));
  }

  function grab(event: PointerEvent, index: number) {
    event.preventDefault();
    const mark = event.currentTarget as HTMLElement;
    mark.focus();
    mark.setPointerCapture(event.pointerId);
    onchoose(index);
    dragged = { index, seconds: (chapters[index] as Chapter).startSeconds };
  }

  function drag(event: PointerEvent) {
    if (dragged) dragged = { ...dragged, seconds: secondsAt(event) };
  }

  function drop() {
    const moved = dragged;
    dragged = null;
    if (moved && moved.seconds !== chapters[moved.index]?.startSeconds) onmove(moved.index, moved.seconds);
  }

  const STEPS: Readonly<Record<string, number>> = {
    ArrowLeft: -0.1,
    ArrowRight: 0.1,
    ArrowDown: -0.1,
    ArrowUp: 0.1,
    PageDown: -10,
    PageUp: 10,
  };
  function nudge(event: KeyboardEvent, index: number) {
    const by = STEPS[event.key];
    if (by === undefined || event.ctrlKey || event.metaKey) return;
    event.preventDefault();
    const start = (chapters[index] as Chapter).startSeconds;
    onmove(index, Math.max(0, Math.min(durationSeconds, start + by * (event.shiftKey ? 10 : 1))));
  }
</script>

<div class="ruler">
  <div class="tools">
    <span class="quiet">click to go there; drag a mark, or move it with ← → by 0.1 s, with Shift by 1 s</span>
    <span class="zooms">
      <Choice
        label="Zoom"
        options={ZOOMS.map((factor) => ({
          value: factor,
          name: factor === 1 ? 'all' : `${factor}×`,
        }))}
        value={zoom}
        onchoose={zoomTo}
      />
      <button aria-label="Scroll left" disabled={from <= 0} onclick={() => (left = from - span / 2)}>‹</button
      >
      <button
        aria-label="Scroll right"
        disabled={from + span >= durationSeconds}
        onclick={() => (left = from + span / 2)}>›</button
      >
    </span>
  </div>
  <!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_static_element_interactions (the place is moved by the buttons above, too) -->
  <div
    class="strip"
    bind:this={strip}
    bind:clientWidth={width}
    style:height="{HEIGHT}px"
    onclick={(event) => event.target === event.currentTarget && onseek(secondsAt(event))}
  >
    <svg {width} height={HEIGHT} aria-hidden="true"><path d={wave} /></svg>
    {#each proposed as silence (silence.startSeconds)}
      {#if inSight(startBehind(silence))}
        <button
          class="proposal"
          style:left="{x(startBehind(silence))}px"
          title="silence of {(silence.endSeconds - silence.startSeconds).toFixed(1)} s"
          aria-label="Start a chapter at {timeText(startBehind(silence), 1)}"
          onclick={() => onpropose(silence)}
        ></button>
      {/if}
    {/each}
    {#each chapters as chapter, index (index)}
      {@const seconds = startOf(index, chapter)}
      {#if inSight(seconds)}
        <div
          class="mark"
          class:chosen={chosen === index}
          role="slider"
          tabindex="0"
          style:left="{x(seconds)}px"
          aria-label="Start of {chapter.title || `chapter ${index + 1}`}"
          aria-valuemin={0}
          aria-valuemax={durationSeconds}
          aria-valuenow={seconds}
          aria-valuetext={timeText(seconds, 1)}
          onpointerdown={(event) => grab(event, index)}
          onpointermove={drag}
          onpointerup={drop}
          onpointercancel={() => (dragged = null)}
          onfocus={() => onchoose(index)}
          onkeydown={(event) => nudge(event, index)}
        >
          <span>{index + 1}</span>
        </div>
      {/if}
    {/each}
    {#if place !== null && inSight(place)}<i class="place" style:left="{x(place)}px"></i>{/if}
  </div>
  <div class="times" aria-hidden="true">
    {#each ticks as tick (tick)}<span style:left="{x(tick)}px">{timeText(tick, span < 20 ? 1 : 0)}</span
      >{/each}
  </div>
</div>

<style>
  .tools {
    display: flex;
    align-items: center;
    gap: 12px;
    margin-bottom: 6px;
    font-size: var(--t-small);
  }
  .zooms {
    display: flex;
    margin-left: auto;
  }
  .zooms > button {
    height: 26px;
    padding: 0 8px;
    border: 1px solid var(--rule-strong);
    border-left: 0;
    color: var(--ink-2);
  }
  .zooms > button:disabled {
    color: var(--ink-3);
  }
  .strip {
    position: relative;
    overflow: hidden;
    border: 1px solid var(--rule-strong);
    background: var(--raised);
    cursor: pointer;
  }
  svg {
    position: absolute;
    inset: 0;
    pointer-events: none;
    fill: var(--strip);
  }
  .mark {
    position: absolute;
    top: 0;
    bottom: 0;
    width: 13px;
    margin-left: -6px;
    cursor: ew-resize;
    touch-action: none;
    outline: none;
  }
  .mark::before {
    content: '';
    position: absolute;
    top: 0;
    bottom: 0;
    left: 5px;
    width: 2px;
    background: var(--ink);
  }
  .mark span {
    position: absolute;
    top: 0;
    left: 7px;
    padding: 0 4px;
    font-size: var(--t-small);
    line-height: 16px;
    background: var(--ink);
    color: var(--raised);
  }
  .mark.chosen::before,
  .mark.chosen span {
    background: var(--primary);
    color: var(--on-primary, var(--raised));
  }
  .mark:focus-visible span {
    box-shadow:
      0 0 0 2px var(--raised),
      0 0 0 4px var(--primary);
  }
  .proposal {
    position: absolute;
    bottom: 0;
    height: 40%;
    width: 11px;
    margin-left: -5px;
    background: linear-gradient(
      90deg,
      transparent 5px,
      var(--attention-ink) 5px,
      var(--attention-ink) 6px,
      transparent 6px
    );
  }
  .proposal::after {
    content: '';
    position: absolute;
    bottom: 0;
    left: 2px;
    width: 7px;
    height: 7px;
    border: 1px solid var(--attention-ink);
    background: var(--attention-tint);
  }
  .place {
    position: absolute;
    top: 0;
    bottom: 0;
    width: 1px;
    background: var(--primary);
    box-shadow: 0 0 0 1px var(--select);
    pointer-events: none;
  }
  .times {
    position: relative;
    height: 18px;
    overflow: hidden;
    font-family: var(--font-mono);
    font-size: var(--t-small);
    color: var(--ink-2);
  }
  .times span {
    position: absolute;
    transform: translateX(-50%);
  }
  .times span:first-child {
    transform: none;
  }
</style>
