<script lang="ts">
  import { KIND_FACTS, type Certainty, type Kind } from '$lib/core/kinds';

  let {
    kind,
    certainty = 'sure',
    height = 24,
    drained = false,
  }: { kind: Kind | null; certainty?: Certainty; height?: number; drained?: boolean } = $props();

  const letters = $derived(kind ? KIND_FACTS[kind].letters : '?');
  const width = $derived(Math.round((height * 22) / 24));
  const hue = $derived(kind ? `var(--k-${KIND_FACTS[kind].letters})` : 'var(--attention-ink)');
  const solid = $derived(certainty === 'sure');
  const dash = $derived(certainty === 'likely' ? '3.4 2.2' : certainty === 'guess' ? '.1 2.8' : 'none');
  const said = $derived(kind ? `${KIND_FACTS[kind].one}${solid ? '' : `, ${certainty}`}` : 'kind open');
</script>

<span
  class="label"
  style:width="{width}px"
  style:height="{height}px"
  role="img"
  aria-label={said}
  title={said}
>
  {#if kind}
    <svg {width} {height} viewBox="0 0 22 24" aria-hidden="true">
      <path
        d="M1 1H21V23L11 19.5L1 23Z"
        fill={drained ? 'var(--sunk)' : solid ? hue : 'var(--raised)'}
        stroke={drained ? 'var(--rule-strong)' : hue}
        stroke-width="1.75"
        stroke-dasharray={dash}
        stroke-linecap={certainty === 'guess' ? 'round' : 'butt'}
      />
    </svg>
  {/if}
  <b
    style:color={drained ? 'var(--ink-2)' : solid && kind ? 'var(--k-letter)' : hue}
    style:font-size="{Math.max(11, height * 0.42)}px">{letters}</b
  >
</span>

<style>
  .label {
    position: relative;
    display: inline-grid;
    place-items: center;
    flex: none;
  }
  svg {
    position: absolute;
    inset: 0;
  }
  b {
    position: relative;
    margin-top: -2px;
    font-family: var(--font-head);
    line-height: 1;
  }
</style>
