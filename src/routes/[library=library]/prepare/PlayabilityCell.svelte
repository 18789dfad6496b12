<script lang="ts">
  import { madeTo, type PlayabilityCounts, type Unmakeable } from '$lib/core/twins';
  import { counted } from '$lib/ui/words/amounts';
  import Swatch from './Swatch.svelte';
  import { MADE_LABELS, UNMAKEABLE, UNMAKEABLE_BRIEF } from '$lib/ui/words/twin-words';

  /** How the items of a row play on one player: a bar in parts, and words under it. */
  let { counts, player }: { counts: PlayabilityCounts; player: string } = $props();

  const toMake = $derived(counts.missing + counts.stale);
  const all = $derived(counts.plays + counts.ready + toMake + counts.cannot);
  const parts = $derived(
    (['plays', 'ready', 'make', 'cannot'] as const)
      .map((name) => ({ name, count: name === 'make' ? toMake : counts[name] }))
      .filter(({ count }) => count > 0),
  );
  const codecs = $derived(
    [...new Set(counts.wanted.map(({ recipe }) => MADE_LABELS[madeTo(recipe)]))].join(', '),
  );
  const words = $derived(
    [
      ...(counts.cannot > 0 ? [`${counts.cannot} ${brief(counts.why)}`] : []),
      ...(toMake > 0 ? [`${toMake} ${codecs}${counts.stale > 0 ? ', outdated' : ''}`] : []),
      ...(counts.ready > 0 ? [`${counts.ready} ready`] : []),
    ].join(', ') || 'plays',
  );
  const whole = $derived(
    [
      ...(counts.plays > 0 ? [`${counts.plays} as they are`] : []),
      ...(counts.ready > 0 ? [`${counted(counts.ready, 'twin')} ready`] : []),
      ...(counts.missing > 0 ? [`${counted(counts.missing, 'twin')} to make`] : []),
      ...(counts.stale > 0 ? [`${counted(counts.stale, 'outdated twin')} to make again`] : []),
      ...[...counts.why].map(([why, count]) => `${count} cannot be converted: ${UNMAKEABLE[why]}`),
    ].join('; '),
  );

  function brief(why: ReadonlyMap<Unmakeable, number>): string {
    return [...why.keys()].map((one) => UNMAKEABLE_BRIEF[one]).join(', ');
  }
</script>

{#if all === 0}
  <span class="none" aria-label="{player}: not for these items">–</span>
{:else}
  <span class="bar" role="img" aria-label="{player}: {whole}" title={whole}>
    {#each parts as { name, count } (name)}<Swatch is={name} share={count} />{/each}
  </span>
  <span class="words" class:wrong={counts.cannot > 0} aria-hidden="true">{words}</span>
{/if}

<style>
  .bar {
    display: flex;
    gap: 1px;
    height: 10px;
  }
  .words {
    display: block;
    overflow: hidden;
    text-overflow: ellipsis;
    font-size: var(--t-small);
    line-height: 1.3;
    color: var(--ink-2);
  }
  .wrong {
    color: var(--blocks-ink);
  }
  .none {
    color: var(--ink-2);
  }
</style>
