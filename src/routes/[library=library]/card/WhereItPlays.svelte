<script lang="ts">
  import type { Item } from '$lib/core/items';
  import { getSession } from '$lib/state/session.svelte';
  import PlayerMark from '$lib/ui/PlayerMark.svelte';
  import SeverityMark from '$lib/ui/SeverityMark.svelte';
  import { findingWords } from '$lib/ui/words/finding-words';

  let { items }: { items: readonly Item[] } = $props();
  const session = getSession();
  const { rulebook } = session.desk;

  const ids = $derived(new Set(items.map(({ id }) => id)));
  const goes = $derived((session.desk.plan?.paths ?? []).filter(({ item }) => ids.has(item)));
  const findings = $derived(
    (session.desk.plan?.findings ?? []).filter(({ items: own }) => own.some((id) => ids.has(id))).slice(0, 6),
  );
</script>

<section>
  <h3>Where {items.length === 1 ? 'does it' : 'do they'} play?</h3>
  {#if session.desk.plan}
    <p class="line">
      <PlayerMark initial={rulebook.initial} name={rulebook.name} plays={goes.length > 0} />
      <b>{rulebook.name}</b>
      <span
        >{goes.length === items.length
          ? items.length === 1
            ? 'as it is'
            : `all ${items.length}`
          : `${goes.length} of ${items.length}`}</span
      >
    </p>
    {#if items.length === 1 && goes[0]}<p class="path">{goes[0].path}</p>{/if}
    {#each findings as finding (finding.id)}
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
