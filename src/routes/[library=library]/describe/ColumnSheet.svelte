<script lang="ts">
  import ChevronDown from '@lucide/svelte/icons/chevron-down';
  import ChevronUp from '@lucide/svelte/icons/chevron-up';
  import Columns from '@lucide/svelte/icons/columns-3';
  import { tick } from 'svelte';
  import type { ColumnKey } from '$lib/core/browse';
  import { ALL_COLUMNS, columns } from '$lib/state/columns.svelte';
  import Flyout from '$lib/ui/Flyout.svelte';
  import { columnName } from '$lib/ui/words/column-words';

  /** Which columns the ledger has, and in what order. */
  let sheet = $state<HTMLElement>();

  const others = $derived(ALL_COLUMNS.filter((key) => !columns.has(key)));

  /** Its box moves to the other list, and the focus with it. */
  async function toggle(key: ColumnKey) {
    columns.toggle(key);
    await tick();
    sheet?.querySelector<HTMLElement>(`[data-column="${key}"]`)?.focus();
  }
</script>

<Flyout label="Columns" look="btn">
  {#snippet button()}<Columns size={14} aria-hidden="true" /> Columns{/snippet}
  <div class="below" bind:this={sheet}>
    <ul aria-label="Columns on show">
      {#each columns.list as { key }, index (key)}
        <li>
          <label
            ><input
              type="checkbox"
              checked
              data-column={key}
              disabled={columns.list.length === 1}
              onchange={() => toggle(key)}
            />
            {columnName(key)}</label
          >
          <button
            aria-label="Move {columnName(key)} to the left"
            disabled={index === 0}
            onclick={() => columns.move(key, -1)}><ChevronUp size={15} /></button
          >
          <button
            aria-label="Move {columnName(key)} to the right"
            disabled={index === columns.list.length - 1}
            onclick={() => columns.move(key, 1)}><ChevronDown size={15} /></button
          >
        </li>
      {/each}
    </ul>
    <ul aria-label="Other columns" class="others">
      {#each others as key (key)}
        <li>
          <label
            ><input type="checkbox" data-column={key} onchange={() => toggle(key)} />
            {columnName(key)}</label
          >
        </li>
      {/each}
    </ul>
    <button class="act" onclick={() => columns.reset()}>Reset columns</button>
  </div>
</Flyout>

<style>
  .below {
    position: absolute;
    top: calc(100% + 6px);
    right: 0;
    z-index: 30;
    width: 250px;
    max-height: 460px;
    overflow-y: auto;
    padding: 10px 12px;
    border: 1px solid var(--rule-strong);
    background: var(--raised);
    font-size: var(--t-read);
  }
  .others {
    margin: 6px 0;
    padding-top: 6px;
    border-top: 1px solid var(--rule);
  }
  li {
    display: flex;
    align-items: center;
    gap: 4px;
    height: 26px;
  }
  label {
    display: flex;
    flex: 1;
    align-items: center;
    gap: 8px;
  }
  li button:disabled {
    color: var(--ink-3);
  }
</style>
