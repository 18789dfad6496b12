<script lang="ts">
  import Down from '@lucide/svelte/icons/chevron-down';
  import Up from '@lucide/svelte/icons/chevron-up';
  import X from '@lucide/svelte/icons/x';
  import { fieldText, fieldsOf, titleOf } from '$lib/core/items';
  import { getSession } from '$lib/state/session.svelte';
  import Ledger from '$lib/ui/Ledger.svelte';
  import { clock, counted } from '$lib/ui/words/amounts';

  /** What is played one after the other: put in order, taken out, gone to. */
  const { playback, selection } = getSession();

  let cursor = $state<string | null>(null);
  const rows = $derived(playback.queue.map((item, index) => ({ key: item.id, item, index })));

  function keydown(event: KeyboardEvent, row: (typeof rows)[number] | null) {
    if (!row) return;
    const by = event.altKey ? { ArrowUp: -1, ArrowDown: 1 }[event.key] : undefined;
    if (by !== undefined) playback.moveInQueue(row.index, row.index + by);
    else if (event.key === 'Delete') playback.takeOut(row.index);
    else if (event.key === 'Enter') void playback.start(row.item);
    else return;
    event.preventDefault();
    event.stopPropagation();
  }
</script>

<div class="sheet-above" role="group" aria-label="What is played">
  <header>
    <b>What is played</b>
    <span class="quiet">{counted(rows.length, 'item')}</span>
    <button
      class="btn"
      disabled={selection.items.length === 0}
      onclick={() => playback.playNext(selection.items)}>Play what is selected next</button
    >
  </header>
  {#if rows.length === 0}
    <p class="quiet">Nothing yet: play something, or put what is selected here.</p>
  {:else}
    <div class="list">
      <Ledger
        label="What is played, in order"
        {rows}
        {cursor}
        rowHeight={32}
        columns="minmax(0, 1fr) 56px 84px"
        isSelected={({ key }) => key === playback.loaded?.id}
        onpick={({ key }) => (cursor = key)}
        onkey={keydown}
      >
        {#snippet row({ item, index })}
          <div class="cols">
            <span role="gridcell"
              ><button class="go" onclick={() => playback.start(item)}>{titleOf(item)}</button>
              <span class="quiet">{fieldText(fieldsOf(item).artist)}</span></span
            >
            <span role="gridcell" class="quiet">{clock(item.facts.durationSeconds)}</span>
            <span role="gridcell" class="acts">
              <button
                disabled={index === 0}
                aria-label="{titleOf(item)} sooner"
                onclick={() => playback.moveInQueue(index, index - 1)}><Up size={14} /></button
              >
              <button
                disabled={index === rows.length - 1}
                aria-label="{titleOf(item)} later"
                onclick={() => playback.moveInQueue(index, index + 1)}><Down size={14} /></button
              >
              <button aria-label="Take {titleOf(item)} out" onclick={() => playback.takeOut(index)}
                ><X size={14} /></button
              >
            </span>
          </div>
        {/snippet}
      </Ledger>
    </div>
    <p class="quiet">Enter plays it, Alt with ↑ ↓ moves it, Delete takes it out.</p>
  {/if}
</div>

<style>
  .sheet-above {
    position: absolute;
    bottom: calc(100% + 14px);
    left: 0;
    z-index: 6;
    display: grid;
    gap: 8px;
    width: 480px;
    padding: 12px;
    background: var(--raised);
    border: 1px solid var(--rule-strong);
  }
  header {
    display: flex;
    align-items: center;
    gap: 10px;
  }
  header .btn {
    margin-left: auto;
  }
  .list {
    display: flex;
    height: min(322px, 45vh);
    border: 1px solid var(--rule);
  }
  .go {
    font-weight: 600;
    text-align: left;
  }
  .acts {
    display: flex;
    gap: 4px;
    color: var(--ink-2);
  }
  .acts button {
    display: grid;
    place-items: center;
    width: 24px;
    height: 24px;
  }
  .acts button:disabled {
    color: var(--ink-3);
  }
</style>
