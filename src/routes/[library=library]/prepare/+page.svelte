<script lang="ts">
  import { page } from '$app/state';
  import type { PlayerDesk } from '$lib/state/player/desk.svelte';
  import type { PrepareRow } from '$lib/state/prepare/prepare-desk.svelte';
  import { getSession } from '$lib/state/session.svelte';
  import Ledger from '$lib/ui/Ledger.svelte';
  import LedgerHeads from '$lib/ui/LedgerHeads.svelte';
  import SpineLabel from '$lib/ui/SpineLabel.svelte';
  import { counted } from '$lib/ui/words/amounts';
  import { costWords } from '$lib/ui/words/twin-words';
  import BeingMade from './BeingMade.svelte';
  import CleanUp from './CleanUp.svelte';
  import ConvertSheet from './ConvertSheet.svelte';
  import CutPanel from './CutPanel.svelte';
  import PlayabilityCell from './PlayabilityCell.svelte';
  import Swatch from './Swatch.svelte';
  import RecipesPanel from './RecipesPanel.svelte';
  import TracksPanel from './TracksPanel.svelte';

  const session = getSession();
  const { prepare, players, scope, selection, library } = session;
  const { making, shelf } = prepare;
  const desks = $derived(players.list);
  const columns = $derived(`33px minmax(150px, 1fr) 52px repeat(${desks.length}, minmax(84px, 104px))`);
  const heads = $derived([
    { name: 'Kind', isShown: false },
    { name: scope.levels.prepare[0] === 'release' ? 'Release' : 'Group' },
    { name: 'Items' },
    ...desks.map(({ name }) => ({ name })),
  ]);
  let cursor = $state<string | null>(null);
  let converting = $state(false);
  /** What is converted by hand, and whose tracks are looked at: the selection, else everything in scope. */
  const chosen = $derived(selection.items.length > 0 ? selection.items : scope.items);

  /** The one item that is selected. */
  const only = $derived(selection.items.length === 1 ? (selection.items[0] ?? null) : null);

  // Counted anew whenever one of these changes: what is known of items that stay what they are stands.
  $effect(() => {
    void scope.rows;
    void shelf.version;
    void prepare.showsAll;
    for (const { rulebook, player, target } of desks) void [rulebook, player, target];
    prepare.build();
  });

  function pick(row: PrepareRow, how: 'only' | 'toggle' | 'extend') {
    const own = row.items.map(({ id }) => id);
    if (how === 'only') selection.set(own, null);
    else if (how === 'extend') selection.set([...selection.ids, ...own], null);
    else {
      const all = own.every((id) => selection.ids.has(id));
      const rest = [...selection.ids].filter((id) => !own.includes(id));
      selection.set(all ? rest : [...rest, ...own], null);
    }
    cursor = row.key;
  }

  const make = ({ id }: PlayerDesk) => making.add(prepare.totalFor(id).wanted);

  /** Makes what a row needs, for all players. */
  const makeRow = ({ cells }: PrepareRow) => making.add([...cells.values()].flatMap(({ wanted }) => wanted));
</script>

<svelte:head><title>Prepare · Lectorum</title></svelte:head>

{#if prepare.panel === 'recipes'}
  <RecipesPanel onclose={() => (prepare.panel = null)} />
{:else if prepare.panel === 'cut' && only}
  {#key only.id}<CutPanel item={only} onclose={() => (prepare.panel = null)} />{/key}
{:else if prepare.panel === 'tracks'}
  <TracksPanel onclose={() => (prepare.panel = null)} />
{:else}
  <div class="title">
    <h1>Prepare</h1>
    <span class="quiet">what plays where, and what to convert first</span>
    <span class="end"
      ><CleanUp {shelf} /><button class="btn" onclick={() => (prepare.panel = 'recipes')}>Recipes</button
      ><button
        class="btn"
        disabled={!library.mayWrite || chosen.length === 0}
        onclick={() => (converting = true)}>Convert by hand</button
      ><button class="btn" disabled={library.items.length === 0} onclick={() => (prepare.panel = 'tracks')}
        >Tracks</button
      ></span
    >
  </div>
  {#if library.items.length === 0}
    <section class="empty">
      <h2>Nothing to prepare yet</h2>
      <p>
        Each item is compared with what every player can play. What a player cannot play is listed with the
        reason, and one click makes a twin in a format that it plays. Your originals stay unchanged.
      </p>
      <p><a class="btn btn-primary" href="/{page.params.library}/intake">Go to Intake</a></p>
    </section>
  {:else}
    <div class="line">
      <ul class="legend" aria-label="Legend">
        <li><Swatch is="plays" />plays as it is</li>
        <li><Swatch is="ready" />plays by a twin</li>
        <li><Swatch is="make" />twin to make</li>
        <li><Swatch is="cannot" />cannot be converted</li>
      </ul>
      <label class="only"
        ><input
          type="checkbox"
          class="checkbox"
          bind:checked={() => !prepare.showsAll, (only) => (prepare.showsAll = !only)}
        />
        hide what plays everywhere</label
      >
    </div>
    {#if !prepare.building && prepare.rows.length === 0}
      <section class="empty">
        <h2>Everything plays</h2>
        <p>
          {scope.items.length < library.items.length ? 'Everything in scope' : 'Everything'} plays unchanged on
          every player that should hold it.
        </p>
      </section>
    {:else}
      <Ledger
        rows={prepare.rows}
        {cursor}
        label="What plays where"
        {columns}
        rowHeight={40}
        isSelected={(row) => row.items.every(({ id }) => selection.ids.has(id))}
        onpick={pick}
        ondrag={(row) => {
          if (!row.items.every(({ id }) => selection.ids.has(id))) pick(row, 'only');
          session.dragging = true;
        }}
        ondragend={() => (session.dragging = false)}
        onkey={(event, row) => {
          if (event.key === 'Enter' && row) makeRow(row);
        }}
      >
        {#snippet head()}<LedgerHeads {heads} />{/snippet}
        {#snippet row(row)}
          <div class="cols">
            <span role="gridcell"><SpineLabel kind={row.kind} height={22} /></span>
            <span class="cut two" role="gridcell"
              ><b>{row.label}</b> <span class="quiet">{row.note}</span><small>{row.formats}</small></span
            >
            <span role="gridcell">{row.items.length}</span>
            {#each desks as desk (desk.id)}
              {@const counts = row.cells.get(desk.id)}
              <span class="cell" role="gridcell"
                >{#if counts}<PlayabilityCell {counts} player={desk.name} />{/if}</span
              >
            {/each}
          </div>
        {/snippet}
      </Ledger>
      <div class="foot" style:grid-template-columns={columns}>
        <span></span><span class="quiet">twins to make</span><span></span>
        {#each desks as desk (desk.id)}
          {@const total = prepare.totalFor(desk.id)}
          <span>
            {#if total.wanted.length === 0}<span class="quiet">–</span>
            {:else}
              <b>{total.wanted.length}</b>
              <small class="quiet">{costWords(total, making.secondsFor(total.wanted))}</small>
              <button
                class="act"
                disabled={!library.mayWrite}
                aria-label="Make {counted(total.wanted.length, 'twin')} for {desk.name}"
                onclick={() => make(desk)}>Make</button
              >
            {/if}
          </span>
        {/each}
      </div>
    {/if}
    {#if making.left + making.failures.length > 0}<BeingMade {making} />{/if}
  {/if}
{/if}

{#if converting}<ConvertSheet
    items={chosen}
    isScope={selection.items.length === 0}
    onclose={() => (converting = false)}
  />{/if}

<style>
  h1 {
    font-size: var(--t-title);
  }
  h2 {
    font-size: var(--t-sub);
  }
  .title,
  .line {
    display: flex;
    align-items: center;
    gap: 12px;
    flex: none;
    padding: 0 16px;
  }
  .title {
    height: 40px;
  }
  .line {
    min-height: 28px;
  }
  .end {
    display: flex;
    align-items: center;
    gap: 12px;
    margin-left: auto;
  }
  .only {
    display: flex;
    align-items: center;
    gap: 6px;
    margin-left: auto;
    color: var(--ink-2);
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
  .two small {
    display: block;
    overflow: hidden;
    text-overflow: ellipsis;
    color: var(--ink-2);
    line-height: 1.2;
  }
  .two {
    line-height: 1.3;
  }
  .cell {
    padding-right: 10px;
  }
  .foot {
    display: grid;
    flex: none;
    padding: 8px 16px;
    border-top: 1px solid var(--rule-strong);
  }
  .foot > span {
    display: flex;
    flex-direction: column;
    align-items: flex-start;
    line-height: 1.35;
  }
  .empty {
    display: grid;
    gap: 16px;
    padding: 48px;
    max-width: 620px;
    font-size: var(--t-sub);
  }
</style>
