<script lang="ts">
  import { inScope } from '$lib/core/browse';
  import { fieldText, fieldsOf, kindOf, titleOf, type Item } from '$lib/core/items';
  import type { OpenSaid } from '$lib/core/lists';
  import { getSession } from '$lib/state/session.svelte';
  import Sheet from '$lib/ui/Sheet.svelte';
  import SpineLabel from '$lib/ui/SpineLabel.svelte';
  import { clock } from '$lib/ui/words/amounts';

  /** Chooses the item that an open entry of a list stands for. */
  let { open, onchoose, onclose }: { open: OpenSaid; onchoose: (item: Item) => void; onclose: () => void } =
    $props();
  const { library, lists } = getSession();

  const MOST = 12;
  // svelte-ignore state_referenced_locally
  let typed = $state(open.title ?? '');
  const found = $derived(
    typed.trim() === ''
      ? []
      : inScope(library.items, { kind: null, text: typed }, lists.world).slice(0, MOST),
  );
</script>

<Sheet title="Match an open entry" {onclose}>
  <p class="path">{open.path}</p>
  <p class="quiet">
    {[open.artist, open.title, open.seconds === null ? null : clock(open.seconds)]
      .filter((one) => one !== null)
      .join(' · ')}
  </p>
  <input
    class="input"
    type="search"
    aria-label="Find the item"
    placeholder="Title, artist or any query"
    autocomplete="off"
    bind:value={typed}
  />
  <ul aria-label="Items found">
    {#each found as item (item.id)}
      <li>
        <button onclick={() => onchoose(item)}>
          <SpineLabel kind={kindOf(item)} height={22} />
          <b>{titleOf(item)}</b>
          <span class="quiet">{fieldText(fieldsOf(item).artist)}</span>
          <span class="end quiet">{clock(item.facts.durationSeconds)}</span>
        </button>
      </li>
    {:else}<li class="quiet">{typed.trim() === '' ? 'Type to find the item.' : 'No item found.'}</li>{/each}
  </ul>
</Sheet>

<style>
  .path {
    margin-top: 8px;
    overflow-wrap: anywhere;
  }
  .input {
    width: 100%;
    margin: 10px 0 6px;
    font-size: var(--t-read);
  }
  li button {
    display: flex;
    align-items: center;
    gap: 8px;
    width: 100%;
    min-height: 30px;
    text-align: left;
  }
  li button:hover {
    background: var(--select);
  }
  .end {
    margin-left: auto;
  }
</style>
