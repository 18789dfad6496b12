<script lang="ts">
  import Pause from '@lucide/svelte/icons/pause';
  import Play from '@lucide/svelte/icons/play';
  import type { Item } from '$lib/core/items';
  import { timeText } from '$lib/core/timing';
  import { getSession } from '$lib/state/session.svelte';
  import { hearingAct } from '$lib/ui/hearing-keys';

  /** Hears the item that is worked on, with steps of a second and of ten, as slow or as fast as is wanted. */
  let { item }: { item: Item } = $props();
  const { playback } = getSession();

  const SPEEDS = [0.5, 0.8, 1, 1.25, 1.5, 2, 3];
  const isOwn = $derived(playback.loaded?.id === item.id);
  const isHeard = $derived(isOwn && !playback.paused);

  async function toggle() {
    if (isHeard) return playback.pause();
    await (isOwn ? playback.start(item) : playback.playAlone(item));
  }

  function keydown(event: KeyboardEvent) {
    const act = hearingAct(event);
    if (!act || act.type === 'mark') return;
    event.preventDefault();
    if (act.type === 'toggle') void toggle();
    else if (!isOwn) return;
    else if (act.type === 'seek') playback.seek(playback.place + act.seconds);
    else if (act.type === 'speed') {
      const at = SPEEDS.indexOf(playback.speed) + act.by;
      playback.setSpeed(SPEEDS[Math.max(0, Math.min(SPEEDS.length - 1, at))] ?? 1);
    }
  }
</script>

<svelte:window onkeydown={keydown} />
<div class="hear" role="group" aria-label="Play">
  <button class="btn" onclick={toggle}>
    {#if isHeard}<Pause size={14} /> Pause{:else}<Play size={14} /> Play{/if}
  </button>
  {#each [-10, -1, 1, 10] as by (by)}
    <button
      class="step"
      disabled={!isOwn}
      onclick={() => playback.seek(playback.place + by)}
      aria-label="{Math.abs(by)} {Math.abs(by) === 1 ? 'second' : 'seconds'} {by < 0 ? 'back' : 'on'}"
      >{by < 0 ? '−' : '+'}{Math.abs(by)} s</button
    >
  {/each}
  <span class="place">{timeText(isOwn ? playback.place : 0, 1)}</span>
  <label
    >speed
    <select
      aria-label="Playback speed"
      value={playback.speed}
      onchange={(event) => playback.setSpeed(Number(event.currentTarget.value))}
    >
      {#each SPEEDS as factor (factor)}<option value={factor}>{factor}×</option>{/each}
    </select></label
  >
  {#if isOwn && playback.trouble}<span class="trouble" role="alert">{playback.trouble}</span>{/if}
</div>

<style>
  .hear {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 4px 8px;
  }
  .btn {
    width: 92px;
    height: 28px;
  }
  .step {
    height: 26px;
    padding: 0 7px;
    border: 1px solid var(--rule-strong);
    background: var(--raised);
    font-family: var(--font-mono);
    font-size: var(--t-small);
  }
  .step:disabled {
    color: var(--ink-3);
  }
  .place {
    min-width: 82px;
    text-align: right;
    font-family: var(--font-mono);
  }
  label {
    display: flex;
    align-items: center;
    gap: 6px;
    color: var(--ink-2);
  }
  .trouble {
    color: var(--blocks-ink);
  }
</style>
