<script lang="ts">
  import Ban from '@lucide/svelte/icons/ban';
  import Check from '@lucide/svelte/icons/check';
  import Clock from '@lucide/svelte/icons/clock';
  import Diamond from '@lucide/svelte/icons/diamond';
  import Ellipsis from '@lucide/svelte/icons/ellipsis';
  import Play from '@lucide/svelte/icons/play';
  import Square from '@lucide/svelte/icons/square';
  import type { PlayerDesk } from '$lib/state/player/desk.svelte';
  import { bytes } from '$lib/ui/words/amounts';
  import CapacityGauge from './CapacityGauge.svelte';
  import { standingOf, type Standing } from './standing';

  /** Every player of the house: its room, what a run would do, and how it stands. One of them is chosen. */
  let {
    players,
    chosen,
    onchoose,
  }: {
    players: readonly PlayerDesk[];
    chosen: PlayerDesk;
    onchoose: (desk: PlayerDesk) => void;
  } = $props();

  const MARKS: Readonly<Record<Standing['word'], typeof Ban>> = {
    away: Ban,
    running: Play,
    rehearsing: Ellipsis,
    full: Square,
    ready: Diamond,
    behind: Clock,
    current: Check,
  };
</script>

<fieldset>
  <legend class="sr-only">Players</legend>
  <div class="head" aria-hidden="true">
    <span>Player</span><span>Space by kind, up to its limit</span><span class="end">After the run</span><span
      >State</span
    >
  </div>
  {#each players as desk (desk.id)}
    {@const { word, detail } = standingOf(desk)}
    {@const Mark = MARKS[word]}
    {@const { plan } = desk.rehearsal}
    {@const { limit } = desk.place}
    <label class:chosen={desk === chosen}>
      <input
        type="radio"
        name="player"
        checked={desk === chosen}
        onchange={() => onchoose(desk)}
        aria-label="{desk.name}, {word} {detail}"
      />
      <span class="name"><b>{desk.name}</b> <span class="quiet">{desk.rulebook.about}</span></span>
      {#if plan}
        <CapacityGauge kinds={plan.room.kinds} {limit} name={desk.name} />
        <span class="end"
          ><b
            >{bytes(
              plan.room.kinds.reduce((sum, { now, adds, removes }) => sum + now + adds - removes, 0),
            )}</b
          >
          {#if limit !== null}<span class="quiet">of {bytes(limit)}</span>{/if}</span
        >
      {:else}<span></span><span></span>{/if}
      <span class="state {word}" role={word === 'away' ? 'status' : undefined}
        ><Mark size={14} aria-hidden="true" /> {word} <small>{detail}</small></span
      >
    </label>
  {/each}
</fieldset>

<style>
  .head,
  label {
    display: grid;
    grid-template-columns: 190px minmax(160px, 1fr) 150px minmax(180px, 230px);
    align-items: center;
    gap: 12px;
    padding: 0 16px;
  }
  .head {
    height: var(--row-head);
    font-size: var(--t-small);
    color: var(--ink-2);
    border-bottom: 1px solid var(--rule-strong);
  }
  label {
    position: relative;
    height: var(--row-player);
    border-bottom: 1px solid var(--rule);
    cursor: pointer;
  }
  /* The whole row is the button. */
  input {
    position: absolute;
    inset: 0;
    width: 100%;
    opacity: 0;
    cursor: pointer;
  }
  label.chosen {
    background: var(--select);
    outline: 2px solid var(--primary);
    outline-offset: -2px;
  }
  label:has(:focus-visible) {
    outline: 3px solid var(--primary);
    outline-offset: -3px;
  }
  .name {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
    font-size: var(--t-small);
  }
  .name b {
    font: 600 var(--t-sub) var(--font-head);
    margin-right: 4px;
  }
  .end {
    text-align: right;
    white-space: nowrap;
  }
  .state {
    display: flex;
    align-items: center;
    gap: 6px;
    min-width: 0;
    font-weight: 600;
    white-space: nowrap;
  }
  .state small {
    min-width: 0;
    overflow: hidden;
    text-overflow: ellipsis;
    font-weight: 400;
    font-size: var(--t-body);
    color: var(--ink-2);
  }
  .current,
  .ready,
  .running {
    color: var(--settled-ink);
  }
  .ready,
  .running {
    color: var(--primary-ink);
  }
  .behind {
    color: var(--attention-ink);
  }
  .away,
  .full,
  .rehearsing {
    color: var(--ink-2);
  }
  @media (max-width: 760px) {
    .head,
    label {
      min-width: 720px;
    }
    fieldset {
      overflow-x: auto;
    }
  }
</style>
