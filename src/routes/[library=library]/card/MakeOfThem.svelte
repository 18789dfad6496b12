<script lang="ts">
  import { chaptersOf, titleOf, type Item, type Stream } from '$lib/core/items';
  import { isMadeFresh } from '$lib/core/twins';
  import { getSession } from '$lib/state/session.svelte';
  import { counted } from '$lib/ui/words/amounts';
  import MakeSheet from '../prepare/MakeSheet.svelte';

  /** New items that can be made of the selected ones, and what one was made from. */
  let { items }: { items: readonly Item[] } = $props();
  const session = getSession();
  const { library, prepare, assembling } = session;

  let sheet = $state<'join' | 'split' | null>(null);
  const one = $derived(items.length === 1 ? (items[0] as Item) : null);
  const has = ({ facts }: Item, wanted: Stream['type']) => facts.streams.some(({ type }) => type === wanted);
  const isSound = (item: Item) => has(item, 'sound') && !has(item, 'picture');
  /** Files that are joined at once. */
  const MOST = 1000;
  const joins = $derived(items.length > 1 && items.length <= MOST && items.every(isSound));
  const chapters = $derived(one && isSound(one) ? chaptersOf(one).length : 0);
  const made = $derived(one?.made ?? null);
  const sources = $derived(made ? [...new Set(made.parts.map(({ item }) => item))] : []);
  const isFresh = $derived(made === null || isMadeFresh(made, (id) => library.find(id)));
</script>

{#if joins || (one && has(one, 'sound'))}
  <section>
    <h3>What can you make of {one ? 'it' : 'them'}?</h3>
    {#if made}
      {@const source = library.find(sources[0]!)}
      <p class:odd={!isFresh}>
        Made from {sources.length === 1 && source ? titleOf(source) : counted(sources.length, 'item')}{isFresh
          ? '.'
          : ', which changed since.'}
        {#if one && !isFresh}<button
            class="act"
            disabled={!library.mayWrite || assembling.busy}
            onclick={() => void assembling.again(one)}>Make again</button
          >{/if}
      </p>
    {/if}
    <div class="acts">
      {#if joins}<button
          class="btn"
          disabled={!library.mayWrite || assembling.busy}
          onclick={() => (sheet = 'join')}>Join into one file</button
        >{/if}
      {#if chapters > 1}<button
          class="btn"
          disabled={!library.mayWrite || assembling.busy}
          onclick={() => (sheet = 'split')}>Split at {chapters} chapters</button
        >{/if}
      {#if one}<button class="btn" disabled={!library.mayWrite} onclick={() => (prepare.panel = 'cut')}
          >{isSound(one) ? 'Cut a part' : 'Cut a part of its sound'}</button
        >{/if}
    </div>
  </section>
{/if}
{#if sheet}<MakeSheet {items} what={sheet} onclose={() => (sheet = null)} />{/if}

<style>
  .acts {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
    margin-top: 6px;
  }
  .odd {
    color: var(--attention-ink);
  }
</style>
