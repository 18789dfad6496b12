<script lang="ts">
  import { ignoringFound, inForce, usingFound, type FoundBeside, type Item } from '$lib/core/items';
  import { nameOf } from '$lib/core/paths';
  import { getSession } from '$lib/state/session.svelte';
  import { counted } from '$lib/ui/words/amounts';
  import { besideParts, besideWords } from '$lib/ui/words/beside-words';

  /** Files beside the selected items' own, with what each says of them. Each can be ignored, or used in full. */
  let { items }: { items: readonly Item[] } = $props();
  const { library } = getSession();

  /** Files that the card lists; of a large selection more are only counted. */
  const MOST = 12;

  /** Of a larger selection, looking through all items would hold the page up. */
  const MOST_ITEMS = 2000;

  interface Row {
    readonly found: FoundBeside;
    readonly items: Item[];
    /** As for the first item that has it. */
    readonly words: string;
    /** Everything that it says is in use for all of them. */
    isWhole: boolean;
  }

  const rows = $derived.by(() => {
    const byPath = new Map<string, Row>();
    for (const item of items.length > MOST_ITEMS ? [] : items)
      for (const found of item.foundBeside ?? []) {
        const used = inForce(item, found.says);
        const words = () => besideWords(found.says, used, found.isIgnored ?? false);
        const row = byPath.get(found.path) ?? { found, items: [], words: words(), isWhole: true };
        byPath.set(found.path, row);
        row.items.push(item);
        row.isWhole &&= besideParts(found.says, used).length === besideParts(found.says).length;
      }
    return [...byPath.values()];
  });
</script>

{#if rows.length > 0}
  <section>
    <h3>
      What is beside the {items.length === 1 ? 'file' : 'files'}?<small>{counted(rows.length, 'file')}</small>
    </h3>
    <ul aria-label="Files beside">
      {#each rows.slice(0, MOST) as row (row.found.path)}
        {@const name = nameOf(row.found.path)}
        <li>
          <span class="path" title={row.found.path}>{name}</span>
          <span class="quiet">{row.words}</span>
          <span class="acts">
            {#if row.found.isIgnored || !row.isWhole}
              <button
                class="act"
                onclick={() =>
                  library.act(`Use ${name}`, row.items, (item) => usingFound(item, row.found.path))}
                >{row.found.isIgnored ? `Use ${name}` : `Use all of ${name}`}</button
              >
            {/if}
            {#if !row.found.isIgnored}
              <button
                class="act"
                onclick={() =>
                  library.act(`Ignore ${name}`, row.items, (item) => ignoringFound(item, row.found.path))}
                >Ignore {name}</button
              >
            {/if}
          </span>
        </li>
      {/each}
    </ul>
    {#if rows.length > MOST}<p class="quiet">
        and {counted(rows.length - MOST, 'more file', 'more files')}
      </p>{/if}
  </section>
{/if}

<style>
  li {
    display: grid;
    gap: 2px;
    padding: 4px 0;
    border-bottom: 1px solid var(--rule);
    font-size: var(--t-body);
  }
  .path,
  .quiet {
    overflow-wrap: anywhere;
  }
  .acts {
    display: flex;
    flex-wrap: wrap;
    gap: 10px;
  }
</style>
