<script lang="ts">
  import { titleOf, type Item } from '$lib/core/items';
  import type { PlanAbout } from '$lib/core/plan';
  import type { PlayerDesk } from '$lib/state/player/desk.svelte';
  import { getSession } from '$lib/state/session.svelte';
  import PlayerMark from '$lib/ui/PlayerMark.svelte';
  import SeverityMark from '$lib/ui/SeverityMark.svelte';
  import { findingWords } from '$lib/ui/words/finding-words';

  let { items }: { items: readonly Item[] } = $props();
  const session = getSession();

  const what = $derived(items.length === 1 && items[0] ? titleOf(items[0]) : `${items.length} items`);
  /** What was told, and of which items: buttons must not be about those that were selected before. */
  let about = $state.raw<{ readonly of: readonly Item[]; readonly told: ReadonlyMap<PlayerDesk, PlanAbout> }>(
    {
      of: [],
      told: new Map(),
    },
  );
  /** More are not asked about: each is looked up for every player. */
  const MOST = 1000;
  $effect(() => {
    if (items.length > MOST) return;
    const of = items;
    const ids = of.map(({ id }) => id);
    let stale = false;
    for (const desk of session.players.list) {
      if (!desk.rehearsal.plan) continue;
      void desk.rehearsal.about(ids).then(
        (told) => {
          if (stale || !told) return;
          const before = about.of === of ? about.told : [];
          about = { of, told: new Map([...before, [desk, told]]) };
        },
        // A planner that fell over is started anew with the next plan, which asks again.
        () => {},
      );
    }
    return () => (stale = true);
  });
</script>

<section>
  <h3>Where {items.length === 1 ? 'does it' : 'do they'} play?</h3>
  {#if items.length > MOST}
    <p class="quiet">Select at most {MOST.toLocaleString('en')} to see where they play.</p>
  {/if}
  {#each items.length > MOST ? [] : session.players.list as desk (desk.id)}
    {@const told = about.of === items ? about.told.get(desk) : undefined}
    {#if told}
      <p class="line">
        <PlayerMark initial={desk.rulebook.initial} name={desk.name} plays={told.goes > 0} />
        <b>{desk.name}</b>
        <span
          >{told.goes === items.length
            ? items.length === 1
              ? 'as it is'
              : `all ${items.length}`
            : `${told.goes} of ${items.length}`}</span
        >
        {#if session.library.mayWrite && told.unselected.length + told.leftOut.length > 0}
          <button
            class="act"
            onclick={() =>
              desk.decisions.have([...told.unselected, ...told.leftOut], `${what} on ${desk.name}`)}
            >Include {items.length === 1 ? 'it' : 'them'}</button
          >
        {:else if session.library.mayWrite && told.goes > 0}
          <button
            class="act"
            onclick={() =>
              desk.decisions.choose(
                { leftOut: items.map(({ id }) => id) },
                `${what} left out of ${desk.name}`,
              )}>Leave {items.length === 1 ? 'it' : 'them'} out</button
          >
        {/if}
      </p>
      {#if items.length === 1 && told.path}<p class="path">{told.path}</p>{/if}
      {#each told.findings as finding (finding.id)}
        <p class="line">
          <SeverityMark severity={finding.severity} /> <span>{findingWords(finding, desk.name).what}</span>
        </p>
      {/each}
    {:else}
      <p class="quiet">{desk.name}: rehearsing</p>
    {/if}
  {/each}
</section>

<style>
  .line {
    display: flex;
    align-items: baseline;
    gap: 6px;
  }
  .path {
    overflow-wrap: anywhere;
    color: var(--ink-2);
  }
</style>
