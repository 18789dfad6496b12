<script lang="ts">
  import { onMount } from 'svelte';
  import { page } from '$app/state';
  import { newHandList, newRuleList, type ListId, type PlayList } from '$lib/core/lists';
  import { newId } from '$lib/io/new-id';
  import { getSession } from '$lib/state/session.svelte';
  import Flyout from '$lib/ui/Flyout.svelte';
  import ListRail from './ListRail.svelte';
  import ListView from './ListView.svelte';
  import ReadLists from './ReadLists.svelte';

  const session = getSession();
  const { lists, library } = session;
  onMount(() => lists.open());

  /** A list that was just begun is named first. */
  let naming = $state<ListId | null>(null);

  const chosen = $derived(lists.chosen);
  $effect(() => {
    if (!chosen && library.lists[0]) lists.choose(library.lists[0].id);
  });

  function begin(type: 'hand' | 'rule') {
    const id = newId() as ListId;
    const list: PlayList =
      type === 'hand'
        ? newHandList(id, lists.freeName('New list'))
        : newRuleList(id, lists.freeName('New rule'));
    lists.choose(id);
    lists.keep(list, `List ${list.name}`);
    naming = id;
  }
</script>

<svelte:head><title>Lists · Lectorum</title></svelte:head>

<div class="board">
  <aside aria-label="Lists">
    <header>
      <h1>Lists</h1>
      <Flyout label="New list" look="btn">
        {#snippet button()}New list{/snippet}
        {#snippet children(close)}
          <div class="menu" role="group" aria-label="Type of the new list">
            <button
              class="act"
              onclick={() => {
                close();
                begin('hand');
              }}>By hand</button
            >
            <span class="quiet">you add, order and remove entries</span>
            <button
              class="act"
              onclick={() => {
                close();
                begin('rule');
              }}>By rule</button
            >
            <span class="quiet">a query fills it and keeps it current</span>
          </div>
        {/snippet}
      </Flyout>
    </header>
    {#if lists.trouble}
      <p class="trouble" role="alert">
        The lists could not be brought up to date ({lists.trouble}). They show what was known before.
        <button class="act" onclick={() => lists.look()}>Try again</button>
      </p>
    {/if}
    <ListRail />
    <ReadLists />
  </aside>
  <!-- By key, so that a list that is deleted stays what it was until its view is gone. -->
  {#each chosen ? [chosen] : [] as list (list.id)}
    <ListView {list} isNew={naming === list.id} />
  {:else}
    <section class="empty">
      <h2>No lists yet</h2>
      <p>
        A list holds items in your own order: songs for an evening, episodes still to hear. Make one here, or
        select items on any board and press <span class="key">P</span>.
      </p>
      <p>
        A rule fills a list automatically: <i>added in the last 2 months and never on Pocket</i>, at most two
        hours.
      </p>
      <p>
        <button class="btn btn-primary" disabled={!library.mayWrite} onclick={() => begin('hand')}
          >New list by hand</button
        >
        <button class="btn" disabled={!library.mayWrite} onclick={() => begin('rule')}
          >New list by rule</button
        >
        {#if library.items.length === 0}<a class="btn" href="/{page.params.library}/intake">Go to Intake</a
          >{/if}
      </p>
    </section>
  {/each}
</div>

<style>
  .board {
    display: grid;
    grid-template-columns: 216px minmax(0, 1fr);
    flex: 1;
    min-height: 0;
  }
  aside {
    display: flex;
    flex-direction: column;
    min-height: 0;
    border-right: 1px solid var(--rule-strong);
    background: var(--base);
  }
  header {
    display: flex;
    align-items: center;
    justify-content: space-between;
    height: 46px;
    padding: 0 14px;
  }
  h1 {
    font-size: var(--t-title);
  }
  .menu {
    position: absolute;
    top: calc(100% + 4px);
    left: 0;
    z-index: 6;
    display: grid;
    gap: 2px;
    width: 250px;
    padding: 10px 12px;
    background: var(--raised);
    border: 1px solid var(--rule-strong);
  }
  .empty {
    display: grid;
    align-content: start;
    gap: 16px;
    padding: 48px;
    max-width: 620px;
    font-size: var(--t-sub);
  }
  .empty h2 {
    font-size: var(--t-title);
  }
  @media (max-width: 760px) {
    .board {
      grid-template: minmax(120px, 30%) minmax(0, 1fr) / minmax(0, 1fr);
    }
    aside {
      border-right: 0;
      border-bottom: 1px solid var(--rule-strong);
    }
  }
</style>
