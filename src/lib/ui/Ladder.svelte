<script lang="ts">
  /** Progress drawn like a chart's edge: a bar over alternating segments. */
  let {
    done,
    total,
    label,
    width = 104,
  }: { done: number; total: number | null; label: string; width?: number } = $props();

  const part = $derived(total ? Math.min(1, done / total) : 0);
</script>

<span
  class="ladder"
  style:width="{width}px"
  role="progressbar"
  aria-label={label}
  aria-valuemin="0"
  aria-valuemax={total ?? undefined}
  aria-valuenow={total === null ? undefined : done}
>
  <span class="bar" style:width="{part * 100}%"></span>
</span>

<style>
  .ladder {
    display: inline-block;
    position: relative;
    height: 9px;
    border: 1px solid var(--rule-strong);
    background: repeating-linear-gradient(90deg, var(--ink-2) 0 13px, var(--raised) 13px 26px) bottom / 100%
      3px no-repeat;
  }
  .bar {
    position: absolute;
    left: 0;
    top: 0;
    height: 4px;
    background: var(--primary);
  }
</style>
