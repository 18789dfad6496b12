<script lang="ts">
  import type { OpenSaid } from '$lib/core/lists';
  import { getSession } from '$lib/state/session.svelte';
  import { addedWords } from '$lib/ui/words/list-words';

  /** Puts what is not fetched yet into a list by hand: it is fetched from there when it is wanted. */
  let { opens, label }: { opens: readonly OpenSaid[]; label: string } = $props();
  const { lists, library, work } = getSession();
  const uid = $props.id();

  let name = $state('');
  let trouble = $state<string | null>(null);
  const hands = $derived(library.lists.filter(({ type }) => type === 'hand'));

  function add(event: SubmitEvent) {
    event.preventDefault();
    const { list, put } = lists.addOpen(name, opens);
    trouble = put ? null : `${list.name} cannot be added to by hand. Choose another name.`;
    if (!put) return;
    work.say(addedWords(put, list.name));
    name = '';
  }
</script>

<form onsubmit={add}>
  <input
    class="input"
    list="{uid}-lists"
    aria-label="List for {label}"
    placeholder="Name of a list"
    bind:value={name}
  />
  <datalist id="{uid}-lists">
    {#each hands as list (list.id)}<option value={list.name}></option>{/each}
  </datalist>
  <button class="btn" disabled={opens.length === 0 || name.trim() === '' || !library.mayWrite}
    >Add {label} to a list, unfetched</button
  >
</form>
{#if trouble}<p class="trouble" role="alert">{trouble}</p>{/if}

<style>
  form {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
    margin-top: 8px;
  }
  .input {
    width: 160px;
    height: 28px;
  }
</style>
