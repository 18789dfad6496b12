<script lang="ts">
  import { goto } from '$app/navigation';
  import { page } from '$app/state';
  import {
    fieldText,
    fieldsOf,
    kindOf,
    requireField,
    titleOf,
    type Edits,
    type FieldName,
    type Item,
    type ItemId,
  } from '$lib/core/items';
  import type { FindingLine } from '$lib/core/plan';
  import type { PlayerDesk } from '$lib/state/player/desk.svelte';
  import { getSession } from '$lib/state/session.svelte';
  import SpineLabel from '$lib/ui/SpineLabel.svelte';
  import { counted } from '$lib/ui/words/amounts';

  /** The items that a finding is about, or the files where it is about none. */
  let { finding, desk }: { finding: FindingLine; desk: PlayerDesk } = $props();
  const session = getSession();

  const FIRST = 100;
  let most = $state(FIRST);
  const about = $derived(desk.rehearsal.itemsOf(finding.id, most));

  /** What its button would write over what the item says now. */
  function wouldSay(item: Item, edits: Edits): string {
    const now = fieldsOf(item);
    return (Object.keys(edits) as FieldName[])
      .map((name) => {
        const before = fieldText(now[name]);
        const after = fieldText(edits[name] ?? null) || 'empty';
        return `${requireField(name).label}: ${before ? `${before} → ` : ''}${after}`;
      })
      .join('; ');
  }

  async function show(id: ItemId) {
    session.narrow({ kind: null, text: '' });
    session.selection.set([id], id);
    await goto(`/${page.params.library}/describe`);
  }
</script>

{#await about then found}
  {#if found && found.count > 0}
    <ul aria-label="Items of this finding">
      {#each found.first as { item: id, edits } (id)}
        {#each session.library.findAll([id]) as item (item.id)}
          <li>
            <SpineLabel kind={kindOf(item)} />
            <button class="act" onclick={() => show(item.id)}>{titleOf(item)}</button>
            {#if edits}<span class="edits">{wouldSay(item, edits)}</span>{/if}
            <span class="path quiet">{item.path}</span>
          </li>
        {/each}
      {/each}
      {#if found.count > most}<li>
          <button class="act" onclick={() => (most += 1000)}
            >Show more ({counted(found.count - most, 'item')} left)</button
          >
        </li>{/if}
    </ul>
  {:else}
    <ul aria-label="Files of this finding">
      {#each finding.places as place (place)}<li class="path">{place}</li>{/each}
    </ul>
  {/if}
{/await}

<style>
  ul {
    display: grid;
    gap: 2px;
    padding: 0 0 8px 100px;
  }
  li {
    display: flex;
    align-items: center;
    gap: 6px;
    min-width: 0;
  }
  .edits {
    flex: none;
    max-width: 70%;
    overflow-wrap: anywhere;
  }
  .act {
    max-width: 60%;
    flex: none;
    text-align: left;
  }
  .act,
  .path {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
</style>
