<script lang="ts">
  import Check from '@lucide/svelte/icons/check';
  import Cloud from '@lucide/svelte/icons/cloud';
  import Disc from '@lucide/svelte/icons/disc-3';
  import Eye from '@lucide/svelte/icons/eye';
  import Hammer from '@lucide/svelte/icons/hammer';
  import Folder from '@lucide/svelte/icons/folder';
  import Server from '@lucide/svelte/icons/server';
  import Rss from '@lucide/svelte/icons/rss';
  import type { GroupRow, Row } from '$lib/core/browse';
  import { doubleOf, kindOf, waits, type Arrival, type Item } from '$lib/core/items';
  import { folderOf, nameOf } from '$lib/core/paths';
  import { KIND_FACTS, type Origin } from '$lib/core/kinds';
  import { getSession } from '$lib/state/session.svelte';
  import PlayerMark from '$lib/ui/PlayerMark.svelte';
  import SpineLabel from '$lib/ui/SpineLabel.svelte';
  import { bytes, clock, counted } from '$lib/ui/words/amounts';
  import { evidenceWords } from '$lib/ui/words/evidence-words';
  import ItemLedger from '../frame/ItemLedger.svelte';
  import { named } from '../frame/heads';
  import { ledgerKeys } from '../frame/ledger-keys';

  /** What came in, by arrivals, with the evidence for each kind. */
  const session = getSession();
  const { library, scope, selection } = session;

  const ORIGIN_ICONS: Readonly<Record<Origin, typeof Folder>> = {
    folder: Folder,
    watched: Eye,
    disc: Disc,
    feed: Rss,
    shelf: Cloud,
    player: Server,
    made: Hammer,
  };

  /** Players that a row has room for. */
  const MOST_PLAYERS = 3;
  const players = $derived(session.players.list.slice(0, MOST_PLAYERS));

  function arrivalOf(row: GroupRow): Arrival | null {
    const id = row.level === 'arrival' ? row.items[0]?.arrival : null;
    return library.arrivals.find((arrival) => arrival.id === id) ?? null;
  }

  /** A double by what tells it from this one: its name, else where it lies. */
  const placeOf = (same: Item, item: Item) =>
    nameOf(same.path) === nameOf(item.path)
      ? `the one in ${folderOf(same.path) || 'no folder'}`
      : nameOf(same.path);
  const double = (item: Item) => doubleOf(item, (id) => library.find(id));

  /** Those that are doubles still; looked for when it is asked, since an arrival may be the whole library. */
  function selectDoubles(row: GroupRow) {
    const doubles = row.items.filter((item) => item.facts.sameAs && double(item));
    selection.set(doubles.map(({ id }) => id));
    if (doubles.length === 0) session.work.say('None of them is a duplicate any more');
  }

  const when = new Intl.DateTimeFormat('en-GB', {
    day: 'numeric',
    month: 'short',
    hour: '2-digit',
    minute: '2-digit',
  });

  function keys(event: KeyboardEvent, row: Row | null) {
    if (event.key === 'Enter' && event.shiftKey) session.kinds.confirmLikely(scope.items);
    else if (event.key === 'Enter') session.kinds.confirm(selection.items);
    else ledgerKeys(event, row, session);
  }
</script>

<ItemLedger
  label="Arrivals"
  columns="33px minmax(150px, 1.05fr) minmax(160px, 1.35fr) 72px 108px 28px"
  heads={named(['', 'File', 'Evidence, strongest first', 'Plays on', 'Kind', ''])}
  onkey={keys}
>
  {#snippet group(row)}
    {@const arrival = arrivalOf(row)}
    {@const rest = row.counts.waiting}
    <b>{arrival ? when.format(arrival.at) : row.label}</b>
    {#if arrival}
      {@const Icon = ORIGIN_ICONS[arrival.origin]}
      <Icon size={14} aria-label={`by ${arrival.origin}`} />
      <span>{row.label}</span>
    {/if}
    <span class="quiet">
      {counted(row.counts.items, 'file')}, {bytes(row.counts.bytes)}{#if arrival && arrival.setAside > 0}, {arrival.setAside}
        set aside{/if}
    </span>
    <span class="end">
      {#if rest > 0}
        <span class="waits">{rest} to confirm</span>
        <button class="act" onclick={() => session.kinds.confirm(row.items.filter(waits))}
          >Confirm {rest}</button
        >
      {:else}<span class="quiet">all confirmed</span>{/if}
      {#if row.counts.doubles > 0}
        <button class="act" onclick={() => selectDoubles(row)}>Select its duplicates</button>
      {/if}
      {#if arrival}
        <button class="act" aria-label="Take back {row.label}" onclick={() => session.takeBack(arrival)}
          >Take back</button
        >
      {/if}
    </span>
  {/snippet}
  {#snippet item(item)}
    {@const kind = kindOf(item)}
    {@const same = double(item)}
    <div class="cols" class:waiting={waits(item)}>
      <span role="gridcell"
        ><SpineLabel {kind} certainty={item.settled ? 'sure' : item.guess.certainty} /></span
      >
      <span class="path cut" role="gridcell" title={item.path}>{nameOf(item.path)}</span>
      <span class="cut" role="gridcell">
        {clock(item.facts.durationSeconds)}{#if same}
          <span class="dot">·</span>
          <span class="against" title={same.path}>the same file as {placeOf(same, item)}</span
          >{:else if session.doubles.has(item.id)}
          <span class="dot">·</span>
          <span class="against">sounds like {session.doubles.get(item.id)}</span
          >{/if}{#each item.guess.evidence.slice(0, 3) as piece (piece.code)}
          <span class="dot">·</span>
          <span class={piece.points < 0 ? 'against' : 'quiet'}
            >{piece.points < 0 ? 'but ' : ''}{evidenceWords(piece)}</span
          >{/each}
      </span>
      <span role="gridcell"
        >{#each players as desk (desk.id)}<PlayerMark
            initial={desk.rulebook.initial}
            name={desk.name}
            plays={desk.takes(item)}
          />{/each}</span
      >
      <span role="gridcell">
        {#if kind}<span class="kind {item.settled ? 'sure' : item.guess.certainty}"
            >{KIND_FACTS[kind].one}</span
          >{:else}<b class="against">open</b>{/if}
      </span>
      <span role="gridcell">
        {#if waits(item) && kind}
          <button
            class="tick"
            aria-label="Confirm {nameOf(item.path)} as {KIND_FACTS[kind].one}"
            onclick={() => session.kinds.confirm([item])}
          >
            <Check size={14} />
          </button>
        {/if}
      </span>
    </div>
  {/snippet}
</ItemLedger>
<div class="legend">
  <span><i class="sure"></i> sure</span><span><i class="likely"></i> likely</span><span
    ><i class="guess"></i> a guess</span
  >
  <span
    >{#each players as desk (desk.id)}<PlayerMark
        initial={desk.rulebook.initial}
        name={desk.name}
        plays
      />{/each} plays it as it is</span
  >
  <span class="end"
    >{scope.counts.waiting} to confirm: {scope.counts.likely} likely, {scope.counts.guesses}
    {scope.counts.guesses === 1 ? 'guess' : 'guesses'}, {scope.counts.open} open</span
  >
</div>

<style>
  .cols.waiting {
    border-left-color: var(--attention);
  }
  .against {
    color: var(--attention-ink);
  }
  .dot {
    margin: 0 3px;
    color: var(--ink-3);
  }
  .kind {
    border-bottom: 1.75px solid currentColor;
    border-color: var(--ink);
  }
  .kind.likely {
    border-bottom-style: dashed;
  }
  .kind.guess {
    border-bottom-style: dotted;
  }
  .tick {
    display: grid;
    place-items: center;
    width: 24px;
    height: 22px;
    border: 1px solid var(--rule-strong);
    background: var(--raised);
  }
  .tick:hover {
    background: var(--primary);
    color: var(--on-primary);
  }
  .waits {
    color: var(--attention-ink);
    font-weight: 600;
  }
  .legend {
    display: flex;
    align-items: center;
    gap: 20px;
    height: 30px;
    flex: none;
    padding: 0 16px;
    border-top: 1px solid var(--rule-strong);
    font-size: var(--t-small);
    color: var(--ink-2);
    background: var(--base);
  }
  .legend .end {
    margin-left: auto;
  }
  .legend span {
    display: flex;
    align-items: center;
    gap: 6px;
  }
  .legend i {
    width: 26px;
    border-top: 2px solid var(--ink);
  }
  .legend i.likely {
    border-top-style: dashed;
  }
  .legend i.guess {
    border-top-style: dotted;
  }
</style>
