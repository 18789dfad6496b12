<script lang="ts">
  import type { ItemId } from '$lib/core/items';
  import type { LeftOutWhy, ToldList } from '$lib/core/plan';
  import { counted } from '$lib/ui/words/amounts';
  import { LIST_STATES, leftOutAct, leftOutWords } from '$lib/ui/words/list-words';

  /** What each of its lists comes to on a player, what is left out of them and why. */
  let {
    lists,
    player,
    locked,
    onmend,
  }: {
    lists: readonly ToldList[];
    player: string;
    locked: boolean;
    /** Does something about items that are left out for one reason. */
    onmend: (why: LeftOutWhy, items: readonly ItemId[], list: string) => void;
  } = $props();

  let open = $state<string | null>(null);
</script>

{#if lists.length > 0}
  <section aria-label="Lists on {player}">
    <header><b>Lists there</b> <span class="quiet">{counted(lists.length, 'list')}</span></header>
    <ul>
      {#each lists as { id, name, state, path, count, written, leftOut } (id)}
        {@const words = LIST_STATES[state]}
        <li>
          <button class="line" aria-expanded={open === id} onclick={() => (open = open === id ? null : id)}>
            <b>{name}</b>
            <span class:short={words !== null || written < count}>
              {words ??
                (written === count
                  ? counted(count, 'entry', 'entries')
                  : `${written} of ${counted(count, 'entry', 'entries')}`)}
            </span>
          </button>
          {#if open === id}
            <div class="inside">
              {#if path !== ''}<p class="path">{path}</p>{/if}
              {#each leftOut as { why, count: many, items } (why)}
                {@const act = leftOutAct(why, items.length)}
                <p>
                  {leftOutWords(why, many, player)}
                  {#if act && items.length > 0}<button
                      class="act"
                      disabled={locked}
                      onclick={() => onmend(why, items, name)}>{act}</button
                    >{/if}
                </p>
              {:else}
                <p class="quiet">nothing left out</p>
              {/each}
            </div>
          {/if}
        </li>
      {/each}
    </ul>
  </section>
{/if}

<style>
  section {
    border: 1px solid var(--ink-2);
    border-left-width: 4px;
    background: var(--raised);
  }
  header {
    padding: 6px 10px;
    border-bottom: 1px solid var(--rule);
    font-size: var(--t-body);
  }
  .line {
    display: flex;
    align-items: center;
    gap: 8px;
    width: 100%;
    min-height: 27px;
    padding: 1px 10px;
    text-align: left;
  }
  .line:hover {
    background: var(--select);
  }
  .line b {
    flex: 1;
    min-width: 0;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
    font-weight: 400;
  }
  .line span {
    flex: none;
  }
  .short {
    color: var(--attention-ink);
    font-weight: 600;
  }
  .inside {
    padding: 2px 10px 8px;
    border-bottom: 1px solid var(--rule);
  }
  .path {
    overflow-wrap: anywhere;
    font-size: var(--t-small);
  }
</style>
