<script lang="ts">
  import { scaleLinear } from 'd3-scale';
  import type { PlanDigest } from '$lib/core/plan';
  import { counted } from '$lib/ui/words/amounts';

  /** Lengths of the planned paths against the player's limit, and the paths themselves, before and after. */
  let {
    plan,
    limit,
    unit,
    player,
  }: { plan: PlanDigest; limit: number; unit: 'bytes' | 'utf16'; player: string } = $props();

  const HEIGHT = 44;
  let width = $state(600);

  const { lengths, paths } = $derived(plan);
  const longest = $derived(lengths.at(-1)?.[0] ?? 0);
  const most = $derived(Math.max(1, ...lengths.map(([, count]) => count)));
  /** The limit is drawn where it is near; far away it is only said. */
  const end = $derived(
    longest * 2.5 > limit ? Math.max(limit, longest) * 1.04 : Math.max(60, longest * 1.15),
  );
  const x = $derived(scaleLinear().domain([0, end]).range([0, width]));
  const y = $derived(scaleLinear().domain([0, most]).range([0, 26]));
  const ticks = $derived(x.ticks(6));

  /** The path cut into its folders, each with whether the original's path has it too. */
  function parts(from: string, to: string): { text: string; changed: boolean; last: boolean }[] {
    const had = new Set(from.split('/'));
    const names = to.split('/');
    return names.map((text, index) => ({ text, changed: !had.has(text), last: index === names.length - 1 }));
  }
</script>

<section aria-label="Paths">
  <header>
    <h2>Paths</h2>
    <span class="quiet">
      one bar per path length, in {unit === 'bytes' ? 'bytes' : 'UTF-16 units'}; the longest has {longest}
      of {player}’s {limit}
    </span>
    <span class="quiet end">before and after, changes underlined</span>
  </header>
  <div class="chart" bind:clientWidth={width}>
    <svg
      {width}
      height={HEIGHT}
      role="img"
      aria-label="{counted(paths.count, 'path')}, the longest {longest} of {limit} {unit}"
    >
      {#each lengths as [length, count] (length)}
        <rect
          x={x(length) - 2}
          y={28 - y(count)}
          width="4"
          height={y(count)}
          fill={length > limit ? 'var(--blocks)' : 'var(--fill)'}
        />
      {/each}
      {#each ticks.slice(0, -1) as tick, index (tick)}
        <rect
          x={x(tick)}
          y="28.5"
          width={x(ticks[index + 1] ?? end) - x(tick)}
          height="4"
          fill={index % 2 === 0 ? 'var(--ink-2)' : 'var(--raised)'}
          stroke="var(--ink-2)"
        />
      {/each}
      {#each ticks as tick, index (tick)}
        <text x={x(tick)} y="43" text-anchor={index === 0 ? 'start' : 'middle'}>{tick}</text>
      {/each}
      {#if end >= limit}<line
          x1={x(limit)}
          x2={x(limit)}
          y1="0"
          y2="34"
          stroke="var(--ink)"
          stroke-width="1.5"
        />{/if}
    </svg>
  </div>
  <ul>
    {#each paths.first as { item, from, path } (item)}
      <li class="path">
        <span class="before">{from}</span>
        <span>
          {#each parts(from, path) as { text, changed, last }, index (index)}<span
              class:folder={!last}
              class:changed>{text}</span
            >{#if !last}<span class="folder">/</span>{/if}{/each}
        </span>
      </li>
    {/each}
  </ul>
  {#if paths.count > paths.first.length}<p class="quiet">
      the {paths.first.length} longest of {paths.count.toLocaleString('en')}
    </p>{/if}
</section>

<style>
  section {
    padding: 12px 16px 16px;
  }
  header {
    display: flex;
    align-items: baseline;
    gap: 12px;
    flex-wrap: wrap;
  }
  h2 {
    font-size: var(--t-sub);
  }
  .end {
    margin-left: auto;
  }
  .chart {
    margin: 6px 0;
  }
  text {
    font: 11px var(--font-mono);
    fill: var(--ink-2);
  }
  li {
    display: grid;
    padding: 3px 0;
    border-top: 1px solid var(--rule);
    overflow-wrap: anywhere;
  }
  .before,
  .folder {
    color: var(--ink-3);
  }
  .changed {
    text-decoration: underline;
    text-decoration-color: var(--primary);
    text-decoration-thickness: 2px;
    text-underline-offset: 3px;
  }
</style>
