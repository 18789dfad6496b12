<script lang="ts">
  import { goto } from '$app/navigation';
  import { page } from '$app/state';
  import { kindOf, titleOf, type ItemId } from '$lib/core/items';
  import type { FindingLine } from '$lib/core/plan';
  import type { PlayerDesk } from '$lib/state/player-desk.svelte';
  import { getSession } from '$lib/state/session.svelte';
  import SpineLabel from '$lib/ui/SpineLabel.svelte';
  import { counted } from '$lib/ui/words/amounts';

  /** The items that a finding is about, or the files where it is about none. */
  let { finding, desk }: { finding: FindingLine; desk: PlayerDesk } = $props();
  const session = getSession();

  const MOST = 100;
  const about = $derived(desk.itemsOf(finding.id, MOST));

  async function show(id: ItemId) {
    session.narrow({ kind: null, text: '' });
    session.selection.set([id], id);
    await goto(`/${page.params.library}/describe`);
  }
</script>

{#await about then found}
  {#if found && found.count > 0}
    <ul aria-label="Items of this finding">
      {#each session.library.findAll(found.first) as item (item.id)}
        <li>
          <SpineLabel kind={kindOf(item)} />
          <button class="act" onclick={() => show(item.id)}>{titleOf(item)}</button>
          <span class="path quiet">{item.path}</span>
        </li>
      {/each}
      {#if found.count > MOST}<li class="quiet">
          {counted(found.count - MOST, 'more item')}
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
    max-height: 240px;
    overflow-y: auto;
  }
  li {
    display: flex;
    align-items: center;
    gap: 6px;
    min-width: 0;
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
