<script lang="ts">
  import Down from '@lucide/svelte/icons/arrow-down';
  import Up from '@lucide/svelte/icons/arrow-up';
  import Check from '@lucide/svelte/icons/check';
  import { untrack } from 'svelte';
  import { scopeTest } from '$lib/core/browse';
  import { fieldText, fieldsOf, kindOf, titleOf, type Item } from '$lib/core/items';
  import {
    doublesIn,
    entriesOf,
    joinSuite,
    layTo,
    moveBy,
    moveTo,
    newHandList,
    partSuites,
    shuffled,
    sortOnce,
    takeOut,
    type Changed,
    type FetchFrom,
    type HandList,
    type ListEntry,
    type ListId,
    type ListOrderKey,
    type PlayList,
    type Suite,
  } from '$lib/core/lists';
  import { newId } from '$lib/io/new-id';
  import { ListSelection } from '$lib/state/lists/list-selection.svelte';
  import { foundRows, handRows, positionsOf, type ListRow } from '$lib/state/lists/list-rows';
  import { getSession } from '$lib/state/session.svelte';
  import Ledger from '$lib/ui/Ledger.svelte';
  import SpineLabel from '$lib/ui/SpineLabel.svelte';
  import { clock, counted } from '$lib/ui/words/amounts';
  import { ORDER_KEYS, orderWords, ruleProblemWords } from '$lib/ui/words/list-words';
  import ListFoot from './ListFoot.svelte';
  import MirrorBar from './MirrorBar.svelte';
  import MatchSheet from './MatchSheet.svelte';
  import ListTitle from './ListTitle.svelte';
  import RuleBar from './RuleBar.svelte';
  import SuiteHead from './SuiteHead.svelte';

  /** One list: its entries in their order, and what can be done with them. */
  let { list, isNew }: { list: PlayList; isNew: boolean } = $props();
  const session = getSession();
  const { lists, library, scope, selection, playback, work } = session;
  const own = new ListSelection(selection);

  const hand = $derived(list.type === 'hand' ? list : null);
  const digest = $derived(lists.digests.get(list.id) ?? null);
  const isNarrowed = $derived(scope.scope.kind !== null || scope.scope.text.trim() !== '');
  const isShown = $derived.by(() => {
    if (!isNarrowed) return null;
    const meets = scopeTest(scope.scope, lists.world);
    return (item: Item | null) => item !== null && meets(item);
  });
  const rows = $derived.by((): readonly ListRow[] => {
    const own = hand;
    const found = lists.listed;
    const beyond = digest?.beyond ?? 0;
    const isOf = isShown;
    // An edit draws the rows on screen anew; only what is narrowed is another list by it.
    if (isNarrowed) void library.items;
    const find = library.find.bind(library);
    return untrack(() =>
      own ? handRows(own, find, isOf) : found ? foundRows(found, beyond, find, isOf) : [],
    );
  });
  const shown = $derived(rows.reduce((sum, { type }) => sum + Number(type === 'entry'), 0));
  const doubles = $derived(hand ? doublesIn(hand) : new Set<number>());
  /** What of it was played to its end since its marks were cleared. */
  const played = $derived(new Set(library.marks.find((marks) => marks.list === list.id)?.items ?? []));
  const mayMove = $derived(hand !== null && !isNarrowed && library.mayWrite);
  const picked = $derived(own.positions.size);
  /** The open entry that is selected alone. */
  const openAt = $derived.by(() => {
    const [position] = own.positions;
    const entry = hand && picked === 1 && position !== undefined ? entriesOf(hand)[position] : undefined;
    return entry && 'open' in entry && position !== undefined ? { position, said: entry.open } : null;
  });
  let matching = $state.raw<typeof openAt>(null);
  /** Selected entries that wait elsewhere to be fetched; all of them where nothing is selected. */
  const fetchable = $derived.by((): readonly FetchFrom[] => {
    if (!hand) return [];
    return entriesOf(hand).flatMap((entry, position) =>
      'open' in entry && entry.open.from && (picked === 0 || own.positions.has(position))
        ? entry.open.from
        : [],
    );
  });
  let fetching = $state(false);

  /** Each becomes an item where it stands. */
  async function fetch() {
    fetching = true;
    const { name, id } = list;
    const count = fetchable.length;
    try {
      const { fetchEntries } = await import('$lib/state/lists/fetch-entries');
      const { come, trouble } = await fetchEntries(session, id, fetchable);
      const left = count - come;
      const words = `${come} of ${counted(count, 'entry', 'entries')} of ${name} fetched`;
      work.say(left === 0 ? words : `${words}; ${trouble ?? 'see Intake for what did not come'}`, left > 0);
    } finally {
      fetching = false;
    }
  }

  function change(label: string, next: Changed) {
    if (!hand || next.list === hand) return;
    lists.keep(next.list, label);
    own.follow(next);
  }

  function remove() {
    if (picked === 0) return;
    if (hand) {
      const what = counted(picked, 'entry', 'entries');
      lists.keep(takeOut(hand, own.positions), `Remove ${what} from ${hand.name}`);
      work.say(`${what} removed from ${hand.name}`);
    } else if (list.type === 'rule') drop(list);
    own.clear();
  }

  /** Dropped items stay out, and the next ones move up. */
  function drop(rule: Extract<PlayList, { type: 'rule' }>) {
    const ids = selection.items.map(({ id }) => id);
    const what = counted(ids.length, 'item');
    lists.keep(
      { ...rule, dropped: [...new Set([...rule.dropped, ...ids])] },
      `Drop ${what} from ${rule.name}`,
    );
    work.say(`${what} dropped from ${rule.name}; the next ones move up`);
  }

  function join() {
    if (hand && picked > 0)
      change(`One suite of ${picked} in ${hand.name}`, joinSuite(hand, own.positions, null));
  }

  function part() {
    if (hand) lists.keep(partSuites(hand, own.positions), `Split suites of ${hand.name}`);
  }

  function sort(by: ListOrderKey) {
    if (!hand) return;
    lists.keep(sortOnce(hand, lists.comparing(by)), `Sort ${hand.name} by ${orderWords(by)}`);
    own.clear();
  }

  /** A rule list as it is now, by hand from here on. */
  function freeze() {
    const items = lists.listed?.items ?? [];
    // The list that is shown is another one once the new one is chosen.
    const { name, group } = list;
    const id = newId() as ListId;
    const frozen: HandList = {
      ...newHandList(id, `${name}, ${new Date().toLocaleDateString('en-GB')}`),
      group,
      suites: items.map((item) => ({ name: null, entries: [{ item }] })),
    };
    lists.keep(frozen, `List ${frozen.name}`);
    lists.choose(id);
    work.say(`${frozen.name} holds what ${name} holds now; you change it by hand`);
  }

  /** What of it is played, and the places of that in the list: its suites as they are, of those in scope where that is narrower. */
  function playedNow(): { readonly suites: readonly Suite[]; readonly places: readonly number[] | null } {
    if (hand && !isNarrowed) return { suites: hand.suites, places: null };
    const shownItems = rows.flatMap((row) =>
      row.type === 'entry' && row.item && !row.isBeyond ? { item: row.item, at: row.position } : [],
    );
    return {
      suites: shownItems.map(({ item }) => ({ name: null, entries: [{ item }] })),
      places: shownItems.map(({ at }) => at),
    };
  }

  /** Plays it from a place on; from the first that was not played yet where none is told. */
  async function play(position: number | null) {
    const { suites, places } = playedNow();
    const unplayed = entriesOf({ suites }).findIndex((entry) => 'item' in entry && !played.has(entry.item));
    // Once all was played it begins anew.
    if (position === null && unplayed < 0) library.clearMarks(list.id, null);
    const at = position === null ? unplayed : places ? places.indexOf(position) : position;
    await playback.begin(suites, Math.max(0, at), list.id);
  }

  /** Plays suites in a chance order: none again before all were played. */
  async function playShuffled() {
    const isPlayed = ({ entries }: Suite) => entries.every((one) => 'item' in one && played.has(one.item));
    const { suites: all } = playedNow();
    let left = all.filter((suite) => !isPlayed(suite));
    if (left.length === 0) {
      library.clearMarks(list.id, null);
      left = [...all];
    }
    await playback.begin(shuffled(left, Math.random), 0, list.id);
  }

  /** Clears the marks of what is selected, or of all. */
  function clearMarks() {
    const ids = new Set(selection.items.map(({ id }) => id));
    library.clearMarks(
      list.id,
      picked > 0 ? ids : null,
      `Clear played marks ${picked > 0 ? `of ${counted(picked, 'entry', 'entries')} ` : ''}in ${list.name}`,
    );
  }

  function keydown(event: KeyboardEvent, row: ListRow | null) {
    const by = event.altKey ? ({ ArrowUp: -1, ArrowDown: 1 } as const)[event.key] : undefined;
    if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'a') own.all(rows);
    else if (by !== undefined && hand && mayMove)
      change(`Move in ${hand.name}`, moveBy(hand, own.positions, by));
    else if (event.key === 'Delete') remove();
    else if (event.key === 'Enter' && row?.type === 'entry' && row.item) void play(row.position);
    else if (event.key === 'Escape') own.clear();
    else return;
    event.preventDefault();
  }

  function drag(row: ListRow) {
    if (!positionsOf(row).every((one) => own.positions.has(one))) own.pick(rows, row, 'only');
  }

  function letGo(row: ListRow, half: 'upper' | 'lower') {
    if (!hand || !mayMove) return;
    const at = positionsOf(row);
    const [first, last] = [at[0], at.at(-1)];
    if (first === undefined || last === undefined) return;
    // Below the head of a suite means into it.
    const before = half === 'upper' ? first : row.type === 'suite' ? first : last + 1;
    change(`Move in ${hand.name}`, moveTo(hand, own.positions, before));
  }

  const isSelected = (row: ListRow) => {
    const at = positionsOf(row);
    return at.length > 0 && at.every((one) => own.positions.has(one));
  };
  const openText = (entry: ListEntry | undefined) =>
    entry && 'open' in entry ? (entry.open.title ?? entry.open.path) : '';
</script>

<section class="list" aria-label="List {list.name}">
  <ListTitle {list} {isNew} />
  {#if list.type === 'rule'}<RuleBar rule={list} />{/if}
  {#if list.type === 'mirror'}<MirrorBar {list} />{/if}
  {#if digest?.problem}
    <p class="trouble" role="alert">{ruleProblemWords(digest.problem, list.name)}</p>
  {/if}
  <div class="tools">
    <button class="btn" disabled={shown === 0} onclick={() => play(null)}>Play</button>
    <button class="btn" disabled={shown === 0} onclick={playShuffled}>Shuffle</button>
    {#if hand}
      <button
        class="btn"
        disabled={!mayMove || picked === 0}
        aria-label="Move up"
        title="Move up"
        aria-keyshortcuts="Alt+ArrowUp"
        onclick={() => hand && change(`Move in ${hand.name}`, moveBy(hand, own.positions, -1))}
        ><Up size={15} /></button
      >
      <button
        class="btn"
        disabled={!mayMove || picked === 0}
        aria-label="Move down"
        title="Move down"
        aria-keyshortcuts="Alt+ArrowDown"
        onclick={() => hand && change(`Move in ${hand.name}`, moveBy(hand, own.positions, 1))}
        ><Down size={15} /></button
      >
      <button class="btn" disabled={!mayMove || picked < 2} onclick={join}>Make one suite</button>
      <button class="btn" disabled={!mayMove || picked === 0} onclick={part}>Split suite</button>
      <select
        class="select"
        aria-label="Sort once by"
        disabled={!mayMove}
        onchange={(event) => {
          const by = event.currentTarget.value as ListOrderKey | '';
          event.currentTarget.value = '';
          if (by) sort(by);
        }}
      >
        <option value="">Sort by</option>
        {#each ORDER_KEYS as by (by)}<option value={by}>{orderWords(by)}</option>{/each}
      </select>
      {#if fetchable.length > 0}
        <button class="btn" disabled={!library.mayWrite || fetching || session.intake.busy} onclick={fetch}
          >{fetching ? 'Fetching' : `Fetch ${counted(fetchable.length, 'entry', 'entries')}`}</button
        >
      {/if}
      {#if openAt !== null}
        <button class="btn" disabled={!mayMove} onclick={() => (matching = openAt)}>Match to an item</button>
      {/if}
      {#if doubles.size > 0}
        <button
          class="btn"
          disabled={!mayMove}
          onclick={() => hand && lists.keep(takeOut(hand, doubles), `Remove duplicates from ${hand.name}`)}
          >Remove {counted(doubles.size, 'duplicate')}</button
        >
      {/if}
    {/if}
    {#if list.type !== 'mirror'}
      <button class="btn" disabled={picked === 0 || shown === 0 || !library.mayWrite} onclick={remove}
        >{hand ? 'Remove' : 'Drop'} {picked > 0 ? counted(picked, 'entry', 'entries') : ''}</button
      >
    {/if}
    {#if played.size > 0}
      <button class="btn" disabled={!library.mayWrite} onclick={clearMarks}
        >Clear {picked > 0 ? 'its' : 'all'} played marks</button
      >
    {/if}
    {#if list.type === 'rule'}
      <button class="btn" disabled={shown === 0 || !library.mayWrite} onclick={freeze}>Freeze a copy</button>
      {#if list.dropped.length > 0}
        <button
          class="btn"
          disabled={!library.mayWrite}
          onclick={() =>
            list.type === 'rule' &&
            lists.keep({ ...list, dropped: [] }, `Restore dropped items of ${list.name}`)}
          >Restore {list.dropped.length} dropped</button
        >
      {/if}
    {/if}
  </div>
  {#if rows.length === 0}
    <p class="none quiet">
      {#if !hand && lists.listed === null}Looking for what belongs here.
      {:else if isNarrowed && (digest?.count ?? 0) > 0}Nothing in this list is in scope. Widen the scope above
        to see its {counted(digest?.count ?? 0, 'entry', 'entries')}.
      {:else if hand}This list is empty. Select items on any board and press P, or use the field on the card.
      {:else if list.type === 'rule'}{digest?.problem
          ? 'Nothing is listed until the rule is corrected.'
          : 'No item meets this rule.'}
      {:else}Nothing lies in this folder now.{/if}
    </p>
  {:else}
    <Ledger
      {rows}
      cursor={own.cursor}
      label="Entries of {list.name}"
      columns="46px 30px minmax(120px, 1.4fr) minmax(90px, 1fr) minmax(80px, 1fr) 58px"
      {isSelected}
      onpick={(row, how) => own.pick(rows, row, how)}
      onkey={keydown}
      ondrag={mayMove ? drag : undefined}
      ondrop={mayMove ? letGo : undefined}
    >
      {#snippet row(row)}
        {#if row.type === 'suite'}
          <SuiteHead list={hand as HandList} {row} mayWrite={mayMove} />
        {:else if row.type === 'limit'}
          <div class="limit quiet" role="gridcell">
            beyond the limit: {counted(row.beyond, 'item')}{row.shown < row.beyond
              ? `, the first ${row.shown} shown`
              : ''}
          </div>
        {:else}
          {@const item = row.item && library.find(row.item)}
          {@const { open } = row}
          <div class="cols" class:within={row.inSuite} class:beyond={row.isBeyond}>
            <span class="number" role="gridcell"
              >{#if row.item && played.has(row.item)}<Check
                  size={13}
                  aria-label="played"
                />{/if}{row.position + 1}</span
            >
            <span role="gridcell"
              >{#if item}<SpineLabel
                  kind={kindOf(item)}
                  certainty={item.settled ? 'sure' : item.guess.certainty}
                  height={22}
                />{/if}</span
            >
            {#if item}
              {@const fields = fieldsOf(item)}
              <span class="cut" role="gridcell"
                ><b>{titleOf(item)}</b>{#if doubles.has(row.position)}
                  <span class="double">duplicate</span>{/if}</span
              >
              <span class="cut" role="gridcell">{fieldText(fields.artist)}</span>
              <span class="cut quiet" role="gridcell">{fields.album ?? fields.show ?? ''}</span>
              <span class="number" role="gridcell">{clock(item.facts.durationSeconds)}</span>
            {:else}
              <span class="cut open" role="gridcell"
                >{open ? openText({ open }) : 'an item that is no longer in the library'}</span
              >
              <span class="cut" role="gridcell">{open?.artist ?? (open?.from ? '' : 'not found')}</span>
              <span class="cut quiet" role="gridcell"
                >{open?.from ? 'not fetched yet' : (open?.path ?? '')}</span
              >
              <span class="number" role="gridcell">{open?.seconds ? clock(open.seconds) : ''}</span>
            {/if}
          </div>
        {/if}
      {/snippet}
    </Ledger>
  {/if}
  {#if matching && hand}
    <MatchSheet
      open={matching.said}
      onclose={() => (matching = null)}
      onchoose={(item) => {
        if (hand && matching)
          lists.keep(layTo(hand, matching.position, item.id), `Match an entry of ${hand.name}`);
        matching = null;
      }}
    />
  {/if}
  <ListFoot
    {list}
    {digest}
    played={played.size}
    count={hand ? entriesOf(hand).length : (digest?.count ?? 0)}
  />
</section>

<style>
  .list {
    display: flex;
    flex-direction: column;
    min-height: 0;
    min-width: 0;
  }
  .tools {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 6px;
    flex: none;
    padding: 2px 16px 8px;
    border-bottom: 1px solid var(--rule);
  }
  .tools .select {
    width: 104px;
    height: 28px;
    font-size: inherit;
  }
  .none {
    flex: 1;
    padding: 24px 16px;
    font-size: var(--t-read);
  }
  .number {
    white-space: nowrap;
    text-align: right;
    padding-right: 10px;
    color: var(--ink-2);
  }
  .number :global(svg) {
    display: inline;
    vertical-align: -2px;
  }
  .within {
    border-left-color: var(--strip) !important;
  }
  .beyond {
    color: var(--ink-3);
  }
  .beyond b {
    font-weight: 400;
  }
  .limit {
    display: flex;
    align-items: center;
    height: 100%;
    padding: 0 16px;
    background: var(--sunk);
    border-top: 1px solid var(--rule-strong);
  }
  .open,
  .double {
    color: var(--attention-ink);
  }
</style>
