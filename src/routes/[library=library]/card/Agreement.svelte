<script lang="ts">
  import type { SharedValue } from '$lib/core/browse';

  /** How far the values of a field agree: those that have the usual one, those that have another, those that have none. */
  let { shared, total }: { shared: SharedValue; total: number } = $props();

  const words = $derived.by(() => {
    if (shared.type === 'same') return shared.value === null ? '' : `all ${total}`;
    if (shared.isOwn && shared.usualCount === 1) return 'all different';
    return [
      shared.others > 0 ? `${shared.others} differ` : null,
      shared.empty > 0 ? `${shared.empty} empty` : null,
    ]
      .filter(Boolean)
      .join(', ');
  });
  /** Small parts are seen as well: a bar of 44 pixels has room for two of them. */
  const part = (count: number) => `${count} 1 ${count > 0 ? 3 : 0}px`;
</script>

{#if shared.type === 'differs' && words !== 'all different'}
  <span class="bar" aria-hidden="true">
    <i class="usual" style:flex={part(shared.usualCount)}></i>
    {#if shared.others > 0}<i class="others" style:flex={part(shared.others)}></i>{/if}
    {#if shared.empty > 0}<i class="empty" style:flex={part(shared.empty)}></i>{/if}
  </span>
{/if}
<span class={['words', shared.type === 'differs' && words !== 'all different' && 'apart']}>{words}</span>

<style>
  .bar {
    display: flex;
    gap: 1px;
    width: 40px;
    height: 7px;
  }
  .usual {
    background: var(--ink-2);
  }
  .others {
    background: var(--attention);
  }
  .empty {
    border: 1px solid var(--attention-ink);
  }
  .words {
    color: var(--ink-3);
    white-space: nowrap;
  }
  .apart {
    color: var(--attention-ink);
  }
</style>
