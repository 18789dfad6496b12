<script lang="ts">
  import Server from '@lucide/svelte/icons/server';
  import { onMount } from 'svelte';
  import { goto } from '$app/navigation';
  import { page } from '$app/state';
  import { format } from 'date-fns/format';
  import { KIND_FACTS } from '$lib/core/kinds';
  import type { FindingLine, Side } from '$lib/core/plan';
  import { hasToDo } from '$lib/state/player-desk.svelte';
  import { getSession } from '$lib/state/session.svelte';
  import SeverityMark from '$lib/ui/SeverityMark.svelte';
  import { counted } from '$lib/ui/words/amounts';
  import { findingWords } from '$lib/ui/words/finding-words';
  import BothSides from './BothSides.svelte';
  import PathRuler from './PathRuler.svelte';
  import ProofPanel from './ProofPanel.svelte';
  import ShelfList from './ShelfList.svelte';

  const session = getSession();
  const { desk, library } = session;
  const { rulebook } = desk;
  let mending = $state<string | null>(null);
  let trouble = $state<string | null>(null);

  const plan = $derived(desk.plan);
  const splits = $derived(new Set(plan?.splits.first.map(({ words }) => words.album ?? '')));
  const blocks = $derived(plan?.blocks ?? 0);
  const standing = $derived.by(() => {
    if (desk.trouble) return { word: 'away', detail: desk.trouble };
    if (desk.running) return { word: 'running', detail: '' };
    if (!plan) return { word: 'rehearsing', detail: '' };
    if (hasToDo(plan))
      return { word: blocks > 0 ? 'behind' : 'ready', detail: counted(plan.stepCount, 'step') };
    if (plan.held > 0) return { word: 'behind', detail: `${counted(plan.held, 'item')} held back` };
    return { word: 'current', detail: plan.current > 0 ? 'as planned' : 'nothing planned' };
  });

  onMount(() => {
    if (!desk.running) void desk.look();
  });

  async function mend(finding: FindingLine, side: Side = 'here') {
    mending = finding.id;
    trouble = null;
    try {
      const words = findingWords(finding, rulebook.name);
      const whole = await desk.finding(finding.id);
      if (!whole?.remedy) return;
      if (whole.remedy.type === 'decide') return desk.decide(whole.remedy, side);
      const byHand = await session.mend(whole.remedy, words.remedy ?? words.what);
      if (byHand) {
        session.narrow({ kind: null, text: '' });
        session.selection.set(byHand, byHand[0] ?? null);
        await goto(`/${page.params.library}/${finding.code === 'kindOpen' ? 'intake' : 'describe'}`);
      }
    } catch (error) {
      trouble = `It could not be mended: ${error instanceof Error ? error.message : String(error)}`;
    } finally {
      mending = null;
    }
  }
</script>

<svelte:head><title>Players · Lectorum</title></svelte:head>

<div class="title">
  <h1>Players</h1>
  <span class="quiet">what each would make of it, before a byte moves</span>
</div>
<div class="player">
  <Server size={16} />
  <b>{rulebook.name}</b><span class="quiet">{rulebook.about}</span>
  <span class="takes"
    >takes {rulebook.places
      .flatMap(({ kinds }) => kinds)
      .map((kind) => KIND_FACTS[kind].many)
      .join(' and ')}</span
  >
  <span class="state {standing.word}" role={desk.trouble ? 'alert' : undefined}
    >{standing.word} <small>{standing.detail}</small></span
  >
</div>

{#if library.items.length === 0}
  <section class="empty">
    <h2>Nothing to rehearse yet</h2>
    <p>
      Here a player’s own rules are run over what you plan for it, with nothing written: what it would show,
      what it would miss, and why.
    </p>
    <p><a class="btn btn-primary" href="/{page.params.library}/intake">Go to Intake</a></p>
  </section>
{:else}
  <div class="scroll">
    {#if desk.trouble}
      <p class="away" role="alert">
        {rulebook.name} does not answer: {desk.trouble}. See that it is on; the rehearsal below takes it to be
        as the last run left it.
        <button class="act" onclick={() => desk.look()}>Try again</button>
      </p>
    {/if}
    {#if desk.proof}<ProofPanel proof={desk.proof} player={rulebook.name} />{/if}
    <div class="subtitle">
      <h2>Rehearsal for {rulebook.name}</h2>
      <span class="quiet">
        {#if plan}its own rules run over {counted(plan.paths.count, 'planned file')} at {format(
            desk.plannedAt ?? 0,
            'HH:mm',
          )}; nothing written{:else}under way{/if}
      </span>
      {#if desk.target.type === 'device' && plan && plan.current > 0 && !desk.proof}
        <button class="act" onclick={() => desk.readProof()}
          >Hold it against {rulebook.name}’s own scan</button
        >
      {/if}
    </div>
    {#if plan}
      <div class="rehearsal">
        <ShelfList {plan} player={rulebook.name} {splits} onopen={(shelf) => desk.nodesOf(shelf)} />
        <div class="findings">
          {#if trouble}<p class="wrong" role="alert">{trouble}</p>{/if}
          <ul aria-label="Findings">
            {#each plan.findings.first as finding (finding.id)}
              {@const words = findingWords(finding, rulebook.name)}
              <li>
                <SeverityMark severity={finding.severity} />
                <div>
                  <b>{words.what}</b>
                  <span class="quiet why" title={finding.places.join('\n')}>{words.why}</span>
                  {#if finding.remedy === 'decide'}
                    <BothSides {finding} player={rulebook.name} load={(id) => desk.sides(id)} />
                  {/if}
                </div>
                {#if words.remedy && finding.remedy}
                  <div class="buttons">
                    <button
                      class="btn"
                      disabled={mending !== null || desk.running}
                      onclick={() => mend(finding)}>{words.remedy}</button
                    >
                    {#if words.other}
                      <button
                        class="btn"
                        disabled={mending !== null || desk.running}
                        onclick={() => mend(finding, 'there')}>{words.other}</button
                      >
                    {/if}
                  </div>
                {/if}
              </li>
            {:else}
              <li class="fine">Nothing was found: {rulebook.name} would show all of it as it was meant.</li>
            {/each}
            {#if plan.findings.count > plan.findings.first.length}
              <li class="fine">
                {counted(plan.findings.count - plan.findings.first.length, 'more finding')}; they move up as
                these are mended
              </li>
            {/if}
          </ul>
        </div>
      </div>
      <PathRuler {plan} limit={rulebook.disk.maxPath} unit={rulebook.disk.unit} player={rulebook.name} />
    {:else}
      <p class="pad quiet">Rehearsing</p>
    {/if}
  </div>
{/if}

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
  .player {
    display: flex;
    align-items: center;
    gap: 10px;
    height: var(--row-player);
    flex: none;
    padding: 0 16px;
    border-block: 1px solid var(--rule);
    background: var(--select);
  }
  .player b {
    font: 600 var(--t-sub) var(--font-head);
  }
  .takes {
    margin-left: auto;
    color: var(--ink-2);
  }
  .state {
    width: 190px;
    font-weight: 600;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .state small {
    font-weight: 400;
    font-size: var(--t-body);
    color: var(--ink-2);
  }
  .current,
  .ready {
    color: var(--settled-ink);
  }
  .behind,
  .away {
    color: var(--attention-ink);
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
    grid-template-columns: minmax(260px, 5fr) 8fr;
    gap: 20px;
    padding: 0 16px;
    align-items: start;
  }
  .findings {
    min-width: 0;
  }
  li {
    display: grid;
    grid-template-columns: 76px 1fr auto;
    align-items: center;
    gap: 8px;
    min-height: 44px;
    padding: 4px 0;
    border-bottom: 1px solid var(--rule);
    font-size: var(--t-read);
  }
  li.fine {
    display: block;
    padding: 12px 0;
    color: var(--settled-ink);
  }
  li div {
    display: grid;
    min-width: 0;
  }
  li .buttons {
    gap: 4px;
    justify-items: stretch;
  }
  .why {
    font-size: var(--t-small);
    overflow-wrap: anywhere;
    display: -webkit-box;
    -webkit-line-clamp: 3;
    line-clamp: 3;
    -webkit-box-orient: vertical;
    overflow: hidden;
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
</style>
