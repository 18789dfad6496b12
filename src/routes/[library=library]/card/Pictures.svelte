<script lang="ts">
  import { putBack, type Item } from '$lib/core/items';
  import { frontPicture, type PlanPicture } from '$lib/core/plan';
  import { getSession } from '$lib/state/session.svelte';
  import { counted } from '$lib/ui/words/amounts';
  import Thumbnail from './Thumbnail.svelte';

  let { items }: { items: readonly Item[] } = $props();
  const session = getSession();
  let picker = $state<HTMLInputElement>();
  let trouble = $state<string | null>(null);

  const MOST = 3;
  const groups = $derived.by(() => {
    const byKey = new Map<string, { picture: PlanPicture; items: Item[] }>();
    for (const item of items) {
      const picture = frontPicture(item);
      if (!picture) continue;
      const known = byKey.get(picture.key);
      if (known) known.items.push(item);
      else byKey.set(picture.key, { picture, items: [item] });
    }
    return [...byKey.values()].sort((a, b) => b.items.length - a.items.length);
  });
  const without = $derived(items.filter((item) => !frontPicture(item)).length);
  const chosen = $derived(items.filter(({ edits }) => edits.pictures?.front));

  async function set(file: File | undefined) {
    if (!file) return;
    trouble = null;
    try {
      await session.setPicture(items, file, null, `Picture of ${items.length}`);
    } catch (error) {
      trouble = `${file.name}: ${error instanceof Error ? error.message : String(error)}. Choose a JPEG or PNG.`;
    }
  }
</script>

<div class="shown">
  {#each groups.slice(0, MOST) as { picture, items: same } (picture.key)}
    <div class="one">
      <Thumbnail item={same[0] as Item} {picture} />
      <div>
        <b
          >{items.length === 1
            ? picture.chosen
              ? 'Chosen'
              : 'In the file'
            : `${same.length} ${same.length === 1 ? 'has its own' : 'share it'}`}</b
        >
        <span class="quiet"
          >{picture.width ?? '?'}×{picture.height ?? '?'}, {picture.mime
            .replace('image/', '')
            .toUpperCase()}</span
        >
      </div>
    </div>
  {/each}
  {#if groups.length > MOST}<span class="quiet">{counted(groups.length - MOST, 'picture')} more</span>{/if}
  {#if groups.length === 0}<span class="quiet">no picture</span>{:else if without > 0}<span class="quiet"
      >{without} without one</span
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
  <button class="btn" onclick={() => picker?.click()}>Set from a file</button>
  {#if chosen.length > 0}
    <button
      class="btn"
      onclick={() =>
        session.library.act(`Put back picture of ${chosen.length}`, chosen, (item) =>
          putBack(item, { pictures: ['front'] }),
        )}
    >
      Use the file’s own
    </button>
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
    gap: 8px;
    margin-top: 8px;
  }
  .wrong {
    margin-top: 6px;
    color: var(--blocks-ink);
  }
</style>
