<script lang="ts">
  import type { TwinShelf } from '$lib/state/prepare/twin-shelf.svelte';
  import { getSession } from '$lib/state/session.svelte';
  import { bytes, counted } from '$lib/ui/words/amounts';

  /** What the twins take, and what of them nobody needs any more. */
  let { shelf }: { shelf: TwinShelf } = $props();
  const session = getSession();
  const { library, prepare, work } = session;

  const spare = $derived.by(() => {
    // Read first: items that go, or whose files change, leave twins that nobody needs.
    void library.items;
    return shelf.spare();
  });
  const freed = $derived(bytes(spare.reduce((sum, { size }) => sum + size, 0)));

  async function clean() {
    const text = `${freed} freed: ${counted(spare.length, 'twin')} nobody needed`;
    await shelf.clean(spare);
    work.say(text);
  }
</script>

{#if shelf.bytes > 0}
  <span class="quiet">twins take {bytes(shelf.bytes)} of the browser’s storage</span>
{/if}
{#if spare.length > 0 && library.mayWrite && prepare.making.waiting.length === 0}
  <button
    class="act"
    title="{counted(spare.length, 'twin')} of files that changed or are gone"
    onclick={clean}>Clean up {freed}</button
  >
{/if}
