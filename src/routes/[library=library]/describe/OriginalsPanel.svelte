<script lang="ts">
  import { format } from 'date-fns/format';
  import { titleOf, type Item, type ItemId, type SourceId } from '$lib/core/items';
  import type { OriginalPlan } from '$lib/core/originals';
  import type { OriginalsRun } from '$lib/io/storage';
  import { inSlices } from '$lib/state/in-slices';
  import { originalsOf, type OriginalTrouble, type WritingPlan } from '$lib/state/originals-desk.svelte';
  import { getSession } from '$lib/state/session.svelte';
  import Ledger from '$lib/ui/Ledger.svelte';
  import Panel from '$lib/ui/Panel.svelte';
  import { counted } from '$lib/ui/words/amounts';
  import { WHY_NOT, partWords, partsOf, troubleWords } from '$lib/ui/words/original-words';

  /** Writes what is said into the files themselves: which, what and why not is seen before any is changed. */
  let { onclose }: { onclose: () => void } = $props();
  const session = getSession();
  const { library, selection, scope } = session;
  const desk = originalsOf(session);

  let out = $state.raw<ReadonlySet<ItemId>>(new Set());
  let plans = $state.raw<readonly OriginalPlan[]>([]);
  let cursor = $state<string | null>(null);

  let items = $state.raw<readonly Item[]>([]);
  $effect(() => {
    // Until the rows of another scope are there, asking for its items would look through the library at once.
    if (scope.building) return;
    const { ids } = selection;
    items = ids.size > 0 ? scope.items.filter(({ id }) => ids.has(id)) : scope.items;
  });
  $effect(() => inSlices(desk.planSteps(items), (made) => (plans = made)));

  const rows = $derived(
    (['writes', 'cannot'] as const).flatMap((type) =>
      plans.flatMap((plan) => (plan.type === type ? [{ key: plan.item.id, plan }] : [])),
    ),
  );
  const writing = $derived(
    plans.filter((plan): plan is WritingPlan => plan.type === 'writes' && !out.has(plan.item.id)),
  );
  const cannot = $derived(plans.filter(({ type }) => type === 'cannot').length);
  const folders = $derived.by(() => {
    const counts = new Map<SourceId, number>();
    for (const { item } of writing) counts.set(item.source, (counts.get(item.source) ?? 0) + 1);
    return library.sources
      .filter(({ id }) => counts.has(id))
      .map(({ id, label }) => `${counts.get(id)} in ${label}`)
      .join(', ');
  });

  function toggle(id: ItemId) {
    const next = new Set(out);
    if (!next.delete(id)) next.add(id);
    out = next;
  }

  const STATES: Readonly<Record<OriginalsRun['state'], string>> = {
    running: 'interrupted',
    cancelled: 'cancelled',
    stopped: 'stopped: the disk was full',
    finished: 'written',
    takingBack: 'interrupted while being taken back',
    takenBack: 'taken back',
  };
  const stateOf = (run: OriginalsRun) =>
    desk.busy && run === desk.runs[0] && run.state === 'running' ? 'under way' : STATES[run.state];
  const oursIn = (troubles: readonly OriginalTrouble[]) =>
    troubles.flatMap(({ parts }) => parts.filter(({ isOurs }) => isOurs)).length;
  const isOpen = ({ state }: OriginalsRun) => state !== 'finished' && state !== 'takenBack';
</script>

<Panel title="Originals" fits>
  {#snippet tools()}
    <span class="quiet"
      >{counted(items.length, 'item')}
      {selection.ids.size > 0 ? 'selected' : 'in scope'}, {plans.length} differ from their files</span
    >
    <span class="end">
      <button
        class="btn btn-primary"
        disabled={writing.length === 0 || desk.busy || desk.unfinished !== null || !library.mayWrite}
        onclick={() => desk.write(writing)}>Change {counted(writing.length, 'original')}</button
      >
      <button class="btn" onclick={onclose}>Back to the items</button>
    </span>
  {/snippet}
  <div class="told">
    <p>
      Edits normally go only into copies for players. Here they are written into
      <strong>the files themselves</strong>, and only into those that are ticked{folders
        ? `: ${folders}`
        : ''}. Audio and video are not touched. Until you keep the changes, each file can be restored byte for
      byte. The browser sets the modification time of a changed file and cannot keep the old one, so players
      get a new copy with their next run.
      {#if cannot > 0}{counted(cannot, 'original')} cannot be written; the reason is shown beside {cannot ===
        1
          ? 'it'
          : 'each'}.{/if}
    </p>
    {#if desk.trouble}<p class="trouble" role="alert">{desk.trouble}</p>{/if}
    {#if desk.unfinished && !desk.busy}
      <p class="odd">
        The last run {STATES[desk.unfinished.state]} after {desk.unfinished.done} of {desk.unfinished.count}.
        Resume it or take it back before you start another.
      </p>
    {/if}
  </div>
  {#if desk.runs.length > 0}
    <ul class="runs" aria-label="Runs into originals">
      {#each desk.runs.slice(0, 5) as run (run.id)}
        <li>
          <span class="quiet">{format(run.startedAt, 'd MMM HH:mm')}</span>
          <span
            >{counted(run.state === 'takenBack' ? run.undone : run.done, 'original')}
            {stateOf(run)}{run.state === 'takenBack' && run.done > 0 ? `, ${run.done} left` : ''}{run.failed >
            0
              ? `, ${run.failed} failed`
              : ''}{run.isKept ? '' : ', changes kept'}</span
          >
          {#if run.isKept && library.mayWrite}
            {#if isOpen(run)}
              <button class="act" disabled={desk.busy} onclick={() => desk.goOn(run)}>Go on</button>
            {/if}
            {#if run.state !== 'takingBack' && (run.state !== 'takenBack' || run.done > 0)}
              <button class="act" disabled={desk.busy} onclick={() => desk.takeBack(run)}>Take back</button>
            {/if}
            {#if run.state === 'finished' || run.state === 'cancelled'}
              <button class="act" disabled={desk.busy} onclick={() => desk.takeAsGood(run)}
                >Keep the changes</button
              >
            {/if}
          {/if}
          {#if run.isKept && (run.failed > 0 || (run.state === 'takenBack' && run.done > 0))}
            {#await desk.troubles(run) then troubles}
              <details>
                <summary>Show details</summary>
                <ul>
                  {#each troubles.slice(0, 100) as { path, code, detail, parts } (path)}
                    {@const words = troubleWords(code, detail)}
                    <li>
                      <span class="path">{path}</span>: {words.why}; <span class="quiet">{words.remedy}</span>
                      {#if parts.length > 0}
                        <ul aria-label={path}>
                          {#each parts as part, at (at)}<li>{partWords(part)}</li>{/each}
                        </ul>
                      {/if}
                    </li>
                  {/each}
                </ul>
                {#if oursIn(troubles) > 0}
                  <button
                    class="act"
                    disabled={desk.busy || desk.unfinished !== null}
                    onclick={() => desk.putBack(run)}>Restore {counted(oursIn(troubles), 'value')}</button
                  >
                {/if}
              </details>
            {/await}
          {/if}
        </li>
      {/each}
    </ul>
  {/if}
  {#if rows.length === 0}
    <p class="none quiet">All of these files already have these values: there is nothing to write.</p>
  {:else}
    <Ledger
      {rows}
      {cursor}
      label="What will be written into each"
      rowHeight={46}
      isSelected={({ plan }) => plan.type === 'writes' && !out.has(plan.item.id)}
      onpick={({ key, plan }, picked) => {
        cursor = key;
        if (picked === 'toggle' && plan.type === 'writes') toggle(key);
      }}
    >
      {#snippet row({ key, plan })}
        <div class="row">
          <span role="gridcell"
            ><input
              type="checkbox"
              aria-label="Change {titleOf(plan.item)}"
              disabled={plan.type === 'cannot'}
              checked={plan.type === 'writes' && !out.has(key)}
              onchange={() => toggle(key)}
            /></span
          >
          <span role="gridcell" class="two">
            <span>{titleOf(plan.item)}</span><span class="path quiet">{plan.item.path}</span>
          </span>
          <span role="gridcell" class="two">
            {#if plan.type === 'writes'}
              {@const parts = partsOf(plan.item, plan.changes)}
              {@const [one] = parts}
              {#if one}<span>{one.name}: <span class="after">{one.now}</span>, was {one.was}</span>{/if}
              <span class="quiet"
                >{parts
                  .slice(1)
                  .map(({ name }) => name)
                  .join(', ')}{plan.unheld.length > 0
                  ? ` (${plan.unheld.length} more kept in Lectorum only: the format cannot store them)`
                  : ''}</span
              >
            {:else}<span class="quiet">{WHY_NOT[plan.why]}</span>{/if}
          </span>
        </div>
      {/snippet}
    </Ledger>
  {/if}
</Panel>

<style>
  .told {
    display: grid;
    flex: none;
    gap: 6px;
    max-width: 860px;
    padding: 0 16px 10px;
    line-height: 1.45;
  }
  .runs {
    flex: none;
    max-height: 150px;
    padding: 6px 16px;
    border-top: 1px solid var(--rule);
    overflow-y: auto;
  }
  .runs > li {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 14px;
    min-height: 26px;
  }
  .row {
    display: grid;
    grid-template-columns: 28px minmax(0, 1fr) minmax(0, 1fr);
    align-items: center;
    gap: 12px;
    height: 100%;
    padding: 0 16px;
  }
  .two {
    display: grid;
  }
  .two > * {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .after {
    text-decoration: underline;
    text-decoration-color: var(--primary);
    text-underline-offset: 3px;
  }
  .none {
    padding: 24px 16px;
    border-top: 1px solid var(--rule);
  }
</style>
