<script lang="ts" generics="Key extends string">
  /** Counts that narrow a list: all of it, or one sort; the same one again shows all. */
  let {
    label,
    total,
    sorts,
    only,
    onpick,
  }: {
    label: string;
    total: number;
    sorts: readonly { readonly key: Key; readonly name: string; readonly count: number }[];
    only: Key | null;
    onpick: (key: Key | null) => void;
  } = $props();
</script>

<div class="by" role="group" aria-label={label}>
  <button aria-pressed={only === null} onclick={() => onpick(null)}>all {total.toLocaleString('en')}</button>
  {#each sorts as { key, name, count } (key)}
    <button aria-pressed={only === key} onclick={() => onpick(only === key ? null : key)}
      >{name} {count.toLocaleString('en')}</button
    >
  {/each}
</div>

<style>
  .by {
    display: flex;
    gap: 14px;
    flex: none;
    height: 28px;
    align-items: center;
    font-size: var(--t-small);
    border-bottom: 1px solid var(--rule-strong);
  }
  button {
    color: var(--ink-2);
    padding: 2px 0;
  }
  button[aria-pressed='true'] {
    color: var(--ink);
    font-weight: 600;
    box-shadow: inset 0 -2px var(--primary);
  }
</style>
