<script lang="ts">
  import Plus from '@lucide/svelte/icons/plus';
  import { onMount } from 'svelte';
  import { goto } from '$app/navigation';
  import { page } from '$app/state';
  import { format } from 'date-fns/format';
  import type { ItemId } from '$lib/core/items';
  import type { FindingLine, LeftOutWhy, Side, WayApart } from '$lib/core/plan';
  import type { PlayerDesk } from '$lib/state/player/desk.svelte';
  import { getSession } from '$lib/state/session.svelte';
  import { counted } from '$lib/ui/words/amounts';
  import { findingWords, wayWords } from '$lib/ui/words/finding-words';
  import AddPlayer from './AddPlayer.svelte';
  import FindingList from './FindingList.svelte';
  import ListsShown from './ListsShown.svelte';
  import PathRuler from './PathRuler.svelte';
  import PlayerTable from './PlayerTable.svelte';
  import ProofPanel from './ProofPanel.svelte';
  import RulebookPanel from './RulebookPanel.svelte';
  import ShelfList from './ShelfList.svelte';

  const session = getSession();
  const { players, library } = session;
  const desk = $derived(session.desk);
  let mending = $state<string | null>(null);
  let trouble = $state<string | null>(null);
  let adding = $state(false);
  let reading = $state(false);
  let scroller = $state<HTMLElement>();

  const plan = $derived(desk.rehearsal.plan);
  const splits = $derived(new Set(plan?.splits.first.map(({ words }) => words.album ?? '')));

  onMount(() => players.lookAgain());

  function choose(one: PlayerDesk) {
    trouble = null;
    session.choosePlayer(one.id);
  }

  /** Where what is to be done by hand is done. */
  const stationOf = (finding: FindingLine) =>
    finding.remedy === 'identify'
      ? 'identify'
      : finding.code === 'kindOpen' || finding.code === 'noSection'
        ? 'intake'
        : 'describe';

  async function mend(finding: FindingLine, choice: Side | WayApart | 'away' = 'here') {
    mending = finding.id;
    trouble = null;
    try {
      const words = findingWords(finding, desk.name);
      const whole = await desk.rehearsal.finding(finding.id);
      if (!whole?.remedy) return;
      const { remedy } = whole;
      if (remedy.type === 'decide' && choice === 'away') return desk.decisions.removeOthers(remedy);
      if (remedy.type === 'decide')
        return desk.decisions.decide(remedy, choice === 'there' ? 'there' : 'here');
      if (remedy.type === 'part') {
        const way = remedy.ways[choice as WayApart];
        if (way) desk.decisions.choose(way, wayWords(choice as WayApart, finding.words));
        return;
      }
      const byHand = await session.mend(remedy, words.remedy ?? words.what);
      if (byHand) {
        session.narrow({ kind: null, text: '' });
        session.selection.set(byHand, byHand[0] ?? null);
        await goto(`/${page.params.library}/${stationOf(finding)}`);
      }
    } catch (error) {
      trouble = `It could not be fixed: ${error instanceof Error ? error.message : String(error)}`;
    } finally {
      mending = null;
    }
  }

  /** Does what lets entries of a list onto the player. */
  async function mendList(why: LeftOutWhy, items: readonly ItemId[], list: string) {
    switch (why) {
      case 'unselected':
        return desk.decisions.have(
          items,
          `Let ${counted(items.length, 'item')} of ${list} onto ${desk.name}`,
        );
      case 'leftOut':
        return desk.decisions.letIn(items, `Let ${counted(items.length, 'item')} of ${list} in again`);
      case 'twin':
        await session.mend({ type: 'makeTwins', items }, `Convert what ${list} needs`);
        return;
      default:
        session.narrow({ kind: null, text: '' });
        session.selection.set(items, items[0] ?? null);
        await goto(`/${page.params.library}/describe`);
    }
  }
</script>

<svelte:head><title>Players · Lectorum</title></svelte:head>

<div class="title">
  <h1>Players</h1>
  <ul class="legend" aria-label="Legend">
    <li><i class="now"></i>there now</li>
    <li><i class="adds"></i>the run adds</li>
    <li><i class="removes"></i>the run removes</li>
    <li><i class="limit"></i>its limit</li>
  </ul>
  <button class="btn add" disabled={!library.mayWrite} onclick={() => (adding = true)}
    ><Plus size={15} /> Add a player</button
  >
</div>
<PlayerTable players={players.list} chosen={desk} onchoose={choose} />

{#if library.items.length === 0}
  <section class="empty">
    <h2>Nothing to rehearse yet</h2>
    <p>
      A rehearsal applies each player’s own rules to your plan without writing anything: what it would show,
      what it would miss, and why.
    </p>
    <p><a class="btn btn-primary" href="/{page.params.library}/intake">Go to Intake</a></p>
  </section>
{:else}
  <!-- svelte-ignore a11y_no_noninteractive_tabindex (what scrolls is moved through by keys) -->
  <div class="scroll" bind:this={scroller} role="region" aria-label="Rehearsal" tabindex="0">
    {#if desk.trouble}
      <p class="away" role="alert">
        {desk.name} does not answer: {desk.trouble}. Check that it is on. The rehearsal below assumes that it
        is
        {desk.place.seenAt === null
          ? 'as the last run left it'
          : `as it was when it was last seen, ${format(desk.place.seenAt, 'd MMMM HH:mm')}`}, and it is looked
        at again before anything is written.
        <button class="act" onclick={() => desk.look()}>Try again</button>
      </p>
    {/if}
    {#if desk.runs.proof}<ProofPanel proof={desk.runs.proof} player={desk.name} />{/if}
    <div class="subtitle">
      <h2>Rehearsal for {desk.name}</h2>
      <span class="quiet">
        {#if plan}its rules applied to {counted(plan.paths.count, 'planned file')} at {format(
            desk.rehearsal.at ?? 0,
            'HH:mm',
          )}; nothing written{:else}in progress{/if}
      </span>
      <span class="links">
        {#if desk.place.can.scansItself && plan && plan.current > 0 && !desk.runs.proof}
          <button class="act" onclick={() => desk.runs.readProof()}
            >Compare with {desk.name}’s own scan</button
          >
        {/if}
        <button class="act" onclick={() => (reading = true)}>Show rulebook</button>
      </span>
    </div>
    {#if plan}
      <div class="rehearsal">
        <div class="shown">
          <ShelfList {plan} player={desk.name} {splits} onopen={(shelf) => desk.rehearsal.nodesOf(shelf)} />
          {#key desk}
            <ListsShown
              lists={plan.lists}
              player={desk.name}
              locked={desk.runs.isRunning || !library.mayWrite}
              onmend={mendList}
            />
          {/key}
        </div>
        <div class="findings">
          {#if trouble}<p class="wrong" role="alert">{trouble}</p>{/if}
          {#key desk}
            <FindingList
              {desk}
              {plan}
              {scroller}
              busy={mending !== null || desk.runs.isRunning}
              onmend={mend}
            />
          {/key}
        </div>
      </div>
      <PathRuler
        {plan}
        limit={desk.rulebook.disk.maxPath}
        unit={desk.rulebook.disk.unit}
        player={desk.name}
      />
    {:else}
      <p class="pad quiet">Rehearsing</p>
    {/if}
  </div>
{/if}

{#if adding}<AddPlayer {players} onclose={() => (adding = false)} />{/if}
{#if reading}<RulebookPanel {desk} onclose={() => (reading = false)} />{/if}

<style>
  h1 {
    font-size: var(--t-title);
  }
  h2 {
    font-size: var(--t-sub);
  }
  .title,
  .subtitle {
    display: flex;
    align-items: center;
    gap: 12px;
    min-height: 40px;
    flex: none;
    padding: 0 16px;
  }
  .add,
  .links {
    margin-left: auto;
  }
  .links {
    display: flex;
    gap: 16px;
  }
  .legend {
    display: flex;
    gap: 14px;
    font-size: var(--t-small);
    color: var(--ink-2);
  }
  .legend li {
    display: flex;
    align-items: center;
    gap: 5px;
  }
  i {
    width: 18px;
    height: 10px;
    border: 1px solid var(--ink-2);
  }
  i.now {
    background: var(--ink-2);
  }
  i.removes {
    background: repeating-linear-gradient(135deg, var(--ink-2) 0 2px, transparent 2px 5px);
  }
  i.limit {
    width: 2px;
    height: 14px;
    border: 0;
    background: var(--ink);
  }
  .scroll {
    flex: 1;
    min-height: 0;
    overflow-y: auto;
  }
  p.away {
    margin: 12px 16px 0;
    padding: 8px 12px;
    background: var(--attention-tint);
    font-size: var(--t-read);
  }
  .rehearsal {
    display: grid;
    grid-template-columns: minmax(240px, 4fr) 7fr;
    gap: 20px;
    padding: 0 16px;
    align-items: start;
  }
  .shown {
    display: grid;
    grid-template-columns: minmax(0, 1fr);
    gap: 16px;
    min-width: 0;
  }
  .findings {
    min-width: 0;
  }
  .empty {
    display: grid;
    gap: 16px;
    padding: 48px;
    max-width: 620px;
    font-size: var(--t-sub);
  }
  .wrong {
    color: var(--blocks-ink);
    padding: 6px 0;
  }
  .pad {
    padding: 16px;
  }
  @media (max-width: 760px) {
    .rehearsal {
      grid-template-columns: minmax(0, 1fr);
    }
  }
</style>
