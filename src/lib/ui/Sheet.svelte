<script lang="ts">
  import { Dialog } from 'bits-ui';
  import type { Snippet } from 'svelte';

  /** A dialog over the board, which closes by Escape or a click beside it. */
  let {
    title,
    wide = false,
    onclose,
    children,
  }: { title: string; wide?: boolean; onclose: () => void; children: Snippet } = $props();
</script>

<Dialog.Root open onOpenChange={(open) => !open && onclose()}>
  <Dialog.Portal>
    <Dialog.Overlay class="veil" />
    <Dialog.Content class={['sheet', wide && 'wide']}>
      <Dialog.Title class="sheet-title">{title}</Dialog.Title>
      {@render children()}
    </Dialog.Content>
  </Dialog.Portal>
</Dialog.Root>

<style>
  :global(.sheet form.rows) {
    display: grid;
    gap: 8px;
    margin-top: 12px;
  }
  :global(.sheet form.rows :is(.input, .select)) {
    width: 100%;
    font-size: inherit;
  }
  :global(.sheet form.rows > label:not(.check)) {
    display: grid;
    grid-template-columns: 110px minmax(0, 1fr);
    align-items: center;
    gap: 8px;
  }
  :global(.sheet form.rows :is(label > span, legend)) {
    color: var(--ink-2);
  }
  :global(.sheet form.rows .acts) {
    display: flex;
    gap: 8px;
  }
</style>
