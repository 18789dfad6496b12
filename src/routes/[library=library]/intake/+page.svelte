<script lang="ts">
  import { onMount } from 'svelte';
  import { goto } from '$app/navigation';
  import { page } from '$app/state';
  import type { UnreadFile } from '$lib/core/items';
  import { givenByDemo } from '$lib/io/take-in/walk';
  import { getSession } from '$lib/state/session.svelte';
  import { chooseFolder, takeInDrop, takeInList } from '../frame/take-in';
  import ArrivalLedger from './ArrivalLedger.svelte';
  import FirstVisit from './FirstVisit.svelte';
  import { PANELS, type PanelName } from './panels';
  import SourceBar from './SourceBar.svelte';
  import UnreadList from './UnreadList.svelte';

  const session = getSession();
  const { library, scope, intake } = session;
  let hovering = $state(false);
  let picker = $state<HTMLInputElement>();
  let unreadShown = $state(false);
  /** The work surface that is open instead of the arrivals. */
  let panel = $state<PanelName | null>(null);

  /** Ways in whose rows are no items of the library yet. */
  const OUTSIDE: ReadonlySet<PanelName | null> = new Set(['disc', 'feeds', 'shelf', 'watched']);
  $effect(() => {
    session.aside = OUTSIDE.has(panel);
    return () => (session.aside = false);
  });

  const toggle = (name: PanelName) => (panel = panel === name ? null : name);
  const isDemo = $derived(page.params.library === 'demo');
  const likely = $derived(scope.counts.likely);
  const aside = $derived(
    library.arrivals.flatMap(({ label, setAside, aside: paths = [] }) =>
      setAside > 0 && paths.length > 0 ? { label, count: setAside, paths } : [],
    ),
  );
  const unread = $derived(library.arrivals.flatMap((arrival) => arrival.unread));
  /** They are there once: nothing is missing. */
  const doubles = $derived(unread.filter(({ code }) => code === 'double').length);

  onMount(() => {
    if (isDemo && library.items.length === 0 && library.mayWrite) void loadDemo();
  });

  /** Parsers load once somebody is about to take something in, so that the first take-in need not wait for them. */
  const warm = () => session.parsePool().warm();

  async function takeEvenCut(file: UnreadFile): Promise<string | null> {
    const arrival = library.arrivals.find((one) => one.unread.includes(file));
    return arrival ? intake.takeEvenCut(arrival, file.path) : 'its arrival was removed';
  }

  async function loadDemo() {
    if (!isDemo) return goto('/demo/intake');
    const taken = await intake.takeIn([await givenByDemo(fetch)]);
    // It was asked for twice: what belongs to it is settled by the one that took it in.
    if (!taken || taken.added === 0) return;
    const { settleHousehold } = await import('$lib/state/demo/household');
    await settleHousehold(library, (item) => session.openFile(item));
    await session.players.open();
  }
</script>

<svelte:head><title>Intake · Lectorum</title></svelte:head>
<svelte:window
  onpointerdown={warm}
  onkeydown={warm}
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

{#if library.items.length === 0 && unread.length === 0 && !intake.busy && panel === null}
  <FirstVisit
    onfolder={() => chooseFolder(session)}
    onfiles={() => picker?.click()}
    ondemo={loadDemo}
    onpanel={toggle}
  />
{:else}
  <SourceBar
    open={panel}
    unreadCount={unread.length - doubles}
    asideCount={aside.reduce((sum, { count }) => sum + count, doubles)}
    {unreadShown}
    onopen={toggle}
    onfiles={() => picker?.click()}
    onunread={() => {
      unreadShown = panel !== null || !unreadShown;
      panel = null;
    }}
  />
  {#if panel !== null}
    {#await PANELS[panel]() then { default: Panel }}
      <div class="back">
        <button class="act" onclick={() => (panel = null)}>Back to the arrivals</button>
      </div>
      <Panel />
    {/await}
  {:else}
    <div class="title">
      <h1>Arrivals</h1>
      <span class="quiet">confirm what each file is before it goes anywhere</span>
      <span class="titleacts">
        <button class="btn" onclick={() => toggle('names')}>Fields from names</button>
        <button class="btn" onclick={() => toggle('check')}>Check</button>
      </span>
      <button class="btn" disabled={likely === 0} onclick={() => session.kinds.confirmLikely(scope.items)}>
        {likely === 0
          ? 'Nothing likely to confirm'
          : `Confirm ${likely === 1 ? 'the one' : `all ${likely}`} likely`}
        <span class="key">Shift Enter</span>
      </button>
    </div>
    {#if unreadShown && unread.length + aside.length > 0}
      <UnreadList {unread} {aside} onTake={takeEvenCut} />
    {:else}
      <ArrivalLedger />
    {/if}
  {/if}
{/if}
{#if hovering}<div class="drop" aria-hidden="true">Drop files to take them in</div>{/if}

<style>
  .back {
    flex: none;
    padding: 6px 16px 0;
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
