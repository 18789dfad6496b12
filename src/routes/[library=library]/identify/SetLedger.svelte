<script lang="ts">
  import { onMount } from 'svelte';
  import { KIND_OF_TYPE, type Gathering, type GatheringState } from '$lib/core/identify';
  import { getSession } from '$lib/state/session.svelte';
  import Ledger from '$lib/ui/Ledger.svelte';
  import SpineLabel from '$lib/ui/SpineLabel.svelte';
  import { clock, counted } from '$lib/ui/words/amounts';
  import { stateName, stateWords } from '$lib/ui/words/identify-words';

  /** Every gathering, those that wait first. */
  const session = getSession();
  const { identify, library, scope, selection } = session;

  const ORDER: readonly GatheringState[] = ['waits', 'said', 'matched', 'left'];
  const inScope = $derived(new Set(scope.items.map(({ id }) => id)));
  const narrowed = $derived(scope.items.length < library.items.length);
  const rows = $derived(
    identify.sets.gatherings
      .filter(({ items }) => !narrowed || items.some((id) => inScope.has(id)))
      .map((gathering) => ({ key: gathering.key, gathering }))
      .sort((a, b) => ORDER.indexOf(a.gathering.state) - ORDER.indexOf(b.gathering.state)),
  );
  const waiting = $derived(rows.filter(({ gathering }) => gathering.state === 'waits').length);
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
  <span class="quiet">files that probably belong to one release</span>
  <button class="btn btn-primary" disabled={waiting === 0} onclick={() => identify.sets.step(1)}>
    {waiting === 0 ? 'Nothing to identify' : `Compare the first of ${waiting}`}
  </button>
</div>
<Ledger
  {rows}
  {cursor}
  label="Sets"
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
    <div class="cols" class:waiting={gathering.state === 'waits'}>
      <span role="gridcell"><SpineLabel kind={KIND_OF_TYPE[gathering.type]} /></span>
      <span class="cut" role="gridcell"><b>{gathering.label}</b></span>
      <span role="gridcell">{counted(gathering.items.length, 'file')}</span>
      <span role="gridcell">{clock(lengthOf(gathering))}</span>
      <span class="cut" role="gridcell">
        <span class:waits={gathering.state === 'waits'}>{stateName(gathering.state)}</span>
        <span class="quiet">{stateWords(gathering)}</span>
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
  .title .btn {
    margin-left: auto;
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
