<script lang="ts">
  import { onMount } from 'svelte';
  import { KIND_OF_TYPE, type Gathering, type GatheringState } from '$lib/core/identify';
  import { getSession } from '$lib/state/session.svelte';
  import Choice from '$lib/ui/Choice.svelte';
  import Ledger from '$lib/ui/Ledger.svelte';
  import SpineLabel from '$lib/ui/SpineLabel.svelte';
  import { clock, counted } from '$lib/ui/words/amounts';
  import {
    lookUpTrouble,
    proposalReason,
    proposalWords,
    stateName,
    stateWords,
  } from '$lib/ui/words/identify-words';

  /** The sets that wait, or all of them, with what the reference proposes for each. */
  const session = getSession();
  const { identify, library, scope, selection } = session;

  const ORDER: readonly GatheringState[] = ['waits', 'said', 'matched', 'left'];
  const inScope = $derived(new Set(scope.items.map(({ id }) => id)));
  const narrowed = $derived(scope.items.length < library.items.length);
  const all = $derived(
    identify.sets.gatherings
      .filter(({ items }) => !narrowed || items.some((id) => inScope.has(id)))
      .map((gathering) => ({ key: gathering.key, gathering }))
      .sort((a, b) => ORDER.indexOf(a.gathering.state) - ORDER.indexOf(b.gathering.state)),
  );
  const waiting = $derived(all.filter(({ gathering }) => gathering.state === 'waits'));
  let shown = $state<'waiting' | 'all'>('waiting');
  const rows = $derived(shown === 'all' || waiting.length === 0 ? all : waiting);
  /** Of the sets that are looked at: nothing is accepted that is not in sight. */
  const inSight = $derived(new Set(waiting.map(({ key }) => key)));
  const sure = $derived(identify.proposals.sure.filter(({ gathering }) => inSight.has(gathering.key)));
  const sureFiles = $derived(
    sure.reduce(
      (sum, { proposal }) => sum + proposal.parts.reduce((own, { pairs }) => own + pairs.length, 0),
      0,
    ),
  );
  const { remaining, trouble } = $derived(identify.proposals);
  let cursor = $state<string | null>(null);

  onMount(() => void identify.sets.gatherNow());

  const lengthOf = ({ items }: Gathering) =>
    library.findAll(items).reduce((sum, { facts }) => sum + (facts.durationSeconds ?? 0), 0);

  function pick(row: (typeof rows)[number]) {
    cursor = row.key;
    selection.set(row.gathering.items, null);
  }
</script>

<div class="title">
  <h1>Sets</h1>
  <Choice
    label="Sets shown"
    options={[
      { value: 'waiting', name: 'To identify', note: waiting.length },
      { value: 'all', name: 'All', note: all.length },
    ]}
    value={rows === all ? 'all' : 'waiting'}
    onchoose={(value) => (shown = value)}
  />
  <span class="quiet said">
    {#if remaining > 0}asking about {counted(remaining, 'set')}{/if}
  </span>
  <button class="btn" disabled={waiting.length === 0} onclick={() => identify.sets.step(1)}>
    {waiting.length === 0 ? 'Nothing to identify' : `Compare the first of ${waiting.length}`}
  </button>
  {#if sure.length > 0}
    <button
      class="btn btn-primary"
      title={counted(sureFiles, 'file')}
      onclick={() => void identify.proposals.acceptAll(sure)}
    >
      {sure.length === 1 ? 'Accept the 1 that is sure' : `Accept all ${sure.length} that are sure`}
    </button>
  {/if}
</div>
{#if trouble}
  <p class="trouble" role="alert">
    {lookUpTrouble(trouble)}
    <button class="btn" onclick={() => identify.proposals.tryAgain()}>Ask again</button>
  </p>
{/if}
<Ledger
  {rows}
  {cursor}
  label="Sets"
  rowHeight={46}
  columns="33px minmax(140px, 1fr) 72px 76px minmax(180px, 1.4fr) 64px"
  isSelected={(row) => row.key === cursor}
  onpick={pick}
  ondrag={(row) => {
    pick(row);
    session.dragging = true;
  }}
  ondragend={() => (session.dragging = false)}
  onkey={(event, row) => {
    if (event.key === 'Enter' && row) identify.sets.open(row.key);
  }}
>
  {#snippet head()}
    <div class="cols">
      <span></span><span role="columnheader">Set</span><span role="columnheader">Files</span><span
        role="columnheader">Length</span
      ><span role="columnheader">Status</span><span></span>
    </div>
  {/snippet}
  {#snippet row({ gathering })}
    {@const proposal = gathering.state === 'waits' ? identify.proposals.of(gathering) : null}
    <div class="cols" class:waiting={gathering.state === 'waits'}>
      <span role="gridcell"><SpineLabel kind={KIND_OF_TYPE[gathering.type]} /></span>
      <span class="cut" role="gridcell"><b>{gathering.label}</b></span>
      <span role="gridcell">{counted(gathering.items.length, 'file')}</span>
      <span role="gridcell">{clock(lengthOf(gathering))}</span>
      <span class="cut" role="gridcell">
        {#if proposal}
          <span class="proposed">
            <span class:sure={!proposal.doubt}>{proposal.doubt ? 'perhaps' : 'sure'}:</span>
            {proposalWords(proposal)}
          </span>
          <small class="quiet">{proposalReason(proposal)}</small>
        {:else}
          <span class:waits={gathering.state === 'waits'}>{stateName(gathering.state)}</span>
          <span class="quiet">{stateWords(gathering)}</span>
        {/if}
      </span>
      <span role="gridcell" class="end">
        <button
          class="act"
          aria-label="Compare {gathering.label}"
          onclick={() => identify.sets.open(gathering.key)}>Compare</button
        >
      </span>
    </div>
  {/snippet}
</Ledger>

<style>
  h1 {
    font-size: var(--t-title);
  }
  .title {
    display: flex;
    align-items: center;
    gap: 12px;
    height: 40px;
    flex: none;
    padding: 0 16px;
  }
  .said {
    margin-left: auto;
  }
  .proposed,
  small {
    display: block;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  small {
    font-size: var(--t-small);
  }
  .sure {
    color: var(--settled-ink);
    font-weight: 600;
  }
  .trouble {
    display: flex;
    align-items: center;
    gap: 12px;
    flex: none;
    padding: 6px 16px;
    background: var(--blocks-tint);
    color: var(--blocks-ink);
  }
  .cols.waiting {
    border-left-color: var(--attention);
  }
  .waits {
    color: var(--attention-ink);
    font-weight: 600;
  }
  .end {
    text-align: right;
  }
</style>
