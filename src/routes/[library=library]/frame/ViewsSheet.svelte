<script lang="ts">
  import Trash from '@lucide/svelte/icons/trash-2';
  import type { Level, SavedView, ViewId } from '$lib/core/browse';
  import { newId } from '$lib/io/new-id';
  import { getSession } from '$lib/state/session.svelte';

  /** The kept views, and a name for the one that is looked at. */
  let { levels, current, onend }: { levels: readonly Level[]; current: SavedView | null; onend: () => void } =
    $props();
  const session = getSession();
  const { library, scope } = session;

  let name = $state('');
  const sorted = $derived([...library.views].sort((a, b) => a.name.localeCompare(b.name, 'en')));

  function show({ scope: own, levels: grouped }: SavedView) {
    session.narrow(own);
    if (grouped.length > 0) scope.group(grouped);
    onend();
  }

  /** One of the same name gives way. */
  function keep() {
    const own = name.trim();
    const before = library.views.find((view) => view.name === own);
    library.keepView({ id: before?.id ?? (newId() as ViewId), name: own, scope: scope.scope, levels });
    onend();
  }
</script>

<div class="sheet-below">
  {#if sorted.length === 0}
    <p class="quiet">Save the current query and grouping under a name.</p>
  {:else}
    <ul aria-label="Saved views">
      {#each sorted as view (view.id)}
        <li>
          <button class="show" aria-current={view === current} onclick={() => show(view)}
            ><b>{view.name}</b><span class="quiet">{view.scope.text || view.scope.kind || 'all items'}</span
            ></button
          >
          <button
            class="forget"
            aria-label="Delete the view {view.name}"
            disabled={!library.mayWrite}
            onclick={() => library.forgetView(view)}><Trash size={14} /></button
          >
        </li>
      {/each}
    </ul>
  {/if}
  <form
    onsubmit={(event) => {
      event.preventDefault();
      keep();
    }}
  >
    <input
      class="input"
      type="text"
      aria-label="Name of this view"
      maxlength="200"
      placeholder="a name"
      bind:value={name}
    />
    <button class="btn" disabled={name.trim() === '' || !library.mayWrite || scope.problem !== null}
      >Save this view</button
    >
  </form>
</div>

<style>
  .sheet-below {
    position: absolute;
    top: calc(100% + 6px);
    right: 0;
    z-index: 30;
    width: 320px;
    padding: 10px 12px;
    border: 1px solid var(--rule-strong);
    background: var(--raised);
    font-size: var(--t-read);
  }
  li {
    display: flex;
    align-items: center;
    gap: 8px;
    border-bottom: 1px solid var(--rule);
  }
  .show {
    display: grid;
    flex: 1;
    min-width: 0;
    padding: 4px 0;
    text-align: left;
  }
  .show[aria-current='true'] b {
    color: var(--primary-ink);
  }
  .show > * {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .show .quiet {
    font-size: var(--t-small);
  }
  .forget {
    padding: 4px;
  }
  form {
    display: flex;
    gap: 8px;
    margin-top: 10px;
  }
  form :is(input, button) {
    height: 30px;
  }
  form input {
    flex: 1;
    min-width: 0;
  }
</style>
