<script lang="ts">
  import { Command, Dialog } from 'bits-ui';
  import { goto } from '$app/navigation';
  import { page } from '$app/state';
  import { inScope } from '$lib/core/browse';
  import { fieldsOf, kindOf, titleOf, type Item } from '$lib/core/items';
  import { getSession } from '$lib/state/session.svelte';
  import { theme } from '$lib/state/theme.svelte';
  import SpineLabel from '$lib/ui/SpineLabel.svelte';
  import { library as fileActs } from './library-acts.svelte';
  import { STATIONS } from './stations';

  let { onclose, onhelp, onadd }: { onclose: () => void; onhelp: () => void; onadd: () => void } = $props();
  const session = getSession();
  const acts = fileActs(session);
  let typed = $state('');

  const MOST = 8;
  interface Act {
    readonly name: string;
    readonly act: () => void;
  }
  const all = $derived<Act[]>([
    ...STATIONS.map(({ board, name }) => ({
      name: `Go to ${name}`,
      act: () => void goto(`/${page.params.library}/${board}`),
    })),
    { name: 'Add the selection to a list', act: onadd },
    { name: 'Undo', act: () => session.undo() },
    { name: 'Redo', act: () => session.redo() },
    {
      name: 'Confirm all likely kinds',
      act: () => session.kinds.confirmLikely(session.library.items),
    },
    { name: 'Rehearse again', act: () => void session.desk.look() },
    { name: theme.dark ? 'Use the light theme' : 'Use the dark theme', act: () => theme.toggle() },
    { name: 'Export this library as a file', act: () => void acts.exportFile() },
    { name: 'Read a library from a file', act: () => acts.importFile() },
    page.params.library === 'demo'
      ? { name: 'Go to your own library', act: () => void goto('/home/intake') }
      : { name: 'Go to the demo of Skerry House', act: () => void goto('/demo/intake') },
    { name: 'Show the keys', act: onhelp },
  ]);
  const matching = $derived(
    all.filter(({ name }) =>
      typed.split(/\s+/).every((word) => name.toLowerCase().includes(word.toLowerCase())),
    ),
  );
  const items = $derived(
    typed.trim().length < 2
      ? []
      : inScope(session.library.items, { kind: null, text: typed }, session.lists.world).slice(0, MOST),
  );

  function doIt(act: () => void) {
    onclose();
    act();
  }

  function show(item: Item) {
    session.narrow({ kind: null, text: '' });
    session.selection.set([item.id], item.id);
    onclose();
  }
</script>

<Dialog.Root open onOpenChange={(open) => !open && onclose()}>
  <Dialog.Portal>
    <Dialog.Overlay class="veil" />
    <Dialog.Content class="sheet finder">
      <Dialog.Title class="sr-only">Find or do</Dialog.Title>
      <Command.Root shouldFilter={false} label="Find or do">
        <Command.Input
          bind:value={typed}
          placeholder="A title, an artist, or what to do"
          class="finder-input"
          aria-label="Find or do"
        />
        <Command.List class="finder-list" aria-label="Found">
          {#each items as item (item.id)}
            <Command.Item value={item.id} onSelect={() => show(item)} class="finder-item">
              <SpineLabel kind={kindOf(item)} certainty={item.settled ? 'sure' : item.guess.certainty} />
              {titleOf(item)}
              <span class="quiet">{fieldsOf(item).artist ?? ''} {fieldsOf(item).album ?? ''}</span>
            </Command.Item>
          {/each}
          {#each matching as { name, act } (name)}
            <Command.Item value={name} onSelect={() => doIt(act)} class="finder-item">{name}</Command.Item>
          {/each}
          {#if items.length + matching.length === 0}<p class="none quiet">Nothing found.</p>{/if}
        </Command.List>
      </Command.Root>
    </Dialog.Content>
  </Dialog.Portal>
</Dialog.Root>

<style>
  .none {
    padding: 8px 12px;
  }
  :global(.finder-input) {
    width: 100%;
    height: 40px;
    padding: 0 12px;
    font-size: var(--t-sub);
    background: none;
    border-bottom: 1px solid var(--rule-strong);
  }
  :global(.finder-list) {
    max-height: 50vh;
    overflow-y: auto;
    padding: 4px 0;
  }
  :global(.finder-item) {
    display: flex;
    align-items: center;
    gap: 8px;
    min-height: 30px;
    padding: 0 12px;
    font-size: var(--t-read);
  }
  :global(.finder-item[data-selected]) {
    background: var(--select);
  }
</style>
