<script lang="ts">
  import { nameSuite, type HandList } from '$lib/core/lists';
  import type { SuiteRow } from '$lib/state/lists/list-rows';
  import { getSession } from '$lib/state/session.svelte';
  import { clock } from '$lib/ui/words/amounts';

  /** The head of a suite: its name, which can be changed here, and what it comes to. */
  let { list, row, mayWrite }: { list: HandList; row: SuiteRow; mayWrite: boolean } = $props();
  const { lists } = getSession();

  function rename(typed: string) {
    const name = typed.trim() || null;
    if (name !== row.name)
      lists.keep(nameSuite(list, row.suite, name), name ? `Name suite ${name}` : 'Remove a suite’s name');
  }
</script>

<div class="head" role="gridcell">
  <input
    aria-label="Name of the suite"
    placeholder="suite without a name"
    readonly={!mayWrite}
    value={row.name ?? ''}
    onchange={(event) => rename(event.currentTarget.value)}
    onkeydown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
  />
  <span class="quiet">{row.positions.length} · {clock(row.seconds)}</span>
</div>

<style>
  .head {
    display: flex;
    align-items: center;
    gap: 10px;
    height: 100%;
    padding: 0 16px 0 13px;
    border-left: 3px solid var(--strip);
    background: var(--sunk);
  }
  input {
    flex: 0 1 auto;
    field-sizing: content;
    min-width: 60px;
    max-width: 60%;
    font-weight: 600;
    background: none;
  }
  input::placeholder {
    font-weight: 400;
    color: var(--ink-2);
  }
</style>
