<script lang="ts">
  import Check from '@lucide/svelte/icons/check';
  import ChevronDown from '@lucide/svelte/icons/chevron-down';
  import ChevronRight from '@lucide/svelte/icons/chevron-right';
  import Cloud from '@lucide/svelte/icons/cloud';
  import Disc from '@lucide/svelte/icons/disc-3';
  import Eye from '@lucide/svelte/icons/eye';
  import Folder from '@lucide/svelte/icons/folder';
  import Files from '@lucide/svelte/icons/files';
  import Rss from '@lucide/svelte/icons/rss';
  import Ship from '@lucide/svelte/icons/ship';
  import { onMount } from 'svelte';
  import { goto } from '$app/navigation';
  import { page } from '$app/state';
  import type { GroupRow, Row } from '$lib/core/browse';
  import { kindOf, nameOf, type Arrival, type Item } from '$lib/core/items';
  import { newEpisodes } from '$lib/core/feeds';
  import { KIND_FACTS, type Origin } from '$lib/core/kinds';
  import { findSection } from '$lib/core/rulebooks';
  import { givenByDemo } from '$lib/io/take-in/walk';
  import { getSession } from '$lib/state/session.svelte';
  import Ledger from '$lib/ui/Ledger.svelte';
  import PlayerMark from '$lib/ui/PlayerMark.svelte';
  import SpineLabel from '$lib/ui/SpineLabel.svelte';
  import { bytes, clock, counted } from '$lib/ui/words/amounts';
  import { evidenceWords } from '$lib/ui/words/evidence-words';
  import { ledgerKeys } from '../frame/ledger-keys';
  import { chooseFolder, takeInDrop, takeInList } from '../frame/take-in';
  import UnreadList from './UnreadList.svelte';

  const session = getSession();
  const { library, scope, selection, intake } = session;
  let hovering = $state(false);
  let picker = $state<HTMLInputElement>();
  let unreadShown = $state(false);
  /** The source whose work surface is open instead of the arrivals. */
  let source = $state<keyof typeof PANELS | null>(null);

  const PANELS = {
    disc: () => import('./DiscPanel.svelte'),
    feeds: () => import('./FeedPanel.svelte'),
    shelf: () => import('./ShelfPanel.svelte'),
    watched: () => import('./WatchPanel.svelte'),
    names: () => import('./NamesPanel.svelte'),
    check: () => import('./CheckPanel.svelte'),
  } as const;
  const ORIGIN_ICONS: Readonly<Record<Origin, typeof Folder>> = {
    folder: Folder,
    watched: Eye,
    disc: Disc,
    feed: Rss,
    shelf: Cloud,
  };
  const toggle = (panel: keyof typeof PANELS) => (source = source === panel ? null : panel);

  const newOnes = $derived(library.feeds.reduce((sum, feed) => sum + newEpisodes(feed).length, 0));
  const isDemo = $derived(page.params.library === 'demo');
  const likely = $derived(
    scope.items.filter((item) => item.settled === null && item.guess.certainty === 'likely'),
  );
  const waiting = $derived(scope.items.filter(waits));
  const unread = $derived(library.arrivals.flatMap((arrival) => arrival.unread));
  const guesses = $derived(waiting.filter(({ guess }) => guess.certainty === 'guess').length);
  const open = $derived(waiting.filter(({ guess }) => guess.kind === null).length);

  onMount(() => {
    if (isDemo && library.items.length === 0 && library.mayWrite) void loadDemo();
    // The parsers come once the board is there and idle, so that the first take-in need not wait for them.
    const warming = setTimeout(() => session.parsePool().warm(), 600);
    return () => clearTimeout(warming);
  });

  function waits(item: Item): boolean {
    return item.settled === null && item.guess.certainty !== 'sure';
  }

  async function loadDemo() {
    if (!isDemo) return goto('/demo/intake');
    await intake.takeIn([await givenByDemo(fetch)]);
  }

  function plays(item: Item): boolean {
    return findSection(session.desk.rulebook, kindOf(item))?.formats.includes(item.format) ?? false;
  }

  function arrivalOf(row: GroupRow): Arrival | null {
    const id = row.level === 'arrival' ? row.items[0]?.arrival : null;
    return library.arrivals.find((arrival) => arrival.id === id) ?? null;
  }

  const when = new Intl.DateTimeFormat('en-GB', {
    day: 'numeric',
    month: 'short',
    hour: '2-digit',
    minute: '2-digit',
  });

  function keys(event: KeyboardEvent, row: Row | null) {
    if (event.key === 'Enter' && event.shiftKey) session.confirm(likely);
    else if (event.key === 'Enter') session.confirm(selection.items);
    else ledgerKeys(event, row, session);
  }
</script>

<svelte:head><title>Intake · Lectorum</title></svelte:head>
<svelte:window
  ondragover={(event) => {
    event.preventDefault();
    hovering = true;
  }}
  ondragleave={(event) => {
    if (!event.relatedTarget) hovering = false;
  }}
  ondrop={(event) => {
    hovering = false;
    void takeInDrop(session, event);
  }}
/>
<input
  bind:this={picker}
  type="file"
  multiple
  hidden
  aria-label="Files to take in"
  onchange={(event) => void takeInList(session, event.currentTarget.files)}
/>

{#if library.items.length === 0 && unread.length === 0 && !intake.busy && source === null}
  <section class="empty">
    <h1>What has come in?</h1>
    <p>
      Drop a folder here, or choose one. Lectorum reads what is in each file, says what kind it takes it for
      and why, and leaves the files themselves alone.
    </p>
    <div class="starts">
      <button class="btn btn-primary" onclick={() => chooseFolder(session)}
        ><Folder size={16} /> Choose a folder</button
      >
      <button class="btn" onclick={() => picker?.click()}><Files size={16} /> Choose files</button>
      <button class="btn" onclick={loadDemo}><Ship size={16} /> Load the demo</button>
    </div>
    <p>
      Or start from
      <button class="act" onclick={() => toggle('disc')}>a disc</button>,
      <button class="act" onclick={() => toggle('feeds')}>a podcast feed</button>,
      <button class="act" onclick={() => toggle('shelf')}>a remote shelf</button> or
      <button class="act" onclick={() => toggle('watched')}>a watched folder</button>.
    </p>
    <p class="quiet">The demo is the household of Skerry House: a library of its own, apart from yours.</p>
  </section>
{:else}
  <div class="sources" role="toolbar" aria-label="Take in from">
    <b>Take in from</b>
    <button onclick={() => chooseFolder(session)} disabled={intake.busy}>
      <Folder size={16} /><span><b>Folder</b><small>or drop here</small></span>
    </button>
    <button onclick={() => picker?.click()} disabled={intake.busy}>
      <Files size={16} /><span><b>Files</b><small>one or more</small></span>
    </button>
    <button aria-pressed={source === 'disc'} onclick={() => toggle('disc')}>
      <Disc size={16} /><span><b>Disc</b><small>in the drive</small></span>
    </button>
    <button aria-pressed={source === 'feeds'} onclick={() => toggle('feeds')}>
      <Rss size={16} /><span
        ><b>Feeds</b><small
          >{library.feeds.length === 0 ? 'podcasts' : `${library.feeds.length} kept, ${newOnes} new`}</small
        ></span
      >
    </button>
    <button aria-pressed={source === 'shelf'} onclick={() => toggle('shelf')}>
      <Cloud size={16} /><span><b>Remote shelf</b><small>by address</small></span>
    </button>
    <button aria-pressed={source === 'watched'} onclick={() => toggle('watched')}>
      <Eye size={16} /><span
        ><b>Watched folder</b><small
          >{library.watched.length === 0 ? 'none yet' : counted(library.watched.length, 'tree')}</small
        ></span
      >
    </button>
    {#if unread.length > 0}
      <button class="bad" aria-expanded={unreadShown} onclick={() => (unreadShown = !unreadShown)}>
        <span
          ><b>{counted(unread.length, 'file')} not read</b><small
            >{unreadShown ? 'close the list' : 'see why'}</small
          ></span
        >
      </button>
    {/if}
  </div>
  {#if source !== null}
    {#await PANELS[source]() then { default: Panel }}
      <div class="back">
        <button class="act" onclick={() => (source = null)}>Back to the arrivals</button>
      </div>
      <Panel />
    {/await}
  {:else}
    <div class="title">
      <h1>Arrivals</h1>
      <span class="quiet">nothing moves until its kind is settled</span>
      <span class="titleacts">
        <button class="btn" onclick={() => toggle('names')}>Facts from names</button>
        <button class="btn" onclick={() => toggle('check')}>Check</button>
      </span>
      <button class="btn" disabled={likely.length === 0} onclick={() => session.confirm(likely)}>
        {likely.length === 0
          ? 'Nothing likely waits'
          : `Confirm ${likely.length === 1 ? 'the one' : `all ${likely.length}`} likely`}
        <span class="key">Shift Enter</span>
      </button>
    </div>
    {#if unreadShown && unread.length > 0}
      <UnreadList {unread} />
    {:else}
      <Ledger
        rows={scope.rows}
        cursor={selection.cursor}
        label="Arrivals"
        isSelected={(row) => (row.type === 'item' ? selection.ids.has(row.item.id) : false)}
        onpick={(row, how) =>
          how === 'only'
            ? selection.only(row)
            : how === 'toggle'
              ? selection.toggle(row)
              : selection.extend(scope.rows, row)}
        onkey={keys}
      >
        {#snippet head()}
          <div class="cols">
            <span></span><span role="columnheader">As it came</span><span role="columnheader"
              >Evidence, weightiest first</span
            >
            <span role="columnheader">Who takes it</span><span role="columnheader">Kind</span><span></span>
          </div>
        {/snippet}
        {#snippet row(row)}
          {#if row.type === 'group'}
            {@const arrival = arrivalOf(row)}
            {@const rest = row.items.filter(waits)}
            <div class="group" role="gridcell" style:padding-left="{16 + row.depth * 16}px">
              <button
                aria-expanded={!row.closed}
                aria-label={row.closed ? `Open ${row.label}` : `Close ${row.label}`}
                onclick={() => scope.toggle(row.key)}
              >
                {#if row.closed}<ChevronRight size={15} />{:else}<ChevronDown size={15} />{/if}
              </button>
              <b>{arrival ? when.format(arrival.at) : row.label}</b>
              {#if arrival}
                {@const Icon = ORIGIN_ICONS[arrival.origin]}
                <Icon size={14} aria-label={`by ${arrival.origin}`} />
                <span>{row.label}</span>
              {/if}
              <span class="quiet">
                {counted(row.items.length, 'file')}, {bytes(
                  row.items.reduce((sum, { size }) => sum + size, 0),
                )}{#if arrival && arrival.setAside > 0}, {arrival.setAside}
                  set aside{/if}
              </span>
              <span class="end">
                {#if rest.length > 0}
                  <span class="waits">{rest.length} {rest.length === 1 ? 'waits' : 'wait'}</span>
                  <button class="act" onclick={() => session.confirm(rest)}
                    >Confirm {rest.length === 1 ? 'it' : 'them'}</button
                  >
                {:else}<span class="quiet">all settled</span>{/if}
                {#if arrival}
                  <button
                    class="act"
                    aria-label="Take back {row.label}"
                    onclick={() => session.takeBack(arrival)}>Take back</button
                  >
                {/if}
              </span>
            </div>
          {:else}
            {@const { item } = row}
            {@const kind = kindOf(item)}
            <div class="cols item" class:waiting={waits(item)}>
              <span role="gridcell"
                ><SpineLabel {kind} certainty={item.settled ? 'sure' : item.guess.certainty} /></span
              >
              <span class="path cut" role="gridcell" title={item.path}>{nameOf(item.path)}</span>
              <span class="cut" role="gridcell">
                {clock(
                  item.facts.durationSeconds,
                )}{#each item.guess.evidence.slice(0, 3) as piece (piece.code)}
                  <span class="dot">·</span>
                  <span class={piece.points < 0 ? 'against' : 'quiet'}
                    >{piece.points < 0 ? 'but ' : ''}{evidenceWords(piece)}</span
                  >{/each}
              </span>
              <span role="gridcell"
                ><PlayerMark
                  initial={session.desk.rulebook.initial}
                  name={session.desk.rulebook.name}
                  plays={plays(item)}
                /></span
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
                    onclick={() => session.confirm([item])}
                  >
                    <Check size={14} />
                  </button>
                {/if}
              </span>
            </div>
          {/if}
        {/snippet}
      </Ledger>
      <div class="legend">
        <span><i class="sure"></i> sure</span><span><i class="likely"></i> likely</span><span
          ><i class="guess"></i> a guess</span
        >
        <span><PlayerMark initial="A" name="Attic" plays /> plays it as it is</span>
        <span class="end"
          >{waiting.length} wait: {likely.length} likely, {guesses}
          {guesses === 1 ? 'guess' : 'guesses'}, {open} open</span
        >
      </div>
    {/if}
  {/if}
{/if}
{#if hovering}<div class="drop" aria-hidden="true">Drop to take it in</div>{/if}

<style>
  .empty {
    padding: 64px 48px;
    max-width: 640px;
    display: grid;
    gap: 16px;
    font-size: var(--t-sub);
  }
  h1 {
    font-size: var(--t-title);
  }
  .starts {
    display: flex;
    gap: 8px;
  }
  .sources {
    display: flex;
    align-items: stretch;
    height: 44px;
    flex: none;
    background: var(--base);
    border-bottom: 1px solid var(--rule);
  }
  .sources > b {
    align-self: center;
    width: 78px;
    flex: none;
    padding-left: 16px;
    line-height: 1.2;
    font-family: var(--font-head);
  }
  .sources button {
    display: flex;
    align-items: center;
    gap: 6px;
    padding: 0 9px;
    white-space: nowrap;
    border-left: 1px solid var(--rule);
    text-align: left;
    line-height: 1.25;
  }
  .sources button:hover:not(:disabled) {
    background: var(--select);
  }
  .sources button span {
    display: grid;
  }
  .sources small {
    font-size: var(--t-small);
    color: var(--ink-2);
  }
  .sources button[aria-pressed='true'] {
    background: var(--primary-tint);
    box-shadow: inset 0 -3px 0 var(--primary);
  }
  .back {
    flex: none;
    padding: 6px 16px 0;
  }
  .sources .bad {
    margin-left: auto;
  }
  .bad b {
    color: var(--blocks-ink);
  }
  .title {
    display: flex;
    align-items: center;
    gap: 12px;
    height: 40px;
    flex: none;
    padding: 0 16px;
  }
  .titleacts {
    display: flex;
    gap: 8px;
    margin-left: auto;
  }
  .cols {
    display: grid;
    grid-template-columns: 33px minmax(150px, 1.05fr) minmax(160px, 1.35fr) 72px 108px 28px;
    align-items: center;
    height: 100%;
    gap: 0;
  }
  .item {
    padding: 0 16px 0 13px;
    border-left: 3px solid transparent;
  }
  .item.waiting {
    border-left-color: var(--attention);
  }
  .cut {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
    padding-right: 12px;
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
  .group {
    display: flex;
    align-items: center;
    gap: 8px;
    height: 100%;
    padding: 0 16px;
    background: var(--sunk);
    white-space: nowrap;
  }
  .group b {
    font-family: var(--font-head);
  }
  .end {
    margin-left: auto;
    display: flex;
    gap: 12px;
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
  .drop {
    position: fixed;
    inset: 8px;
    display: grid;
    place-items: center;
    border: 3px dashed var(--primary);
    background: color-mix(in oklab, var(--primary-tint) 85%, transparent);
    font: 600 24px var(--font-head);
    pointer-events: none;
    z-index: 5;
  }
</style>
