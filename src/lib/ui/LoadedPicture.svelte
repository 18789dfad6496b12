<script lang="ts">
  /** A picture that is loaded when it is shown: its bytes lie in a file, or in the browser's storage. */
  let {
    id,
    load,
    alt,
  }: {
    /** Tells whether it is another one now. */
    id: string;
    load: () => Promise<Blob | null>;
    alt: string;
  } = $props();
  let url = $state<string | null>(null);
  let failed = $state(false);

  // Reading the picture and giving its address back are outside of Svelte's reach.
  $effect(() => {
    let made: string | null = null;
    let gone = false;
    failed = false;
    void id;
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
