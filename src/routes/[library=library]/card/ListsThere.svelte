<script lang="ts">
  import ArrowUp from '@lucide/svelte/icons/arrow-up';
  import X from '@lucide/svelte/icons/x';
  import type { ListId } from '$lib/core/lists';
  import { listsFor } from '$lib/core/rulebooks';
  import type { PlayerDesk } from '$lib/state/player/desk.svelte';
  import { getSession } from '$lib/state/session.svelte';

  /** Which lists a player gets, and whether they decide what it has. */
  let { desk }: { desk: PlayerDesk } = $props();
  const session = getSession();

  const selection = $derived(desk.player.selection);
  const locked = $derived(desk.runs.isRunning || !session.library.mayWrite);
  const chosen = $derived(
    (selection.lists ?? []).flatMap((id) => session.library.lists.find((list) => list.id === id) ?? []),
  );
  const others = $derived(
    session.library.lists
      .filter(({ id }) => !selection.lists?.includes(id))
      .toSorted((a, b) => a.name.localeCompare(b.name, 'en')),
  );

  /** Lists that are no more go with the next change. */
  function take(lists: readonly ListId[], label: string) {
    const { lists: _, firstList, onlyListed, ...rest } = selection;
    desk.decisions.select(
      lists.length === 0
        ? rest
        : {
            ...rest,
            lists,
            ...(onlyListed && { onlyListed }),
            ...(firstList && lists.includes(firstList) && { firstList }),
          },
      label,
    );
  }

  const ids = $derived(chosen.map(({ id }) => id));

  function add(id: ListId | undefined) {
    const list = others.find((one) => one.id === id);
    if (list) take([...ids, list.id], `Give ${desk.name} the list ${list.name}`);
  }

  function remove(id: ListId, name: string) {
    take(
      ids.filter((one) => one !== id),
      `Remove the list ${name} from ${desk.name}`,
    );
  }

  function raise(index: number) {
    const next = [...ids];
    next.splice(index - 1, 0, ...next.splice(index, 1));
    take(next, `Order of the lists on ${desk.name}`);
  }

  function limit(isOnly: boolean) {
    const { onlyListed: _, ...rest } = selection;
    desk.decisions.select(isOnly ? { ...rest, onlyListed: true } : rest);
  }

  function first(id: ListId | undefined) {
    const { firstList: _, ...rest } = selection;
    desk.decisions.select(id ? { ...rest, firstList: id } : rest);
  }
</script>

<section>
  <h3>Which lists does it get?</h3>
  {#if listsFor(desk.rulebook) === null}
    <p class="quiet">{desk.name} has no playlists. Lists can still decide what it has.</p>
  {/if}
  {#if chosen.length > 0}
    <ol aria-label="Lists of {desk.name}">
      {#each chosen as list, index (list.id)}
        <li>
          <span>{list.name}</span>
          {#if index > 0}<button
              disabled={locked}
              aria-label="Move {list.name} up"
              onclick={() => raise(index)}><ArrowUp size={14} /></button
            >{/if}
          <button
            disabled={locked}
            aria-label="Remove {list.name} from {desk.name}"
            onclick={() => remove(list.id, list.name)}><X size={14} /></button
          >
        </li>
      {/each}
    </ol>
  {/if}
  {#if others.length > 0}
    <select
      class="select"
      aria-label="Add a list to {desk.name}"
      disabled={locked}
      value=""
      onchange={(event) => {
        const { currentTarget: field } = event;
        add(others.find(({ id }) => id === field.value)?.id);
        field.value = '';
      }}
    >
      <option value="">Add a list</option>
      {#each others as list (list.id)}<option value={list.id}>{list.name}</option>{/each}
    </select>
  {:else if chosen.length === 0}
    <p class="quiet">No lists yet. Make one in Lists.</p>
  {/if}
  {#if selection.onlyListed && chosen.length === 0}
    <p class="none">Its lists were deleted, so nothing goes there.</p>
  {/if}
  {#if chosen.length > 0 || selection.onlyListed}
    <label
      ><input
        type="checkbox"
        checked={selection.onlyListed ?? false}
        disabled={locked}
        onchange={(event) => limit(event.currentTarget.checked)}
      />
      only items in these lists go there</label
    >
  {/if}
  {#if chosen.length > 0}
    <label
      >first when space runs out
      <select
        class="select"
        disabled={locked}
        value={selection.firstList ?? ''}
        onchange={(event) => first(chosen.find(({ id }) => id === event.currentTarget.value)?.id)}
      >
        <option value="">no list</option>
        {#each chosen as list (list.id)}<option value={list.id}>{list.name}</option>{/each}
      </select></label
    >
  {/if}
</section>

<style>
  ol {
    list-style: none;
    padding: 0;
  }
  li {
    display: flex;
    align-items: center;
    gap: 4px;
    min-height: 26px;
    border-bottom: 1px solid var(--rule);
  }
  li span {
    flex: 1;
    min-width: 0;
    overflow-wrap: anywhere;
  }
  li button {
    display: flex;
    padding: 4px;
  }
  label {
    display: flex;
    align-items: center;
    gap: 5px;
    margin-top: 4px;
  }
  .none {
    color: var(--attention-ink);
    font-weight: 600;
  }
  .select {
    max-width: 100%;
    min-width: 0;
    height: 26px;
  }
  section > .select {
    margin-top: 4px;
  }
</style>
