<script lang="ts">
  import type { Item } from '$lib/core/items';
  import type { PlanPicture } from '$lib/core/plan';
  import { getSession } from '$lib/state/session.svelte';

  let { item, picture }: { item: Item; picture: PlanPicture } = $props();
  const session = getSession();
  let url = $state<string | null>(null);
  let failed = $state(false);

  // Reading the picture and giving its address back are outside of Svelte's reach.
  $effect(() => {
    let made: string | null = null;
    let gone = false;
    failed = false;
    void picture.key;
    session.pictures
      .of(item, picture.index)
      .then((blob) => {
        if (gone) return;
        if (!blob) {
          failed = true;
          return;
        }
        made = URL.createObjectURL(blob);
        url = made;
      })
      .catch(() => (failed = true));
    return () => {
      gone = true;
      if (made) URL.revokeObjectURL(made);
    };
  });
</script>

{#if url && !failed}
  <img src={url} alt="Front of the release" onerror={() => (failed = true)} />
{:else}
  <span class="wait quiet">{failed ? 'cannot be shown' : ''}</span>
{/if}

<style>
  img,
  .wait {
    width: 56px;
    height: 56px;
    object-fit: contain;
    background: var(--sunk);
    border: 1px solid var(--rule);
    font-size: var(--t-tick);
    display: grid;
    place-items: center;
    text-align: center;
  }
</style>
