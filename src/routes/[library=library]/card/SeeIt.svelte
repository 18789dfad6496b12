<script lang="ts">
  import { titleOf, type Item } from '$lib/core/items';
  import Sheet from '$lib/ui/Sheet.svelte';
  import VideoView from './VideoView.svelte';

  /** The picture of a video, once it is asked for. It stays open from one item to the next. */
  let { item }: { item: Item } = $props();
  let isOpen = $state(false);
  let isLarge = $state(false);
  let place = $state(0);
  $effect(() => {
    void item.id;
    place = 0;
  });
</script>

<section>
  <h3>What does it show?</h3>
  {#if !isOpen}
    <button class="btn" onclick={() => (isOpen = true)}>See the video</button>
  {:else if isLarge}
    <p class="quiet">It plays in the large view.</p>
    <Sheet title={titleOf(item)} wide onclose={() => (isLarge = false)}>
      {#key item.id}<VideoView {item} bind:place isLarge />{/key}
    </Sheet>
  {:else}
    {#key item.id}<VideoView {item} bind:place />{/key}
    <p class="acts">
      <button class="act" onclick={() => (isLarge = true)}>Larger</button>
      <button class="act" onclick={() => (isOpen = false)}>Close the video</button>
    </p>
  {/if}
</section>

<style>
  .acts {
    display: flex;
    gap: 16px;
    margin-top: 6px;
  }
</style>
