<script lang="ts">
  import type { Severity } from '$lib/core/plan';

  let { severity }: { severity: Severity } = $props();
</script>

<span class="mark {severity}">
  <svg width="14" height="14" viewBox="0 0 14 14" aria-hidden="true">
    {#if severity === 'blocks'}
      <rect x="1" y="1" width="12" height="12" fill="currentColor" /><rect
        x="3.5"
        y="6"
        width="7"
        height="2"
        fill="var(--raised)"
      />
    {:else if severity === 'splits'}
      <rect x="1" y="2" width="5" height="10" fill="currentColor" /><rect
        x="8"
        y="2"
        width="5"
        height="10"
        fill="currentColor"
      />
    {:else if severity === 'warns'}
      <path d="M7 2L13 12H1Z" fill="none" stroke="currentColor" stroke-width="1.75" /><path
        d="M7 6V9"
        stroke="currentColor"
        stroke-width="1.75"
      />
    {:else}
      <circle cx="7" cy="7" r="4.5" fill="none" stroke="currentColor" stroke-width="1.75" />
    {/if}
  </svg>
  {severity}
</span>

<style>
  .mark {
    display: inline-flex;
    align-items: center;
    gap: 6px;
    font-weight: 600;
    white-space: nowrap;
  }
  .blocks,
  .splits {
    color: var(--blocks-ink);
  }
  .warns {
    color: var(--attention-ink);
  }
  .note {
    color: var(--ink-2);
    font-weight: 400;
  }
</style>
