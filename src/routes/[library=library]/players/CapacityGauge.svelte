<script lang="ts">
  import { scaleLinear } from 'd3-scale';
  import { KIND_FACTS, type Kind } from '$lib/core/kinds';
  import type { KindRoom } from '$lib/core/plan';
  import { bytes } from '$lib/ui/words/amounts';

  /** What lies on a player by kind, what a run adds and removes, against the limit. */
  let { kinds, limit, name }: { kinds: readonly KindRoom[]; limit: number | null; name: string } = $props();

  const uid = $props.id();
  let width = $state(300);

  interface Part {
    readonly kind: Kind | null;
    readonly type: 'now' | 'adds' | 'removes';
    readonly from: number;
    readonly bytes: number;
  }

  const now = $derived(kinds.reduce((sum, one) => sum + one.now, 0));
  const then = $derived(kinds.reduce((sum, one) => sum + one.now + one.adds - one.removes, 0));
  const widest = $derived(kinds.reduce((sum, one) => sum + one.now + one.adds, 0));
  /** Far below its limit nothing could be seen: the scale ends sooner then, and says so by a break. */
  const isBroken = $derived(limit === null || widest < limit / 4);
  const end = $derived(isBroken ? Math.max(widest * 1.5, 1) : Math.max(limit ?? 0, widest) * 1.02);
  const x = $derived(
    scaleLinear()
      .domain([0, end])
      .range([0, width - 2]),
  );

  const parts = $derived.by(() => {
    const found: Part[] = [];
    let at = 0;
    const push = (kind: Kind | null, type: Part['type'], size: number) => {
      if (size <= 0) return;
      found.push({ kind, type, from: at, bytes: size });
      at += size;
    };
    for (const { kind, now: lies, removes } of kinds) push(kind, 'now', lies - removes);
    for (const { kind, removes } of kinds) push(kind, 'removes', removes);
    for (const { kind, adds } of kinds) push(kind, 'adds', adds);
    return found;
  });
  const hue = (kind: Kind | null) => (kind ? `var(--k-${KIND_FACTS[kind].letters})` : 'var(--rule-strong)');
  const said = $derived(
    `${name}: ${bytes(now)} there now, ${bytes(then)} after the run${limit === null ? '' : `, of ${bytes(limit)}`}`,
  );
</script>

<div class="gauge" bind:clientWidth={width}>
  <svg {width} height="32" role="img" aria-label={said}>
    <defs>
      {#each kinds.filter(({ removes }) => removes > 0) as { kind } (kind)}
        <pattern
          id="{uid}-{kind}"
          width="6"
          height="6"
          patternTransform="rotate(45)"
          patternUnits="userSpaceOnUse"
        >
          <rect width="6" height="6" fill="var(--raised)" />
          <rect width="3" height="6" style:fill={hue(kind)} />
        </pattern>
      {/each}
    </defs>
    <line x1="0" x2={width} y1="23.5" y2="23.5" stroke="var(--rule-strong)" />
    {#each parts as { kind, type, from, bytes: size } (`${type} ${kind}`)}
      {@const left = x(from)}
      {@const wide = Math.max(3, x(from + size) - left)}
      <g style:color={hue(kind)}>
        <rect
          x={left + (type === 'adds' ? 1 : 0)}
          y={type === 'adds' ? 10 : 9}
          width={Math.max(1, wide - (type === 'adds' ? 2 : 1))}
          height={type === 'adds' ? 12 : 14}
          fill={type === 'now' ? 'currentColor' : type === 'adds' ? 'var(--raised)' : `url(#${uid}-${kind})`}
          stroke={type === 'now' ? 'none' : 'currentColor'}
          stroke-width={type === 'adds' ? 2 : 1}
        />
        {#if wide > 24 && kind && type !== 'removes'}
          <text x={left + wide / 2} y="20" class:open={type !== 'now'}>{KIND_FACTS[kind].letters}</text>
        {/if}
      </g>
      {#if type !== 'now'}
        <text class="sign" x={left + wide / 2} y="31">{type === 'adds' ? '+' : '−'}</text>
      {/if}
    {/each}
    {#if limit !== null && widest > limit}
      <rect x={x(limit)} y="4" width={x(widest) - x(limit)} height="3" fill="var(--blocks)" />
    {/if}
    {#if isBroken}
      <path
        d="M{width - 9} 29l4 -11M{width - 5} 29l4 -11"
        stroke="var(--ink-2)"
        stroke-width="1.5"
        fill="none"
      />
    {:else if limit !== null}
      <rect x={x(limit)} y="4" width="2" height="26" fill="var(--ink)" />
    {/if}
  </svg>
</div>

<style>
  .gauge {
    min-width: 0;
    height: 32px;
    overflow: hidden;
  }
  text {
    text-anchor: middle;
    font: 600 var(--t-tick) var(--font-head);
    fill: var(--k-letter);
  }
  text.open {
    fill: currentColor;
  }
  text.sign {
    font: 600 var(--t-tick) var(--font-body);
    fill: var(--ink-2);
  }
</style>
