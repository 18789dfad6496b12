<script lang="ts">
  import type { PlayabilityCounts, Unmakeable } from '$lib/core/twins';
  import { CODEC_LABELS, UNMAKEABLE, UNMAKEABLE_BRIEF } from '$lib/ui/words/twin-words';

  /** How the items of a row stand on one player: a bar in parts, and words under it. */
  let { counts, player }: { counts: PlayabilityCounts; player: string } = $props();

  const toMake = $derived(counts.missing + counts.stale);
  const all = $derived(counts.plays + counts.ready + toMake + counts.cannot);
  const parts = $derived(
    (['plays', 'ready', 'make', 'cannot'] as const)
      .map((name) => ({ name, count: name === 'make' ? toMake : counts[name] }))
      .filter(({ count }) => count > 0),
  );
  const codecs = $derived(
    [...new Set(counts.wanted.map(({ recipe }) => CODEC_LABELS[recipe.codec]))].join(', '),
  );
  const words = $derived(
    [
      ...(counts.cannot > 0 ? [`${counts.cannot} ${brief(counts.why)}`] : []),
      ...(toMake > 0 ? [`${toMake} ${codecs}${counts.stale > 0 ? ', anew' : ''}`] : []),
      ...(counts.ready > 0 ? [`${counts.ready} ready`] : []),
    ].join(', ') || 'plays',
  );
  const whole = $derived(
    [
      ...(counts.plays > 0 ? [`${counts.plays} as they are`] : []),
      ...(counts.ready > 0 ? [`${counts.ready} by twins that are ready`] : []),
      ...(counts.missing > 0 ? [`${counts.missing} by twins to make`] : []),
      ...(counts.stale > 0 ? [`${counts.stale} by twins to make anew, since their files changed`] : []),
      ...[...counts.why].map(([why, count]) => `${count} not at all: ${UNMAKEABLE[why]}`),
    ].join('; '),
  );

  function brief(why: ReadonlyMap<Unmakeable, number>): string {
    return [...why.keys()].map((one) => UNMAKEABLE_BRIEF[one]).join(', ');
  }
</script>

{#if all === 0}
  <span class="none" aria-label="{player}: has no place for them, or is not to have them">–</span>
{:else}
  <span class="bar" role="img" aria-label="{player}: {whole}" title={whole}>
    {#each parts as { name, count } (name)}<i class={name} style:flex={count}></i>{/each}
  </span>
  <span class="words" class:wrong={counts.cannot > 0} aria-hidden="true">{words}</span>
{/if}

<style>
  .bar {
    display: flex;
    gap: 1px;
    height: 10px;
  }
  i {
    border: 1px solid transparent;
    background: var(--strip);
  }
  i.ready {
    border-color: var(--ink);
  }
  i.make {
    border-color: var(--primary-ink);
    background: repeating-linear-gradient(135deg, var(--primary-ink) 0 2px, var(--raised) 2px 5px);
  }
  i.cannot {
    border-color: var(--blocks-ink);
    background: var(--blocks-tint);
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
