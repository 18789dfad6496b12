<script lang="ts">
  import type { Summary } from '$lib/core/browse';
  import type { Item } from '$lib/core/items';
  import { getSession } from '$lib/state/session.svelte';
  import { counted } from '$lib/ui/words/amounts';
  import Thumbnail from './Thumbnail.svelte';

  let {
    items,
    summary,
    onwork,
  }: {
    items: readonly Item[];
    summary: Summary;
    /** Opens where pictures are cut, scaled and taken from elsewhere. */
    onwork: () => void;
  } = $props();
  const session = getSession();
  let picker = $state<HTMLInputElement>();
  let trouble = $state<string | null>(null);

  const MOST = 3;
  const { pictures, withoutPicture } = $derived(summary);

  async function set(file: File | undefined) {
    if (!file) return;
    trouble = null;
    try {
      await session.pictures.set(items, file, null, `Picture of ${items.length}`);
    } catch (error) {
      trouble = `${file.name}: ${error instanceof Error ? error.message : String(error)}. Choose a JPEG or PNG.`;
    }
  }
</script>

<div class="shown">
  {#each pictures.slice(0, MOST) as { picture, first, count } (picture.key)}
    <div class="one">
      <Thumbnail item={first} {picture} />
      <div>
        <b
          >{items.length === 1
            ? picture.chosen
              ? 'Chosen'
              : 'In the file'
            : `${count} ${count === 1 ? 'has its own' : 'share it'}`}</b
        >
        <span class="quiet"
          >{picture.width ?? '?'}×{picture.height ?? '?'}, {picture.mime
            .replace('image/', '')
            .toUpperCase()}</span
        >
      </div>
    </div>
  {/each}
  {#if pictures.length > MOST}<span class="quiet">{counted(pictures.length - MOST, 'picture')} more</span
    >{/if}
  {#if pictures.length === 0}<span class="quiet">no picture</span>{:else if withoutPicture > 0}<span
      class="quiet">{withoutPicture} without a picture</span
    >{/if}
</div>
<div class="acts">
  <input
    bind:this={picker}
    type="file"
    accept="image/*"
    hidden
    aria-label="Picture file"
    onchange={(event) => {
      void set(event.currentTarget.files?.[0]);
      event.currentTarget.value = '';
    }}
  />
  <button class="btn" onclick={() => picker?.click()}>Choose a file</button>
  <button class="btn" onclick={onwork}>Crop, scale, other sources</button>
  {#if summary.chosenPicture > 0}
    <button class="btn" onclick={() => session.pictures.restore(items)}>Use the picture in the file</button>
  {/if}
  {#if pictures.length > 0}
    <button class="btn" onclick={() => session.pictures.remove(items)}
      >Remove {items.length === 1
        ? 'the picture'
        : `${counted(items.length - withoutPicture, 'picture')}`}</button
    >
  {/if}
</div>
{#if trouble}<p class="wrong" role="alert">{trouble}</p>{/if}

<style>
  .shown {
    display: flex;
    flex-wrap: wrap;
    gap: 12px;
    align-items: center;
  }
  .one {
    display: flex;
    gap: 8px;
    align-items: center;
  }
  .one div {
    display: grid;
    font-size: var(--t-small);
  }
  .acts {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
    margin-top: 8px;
  }
  .wrong {
    margin-top: 6px;
    color: var(--blocks-ink);
  }
</style>
