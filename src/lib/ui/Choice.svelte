<script lang="ts" generics="V extends string | number">
  /** One of a few, side by side. */
  let {
    label,
    options,
    value,
    onchoose,
  }: {
    label: string;
    options: readonly {
      readonly value: V;
      readonly name: string;
      /** What stands behind it, such as a count. */
      readonly note?: string | number;
      readonly disabled?: boolean;
    }[];
    value: V;
    onchoose: (value: V) => void;
  } = $props();
</script>

<div role="group" aria-label={label}>
  {#each options as one (one.value)}
    <button aria-pressed={one.value === value} disabled={one.disabled} onclick={() => onchoose(one.value)}
      >{one.name}{#if one.note !== undefined}<small>{one.note}</small>{/if}</button
    >
  {/each}
</div>

<style>
  div {
    display: flex;
  }
  button {
    flex: 1 0 auto;
    height: 26px;
    padding: 0 9px;
    border: 1px solid var(--rule-strong);
    color: var(--ink-2);
    white-space: nowrap;
  }
  button + button {
    border-left: 0;
  }
  button:disabled {
    color: var(--ink-3);
  }
  button[aria-pressed='true'] {
    background: var(--select);
    color: var(--ink);
    font-weight: 600;
  }
  small {
    margin-left: 6px;
    font-weight: 400;
    color: var(--ink-3);
  }
  button[aria-pressed='true'] small {
    color: var(--ink-2);
  }
</style>
