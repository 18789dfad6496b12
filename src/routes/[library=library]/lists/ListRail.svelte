<script lang="ts">
  import type { PlayList } from '$lib/core/lists';
  import { getSession } from '$lib/state/session.svelte';
  import { LIST_TYPES, amountWords } from '$lib/ui/words/list-words';

  /** All lists by their groups; those without one by their type. */
  const session = getSession();
  const { lists, library } = session;

  interface Part {
    readonly name: string;
    readonly lists: readonly PlayList[];
  }
  const byName = (a: PlayList, b: PlayList) => a.name.localeCompare(b.name, 'en', { numeric: true });
  const parts = $derived.by((): readonly Part[] => {
    const own = [...library.lists].sort(byName);
    const groups = [...new Set(own.flatMap(({ group }) => group ?? []))].sort((a, b) => a.localeCompare(b));
    return [
      ...groups.map((name) => ({ name, lists: own.filter(({ group }) => group === name) })),
      ...(['hand', 'rule', 'mirror'] as const).map((type) => ({
        name: LIST_TYPES[type],
        lists: own.filter((list) => list.type === type && list.group === null),
      })),
    ].filter((part) => part.lists.length > 0);
  });
  const typeOf = (list: PlayList) => (list.group === null ? '' : `${LIST_TYPES[list.type].toLowerCase()} · `);
</script>

<nav aria-label="All lists">
  {#each parts as { name, lists: own } (name)}
    <h2>{name}</h2>
    <ul>
      {#each own as list (list.id)}
        {@const digest = lists.digests.get(list.id)}
        <li>
          <button
            aria-current={list.id === lists.chosenId ? 'true' : undefined}
            onclick={() => lists.choose(list.id)}
          >
            <b>{list.name}</b>
            <span class="quiet"
              >{typeOf(list)}{#if digest?.problem}<span class="problem">the rule is wrong</span
                >{:else if digest}{amountWords(digest)}{:else}…{/if}</span
            >
            {#if digest && digest.open > 0}<span class="problem">{digest.open} open</span>{/if}
          </button>
        </li>
      {/each}
    </ul>
  {/each}
</nav>

<style>
  nav {
    flex: 1;
    min-height: 0;
    overflow-y: auto;
    padding-bottom: 12px;
  }
  h2 {
    padding: 10px 14px 4px;
    font: 400 var(--t-small) / 1.3 var(--font-body);
    color: var(--ink-2);
  }
  li button {
    display: flex;
    flex-wrap: wrap;
    column-gap: 8px;
    width: 100%;
    padding: 5px 14px 6px 11px;
    border-left: 3px solid transparent;
    text-align: left;
    font-size: var(--t-small);
  }
  li b {
    flex-basis: 100%;
    font-size: var(--t-read);
    overflow-wrap: anywhere;
  }
  li button:hover {
    background: var(--primary-tint);
  }
  li button[aria-current] {
    border-left-color: var(--primary);
    background: var(--select);
  }
  .problem {
    color: var(--attention-ink);
  }
</style>
