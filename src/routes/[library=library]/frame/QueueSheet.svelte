<script lang="ts">
  import Down from '@lucide/svelte/icons/chevron-down';
  import Up from '@lucide/svelte/icons/chevron-up';
  import X from '@lucide/svelte/icons/x';
  import { fieldText, fieldsOf, titleOf } from '$lib/core/items';
  import { moveBy, newHandList, type ListId } from '$lib/core/lists';
  import { newId } from '$lib/io/new-id';
  import { handRows, positionsOf, type ListRow } from '$lib/state/lists/list-rows';
  import { getSession } from '$lib/state/session.svelte';
  import Ledger from '$lib/ui/Ledger.svelte';
  import { clock, counted } from '$lib/ui/words/amounts';

  /** What is played one after the other: a list like others, put in order, taken out, gone to, and kept by a name. */
  const { library, lists, playback, selection, scope, work } = getSession();

  let cursor = $state<string | null>(null);
  let name = $state('');
  const rows = $derived(handRows(playback.queue, (id) => library.find(id), null));
  const count = $derived(playback.entries.length);
  const from = $derived(library.lists.find(({ id }) => id === playback.from) ?? null);

  const isNoneChosen = $derived(selection.items.length === 0);
  const chosen = () => scope.inRowOrder(selection.items);

  const isHeard = (row: ListRow) => row.type === 'entry' && row.position === playback.at;

  function move(row: ListRow, by: 1 | -1) {
    const positions = new Set(positionsOf(row));
    const { list } = moveBy(playback.queue, positions, by);
    if (list !== playback.queue) playback.putInOrder(list);
  }

  function keydown(event: KeyboardEvent, row: ListRow | null) {
    if (!row) return;
    const by = event.altKey ? ({ ArrowUp: -1, ArrowDown: 1 } as const)[event.key] : undefined;
    if (by !== undefined) move(row, by);
    else if (event.key === 'Delete') playback.takeOut(new Set(positionsOf(row)));
    else if (event.key === 'Enter') void playback.startAt(positionsOf(row)[0] ?? 0);
    else return;
    event.preventDefault();
    event.stopPropagation();
  }

  function save(event: SubmitEvent) {
    event.preventDefault();
    const called = lists.freeName(name.trim() || 'Queue');
    lists.keep(
      { ...newHandList(newId() as ListId, called), allowsDoubles: true, suites: playback.queue.suites },
      `List ${called}`,
    );
    work.say(`${called} holds the queue: ${counted(count, 'entry', 'entries')}`);
    name = '';
  }

  const titleIn = (row: ListRow): string => {
    if (row.type === 'suite') return row.name ?? 'the suite';
    const item = row.type === 'entry' && row.item ? library.find(row.item) : null;
    return item ? titleOf(item) : 'the entry';
  };
</script>

<div class="sheet-above" role="group" aria-label="What is played">
  <header>
    <b>What is played</b>
    <span class="quiet">{counted(count, 'entry', 'entries')}{from ? `, from ${from.name}` : ''}</span>
    <button class="btn" disabled={isNoneChosen} onclick={() => playback.playNext(chosen())}
      >Play selected next</button
    >
    <button class="btn" disabled={isNoneChosen} onclick={() => playback.playLast(chosen())}
      >Add at the end</button
    >
  </header>
  {#if rows.length === 0}
    <p class="quiet">Nothing yet: play something, or add the selection.</p>
  {:else}
    <div class="list">
      <Ledger
        label="What is played, in order"
        {rows}
        {cursor}
        rowHeight={32}
        columns="minmax(0, 1fr) 56px 84px"
        isSelected={isHeard}
        onpick={({ key }) => (cursor = key)}
        onkey={keydown}
      >
        {#snippet row(row)}
          {@const title = titleIn(row)}
          <div
            class="cols"
            class:head={row.type === 'suite'}
            class:within={row.type === 'entry' && row.inSuite}
          >
            {#if row.type === 'suite'}
              <span role="gridcell"
                ><b>{row.name ?? 'Suite'}</b>
                <span class="quiet">{counted(row.positions.length, 'entry', 'entries')}</span></span
              >
              <span role="gridcell" class="quiet">{clock(row.seconds)}</span>
            {:else if row.type === 'entry'}
              {@const item = row.item ? library.find(row.item) : null}
              <span role="gridcell" class="cut"
                ><button class="go" onclick={() => playback.startAt(row.position)}>{title}</button>
                <span class="quiet">{item ? fieldText(fieldsOf(item).artist) : 'not in the library'}</span
                ></span
              >
              <span role="gridcell" class="quiet">{item ? clock(item.facts.durationSeconds) : ''}</span>
            {/if}
            <span role="gridcell" class="acts">
              <button aria-label="Move {title} up" onclick={() => move(row, -1)}><Up size={14} /></button>
              <button aria-label="Move {title} down" onclick={() => move(row, 1)}><Down size={14} /></button>
              <button aria-label="Remove {title}" onclick={() => playback.takeOut(new Set(positionsOf(row)))}
                ><X size={14} /></button
              >
            </span>
          </div>
        {/snippet}
      </Ledger>
    </div>
    <form onsubmit={save}>
      <input class="input" aria-label="Name of the list" placeholder="Save as a list" bind:value={name} />
      <button class="btn" disabled={!library.mayWrite}>Save as a list</button>
      <button class="btn" type="button" disabled={count < 2} onclick={() => playback.clear()}>Clear</button>
    </form>
    <p class="quiet">Enter plays, Alt with ↑ ↓ moves, Delete removes.</p>
  {/if}
</div>

<style>
  .sheet-above {
    position: absolute;
    bottom: calc(100% + 14px);
    left: 0;
    z-index: 6;
    display: grid;
    gap: 8px;
    width: 520px;
    padding: 12px;
    background: var(--raised);
    border: 1px solid var(--rule-strong);
  }
  header,
  form {
    display: flex;
    align-items: center;
    gap: 10px;
  }
  header .quiet {
    flex: 1;
    min-width: 0;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  form .input {
    flex: 1;
    min-width: 0;
    height: 28px;
  }
  .list {
    display: flex;
    height: min(322px, 45vh);
    border: 1px solid var(--rule);
  }
  .head {
    background: var(--sunk);
  }
  .within {
    border-left: 3px solid var(--strip);
  }
  .go {
    font-weight: 600;
    text-align: left;
  }
  .acts {
    display: flex;
    gap: 4px;
    color: var(--ink-2);
  }
  .acts button {
    display: grid;
    place-items: center;
    width: 24px;
    height: 24px;
  }
</style>
