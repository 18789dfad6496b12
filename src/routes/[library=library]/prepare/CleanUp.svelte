<script lang="ts">
  import type { Spare, TwinShelf } from '$lib/state/prepare/twin-shelf.svelte';
  import { getSession } from '$lib/state/session.svelte';
  import { bytes, counted } from '$lib/ui/words/amounts';

  /** What the twins take, and what of them nobody needs any more. */
  let { shelf }: { shelf: TwinShelf } = $props();
  const session = getSession();
  let spare = $state.raw<Spare | null>(null);

  $effect(() => {
    void shelf.version;
    void session.library.items;
    let stale = false;
    void shelf.spare().then((found) => {
      if (!stale) spare = found;
    });
    return () => (stale = true);
  });

  async function clean(what: Spare) {
    await shelf.clean(what);
    session.work.say(`${bytes(what.bytes)} freed: ${counted(what.twins.length, 'twin')} nobody needed`);
  }
</script>

{#if shelf.bytes > 0 || (spare?.bytes ?? 0) > 0}
  <span class="quiet">twins take {bytes(shelf.bytes)} of the browser’s storage</span>
{/if}
{#if spare && spare.twins.length + spare.files.length > 0 && session.library.mayWrite && session.prepare.making.waiting.length === 0}
  {@const what = spare}
  <button
    class="act"
    title="{counted(what.twins.length, 'twin')} of files that changed or are gone"
    onclick={() => clean(what)}>Clean up {bytes(what.bytes)}</button
  >
{/if}
