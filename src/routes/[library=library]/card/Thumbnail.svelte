<script lang="ts">
  import type { Item } from '$lib/core/items';
  import type { PlanPicture } from '$lib/core/plan';
  import { getSession } from '$lib/state/session.svelte';

  let {
    item,
    picture,
    alt = 'Front of the release',
  }: {
    /** Whose file holds it, where it was not chosen. */
    item: Item | null;
    picture: PlanPicture;
    alt?: string;
  } = $props();
  const session = getSession();
  let url = $state<string | null>(null);
  let failed = $state(false);

  async function load(): Promise<Blob | null> {
    if (picture.chosen) return session.pictures.kept(picture.chosen);
    return item && session.pictures.of(item, picture.index);
  }

  // Reading the picture and giving its address back are outside of Svelte's reach.
  $effect(() => {
    let made: string | null = null;
    let gone = false;
    failed = false;
    void picture.key;
    load()
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
  <img src={url} {alt} onerror={() => (failed = true)} />
{:else}
  <span class="wait quiet">{failed ? 'cannot be shown' : ''}</span>
{/if}

<style>
  img,
  .wait {
    width: var(--size, 56px);
    height: var(--size, 56px);
    object-fit: contain;
    background: var(--sunk);
    border: 1px solid var(--rule);
    font-size: var(--t-tick);
    display: grid;
    place-items: center;
    text-align: center;
  }
</style>
