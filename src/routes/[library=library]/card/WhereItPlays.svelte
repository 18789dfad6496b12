<script lang="ts">
  import type { Item } from '$lib/core/items';
  import type { PlanAbout } from '$lib/core/plan';
  import { getSession } from '$lib/state/session.svelte';
  import PlayerMark from '$lib/ui/PlayerMark.svelte';
  import SeverityMark from '$lib/ui/SeverityMark.svelte';
  import { findingWords } from '$lib/ui/words/finding-words';

  let { items }: { items: readonly Item[] } = $props();
  const session = getSession();
  const { rulebook } = session.desk;

  let about = $state.raw<PlanAbout | null>(null);
  $effect(() => {
    if (!session.desk.plan) return void (about = null);
    let stale = false;
    void session.desk.about(items.map(({ id }) => id)).then(
      (told) => {
        if (!stale) about = told;
      },
      // A planner that fell over is started anew with the next plan, which asks again.
      () => {},
    );
    return () => (stale = true);
  });
</script>

<section>
  <h3>Where {items.length === 1 ? 'does it' : 'do they'} play?</h3>
  {#if about}
    <p class="line">
      <PlayerMark initial={rulebook.initial} name={rulebook.name} plays={about.goes > 0} />
      <b>{rulebook.name}</b>
      <span
        >{about.goes === items.length
          ? items.length === 1
            ? 'as it is'
            : `all ${items.length}`
          : `${about.goes} of ${items.length}`}</span
      >
    </p>
    {#if items.length === 1 && about.path}<p class="path">{about.path}</p>{/if}
    {#each about.findings as finding (finding.id)}
      <p class="line">
        <SeverityMark severity={finding.severity} /> <span>{findingWords(finding, rulebook.name).what}</span>
      </p>
    {/each}
  {:else}
    <p class="quiet">rehearsing</p>
  {/if}
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
