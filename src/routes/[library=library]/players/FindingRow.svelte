<script lang="ts">
  import ChevronDown from '@lucide/svelte/icons/chevron-down';
  import ChevronRight from '@lucide/svelte/icons/chevron-right';
  import { WAYS_APART, type FindingLine, type Side, type WayApart } from '$lib/core/plan';
  import type { PlayerDesk } from '$lib/state/player/desk.svelte';
  import SeverityMark from '$lib/ui/SeverityMark.svelte';
  import { findingWords, wayWords } from '$lib/ui/words/finding-words';
  import BothSides from './BothSides.svelte';
  import FindingItems from './FindingItems.svelte';

  /** One finding with what mends it. It opens to the items that it is about. */
  let {
    desk,
    finding,
    busy,
    open,
    ontoggle,
    onmend,
  }: {
    desk: PlayerDesk;
    finding: FindingLine;
    busy: boolean;
    open: boolean;
    ontoggle: () => void;
    onmend: (finding: FindingLine, choice?: Side | WayApart | 'away') => void;
  } = $props();

  const words = $derived(findingWords(finding, desk.name));
  const Chevron = $derived(open ? ChevronDown : ChevronRight);
</script>

<div class="line">
  <SeverityMark severity={finding.severity} />
  <div class="said">
    <button class="what" aria-expanded={open} onclick={ontoggle}
      ><Chevron size={13} aria-hidden="true" /><b>{words.what}</b></button
    >
    <span class="quiet why" title={finding.places.join('\n')}>{words.why}</span>
  </div>
  {#if finding.remedy === 'part'}
    <div class="buttons" role="group" aria-label="What to do">
      {#each WAYS_APART.filter((way) => way !== 'mark' || finding.words.mark) as way (way)}
        <button class="btn" disabled={busy} onclick={() => onmend(finding, way)}
          >{wayWords(way, finding.words)}</button
        >
      {/each}
    </div>
  {:else if words.remedy && finding.remedy}
    <div class="buttons" role="group" aria-label="What to do">
      <button class="btn" disabled={busy} onclick={() => onmend(finding)}>{words.remedy}</button>
      {#if words.other}
        <button class="btn" disabled={busy} onclick={() => onmend(finding, 'there')}>{words.other}</button>
      {/if}
      {#if words.third}
        <button class="btn" disabled={busy} onclick={() => onmend(finding, 'away')}>{words.third}</button>
      {/if}
    </div>
  {/if}
</div>
{#if open}
  {#if finding.remedy === 'decide'}
    <BothSides {finding} {desk} {busy} />
  {:else}
    <FindingItems {finding} {desk} />
  {/if}
{/if}

<style>
  .line {
    display: grid;
    grid-template-columns: 76px 1fr auto;
    align-items: center;
    gap: 8px;
    min-height: 44px;
    padding: 4px 0;
    font-size: var(--t-read);
  }
  .said {
    display: grid;
    min-width: 0;
  }
  .what {
    display: flex;
    align-items: center;
    gap: 3px;
    min-width: 0;
    text-align: left;
  }
  .what :global(svg) {
    flex: none;
  }
  .what b {
    overflow-wrap: anywhere;
  }
  .buttons {
    display: grid;
    gap: 4px;
    justify-items: stretch;
  }
  .why {
    padding-left: 16px;
    font-size: var(--t-small);
    overflow-wrap: anywhere;
  }
  @media (max-width: 760px) {
    .line {
      grid-template-columns: 76px minmax(0, 1fr);
    }
    .buttons {
      grid-column: 1 / -1;
      justify-items: start;
    }
  }
</style>
