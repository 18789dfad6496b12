<script lang="ts">
  import X from '@lucide/svelte/icons/x';
  import { dragHandleZone, dragHandle } from 'svelte-dnd-action';

  /** Several values in their order: dragged, or moved and taken away by keyboard. */
  let {
    label,
    values,
    onchange,
  }: { label: string; values: readonly string[]; onchange: (values: readonly string[]) => void } = $props();

  interface Token {
    readonly id: string;
  }
  /** While one is dragged, its place among the others is the package's. */
  let dragged = $state.raw<Token[] | null>(null);
  const tokens = $derived<Token[]>(dragged ?? values.map((id) => ({ id })));

  function finish(items: readonly Token[]) {
    dragged = null;
    const next = items.map(({ id }) => id);
    if (next.join('\0') !== values.join('\0')) onchange(next);
  }

  function keydown(event: KeyboardEvent, at: number) {
    const by = event.key === 'ArrowLeft' ? -1 : event.key === 'ArrowRight' ? 1 : 0;
    if (by === 0 || !event.altKey) return;
    event.preventDefault();
    event.stopPropagation();
    const to = at + by;
    const next = [...values];
    const [one] = next.splice(at, 1);
    if (one === undefined || to < 0 || to > next.length) return;
    next.splice(to, 0, one);
    onchange(next);
  }
</script>

<ul
  aria-label="Values of {label} in their order"
  use:dragHandleZone={{ items: tokens, flipDurationMs: 120, dropTargetStyle: {}, type: label }}
  onconsider={(event: CustomEvent<{ items: Token[] }>) => (dragged = event.detail.items)}
  onfinalize={(event: CustomEvent<{ items: Token[] }>) => finish(event.detail.items)}
>
  {#each tokens as token, index (token.id)}
    <li>
      <span
        class="grip"
        role="button"
        tabindex="0"
        use:dragHandle
        aria-label="Drag {token.id}"
        onkeydown={(event) => keydown(event, index)}>{token.id}</span
      >
      <button
        aria-label="Remove {token.id}"
        onclick={() => onchange(values.filter((value) => value !== token.id))}><X size={12} /></button
      >
    </li>
  {/each}
</ul>

<style>
  ul {
    display: flex;
    flex-wrap: wrap;
    gap: 4px;
    grid-column: 2 / -1;
    padding: 1px 6px 4px;
  }
  li {
    display: flex;
    align-items: center;
    border: 1px solid var(--rule-strong);
    background: var(--raised);
    font-size: var(--t-small);
  }
  .grip {
    padding: 1px 2px 1px 6px;
    cursor: grab;
  }
  button {
    padding: 3px;
    color: var(--ink-2);
  }
</style>
