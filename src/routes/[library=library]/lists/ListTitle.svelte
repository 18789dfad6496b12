<script lang="ts">
  import { untrack } from 'svelte';
  import type { PlayList } from '$lib/core/lists';
  import { sameName } from '$lib/core/query';
  import { getSession } from '$lib/state/session.svelte';
  import SaveList from './SaveList.svelte';

  /** A list's name, note and group, each changed where it stands. */
  let { list, isNew }: { list: PlayList; isNew: boolean } = $props();
  const session = getSession();
  const { lists, library, work } = session;

  let trouble = $state<string | null>(null);
  let saving = $state(false);
  let field = $state<HTMLInputElement>();
  const uid = $props.id();
  const groups = $derived([...new Set(library.lists.flatMap(({ group }) => group ?? []))].sort());

  $effect(() => {
    if (untrack(() => isNew)) field?.select();
  });

  function rename(typed: string) {
    const name = typed.trim();
    trouble = null;
    if (name === list.name) return;
    const isTaken = library.lists.some((own) => own.id !== list.id && sameName(own.name, name));
    if (name === '' || isTaken) {
      trouble =
        name === '' ? 'A list needs a name.' : `Another list is called ${name}. Choose a different name.`;
      if (field) field.value = list.name;
      return;
    }
    lists.keep({ ...list, name }, `Rename ${list.name} to ${name}`);
  }

  function remove() {
    lists.forget(list);
    work.say(`List ${list.name} deleted; its items stay in the library`);
  }
</script>

<header>
  <input
    class="name"
    aria-label="Name of the list"
    bind:this={field}
    readonly={!library.mayWrite}
    value={list.name}
    onchange={(event) => rename(event.currentTarget.value)}
    onkeydown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
  />
  <button class="btn" onclick={() => (saving = true)}>Save as a file</button>
  <button class="btn" disabled={!library.mayWrite} onclick={remove}>Delete list</button>
</header>
<div class="facts">
  <label
    >Group <input
      class="input"
      list="{uid}-groups"
      placeholder="none"
      readonly={!library.mayWrite}
      value={list.group ?? ''}
      onchange={(event) => {
        const group = event.currentTarget.value.trim() || null;
        if (group !== list.group)
          lists.keep(
            { ...list, group },
            group ? `Group ${list.name} under ${group}` : `Ungroup ${list.name}`,
          );
      }}
    /></label
  >
  <datalist id="{uid}-groups"
    >{#each groups as group (group)}<option value={group}></option>{/each}</datalist
  >
  <label class="note"
    >Note <input
      class="input"
      readonly={!library.mayWrite}
      value={list.note}
      onchange={(event) => {
        const note = event.currentTarget.value;
        if (note !== list.note) lists.keep({ ...list, note }, `Note of ${list.name}`);
      }}
    /></label
  >
  {#if list.type === 'hand'}
    <label class="check"
      ><input
        type="checkbox"
        class="checkbox"
        disabled={!library.mayWrite}
        checked={list.allowsDoubles}
        onchange={(event) =>
          lists.keep(
            { ...list, allowsDoubles: event.currentTarget.checked },
            `${event.currentTarget.checked ? 'Allow' : 'Refuse'} duplicates in ${list.name}`,
          )}
      /> allow duplicates</label
    >
  {:else if list.type === 'mirror'}
    <label class="check"
      ><input
        type="checkbox"
        class="checkbox"
        disabled={!library.mayWrite}
        checked={list.isDeep}
        onchange={(event) =>
          lists.keep({ ...list, isDeep: event.currentTarget.checked }, `Subfolders of ${list.name}`)}
      /> with subfolders</label
    >
  {/if}
</div>
{#if saving}<SaveList {list} onclose={() => (saving = false)} />{/if}
{#if trouble}<p class="trouble" role="alert">{trouble}</p>{/if}

<style>
  header,
  .facts {
    display: flex;
    align-items: center;
    gap: 12px;
    flex: none;
    padding: 0 16px;
  }
  header {
    height: 42px;
  }
  .facts {
    padding-bottom: 8px;
    color: var(--ink-2);
  }
  .name {
    flex: 1;
    min-width: 0;
    font: 600 var(--t-title) / 1.3 var(--font-head);
    background: none;
    text-overflow: ellipsis;
  }
  label {
    display: flex;
    align-items: center;
    gap: 6px;
    white-space: nowrap;
  }
  .facts .input {
    width: 120px;
    height: 26px;
    font-size: inherit;
  }
  .facts .note,
  .facts .note .input {
    flex: 1;
    min-width: 60px;
  }
</style>
