<script lang="ts">
  import type { TwinShelf } from '$lib/state/prepare/twin-shelf.svelte';
  import { getSession } from '$lib/state/session.svelte';
  import { bytes, counted } from '$lib/ui/words/amounts';
  import TwinStorage from './TwinStorage.svelte';

  /** How much storage the twins use, where that is, and which of them are unused. */
  let { shelf }: { shelf: TwinShelf } = $props();
  const session = getSession();
  const { library, prepare, work } = session;

  const spare = $derived.by(() => {
    // Read first: items that go, or whose files change, leave twins that nobody needs.
    void library.items;
    return shelf.spare();
  });
  const freed = $derived(bytes(spare.reduce((sum, { size }) => sum + size, 0)));

  let isOpen = $state(false);

  async function clean() {
    const text = `${freed} freed: ${counted(spare.length, 'unused twin')} deleted`;
    await shelf.clean(spare);
    work.say(text);
  }
</script>

<button class={['act', shelf.folder?.isShut && 'odd']} onclick={() => (isOpen = true)}
  >{shelf.bytes > 0 ? `Twin storage, ${bytes(shelf.bytes)}` : 'Twin storage'}{shelf.folder?.isShut
    ? shelf.folder.isAway
      ? ', folder is away'
      : ', needs permission'
    : ''}</button
>
{#if isOpen}<TwinStorage onclose={() => (isOpen = false)} />{/if}
{#if spare.length > 0 && library.mayWrite && prepare.making.left === 0}
  <button
    class="act"
    title="{counted(spare.length, 'twin')} whose originals changed or are gone"
    onclick={clean}>Delete unused twins, {freed}</button
  >
{/if}

<style>
  .odd {
    color: var(--attention-ink);
  }
</style>
