<script lang="ts">
  import type { Evidence } from '$lib/core/kinds';
  import { evidenceWords } from './words/evidence-words';

  /** Evidence for and against a guess, weightiest first, as bars to one scale. */
  let { evidence }: { evidence: readonly Evidence[] } = $props();

  const SPAN = 46;
  const most = $derived(Math.max(30, ...evidence.map(({ points }) => Math.abs(points))));
  const length = (points: number) => (Math.abs(points) / most) * SPAN;
</script>

<ul>
  {#each evidence as piece (piece.code)}
    <li>
      <span class="says">{evidenceWords(piece)}</span>
      <svg width="92" height="12" aria-hidden="true">
        <line x1="28.5" x2="28.5" y1="0" y2="12" stroke="var(--ink-2)" />
        {#if piece.points > 0}
          <rect x="29" y="2" width={length(piece.points)} height="8" fill="var(--primary)" />
        {:else}
          <rect
            x={28.5 - Math.min(28, length(piece.points))}
            y="2"
            width={Math.min(28, length(piece.points))}
            height="8"
            fill="var(--attention-tint)"
            stroke="var(--attention)"
          />
        {/if}
      </svg>
      <span class="points">{piece.points > 0 ? '+' : '−'}{Math.abs(piece.points)}</span>
    </li>
  {/each}
</ul>

<style>
  ul {
    display: grid;
    gap: 2px;
  }
  li {
    display: grid;
    grid-template-columns: 1fr 92px 30px;
    align-items: center;
  }
  .points {
    font-family: var(--font-mono);
    font-size: var(--t-small);
    color: var(--ink-2);
    text-align: right;
  }
</style>
