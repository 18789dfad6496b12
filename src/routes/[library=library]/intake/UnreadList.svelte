<script lang="ts">
  import type { UnreadFile } from '$lib/core/items';
  import { unreadWords } from '$lib/ui/words/unread-words';

  let {
    unread,
    onTake,
  }: {
    unread: readonly UnreadFile[];
    /** Takes what is there of a file that is cut short; answers with why it could not. */
    onTake: (file: UnreadFile) => Promise<string | null>;
  } = $props();
  let trouble = $state<Record<string, string>>({});
  let busy = $state<string | null>(null);

  async function take(file: UnreadFile) {
    busy = file.path;
    const why = await onTake(file);
    if (why !== null) trouble[file.path] = why;
    busy = null;
  }
</script>

<ul aria-label="Files that were not read">
  {#each unread as file, index (index)}
    {@const { why, remedy } = unreadWords(file)}
    <li>
      <span class="path">{file.path}</span>
      <span class="why">{why}</span>
      <span class="quiet">{remedy}</span>
      {#if file.code === 'cutShort'}
        <button
          class="act"
          disabled={busy !== null}
          aria-label="Take what is there of {file.path}"
          onclick={() => take(file)}>Take what is there</button
        >
      {/if}
      {#if trouble[file.path]}<span class="why" role="alert">nothing could be had: {trouble[file.path]}</span
        >{/if}
    </li>
  {/each}
</ul>

<style>
  ul {
    overflow: auto;
    flex: 1;
    border-top: 1px solid var(--rule);
  }
  li {
    display: grid;
    gap: 1px;
    padding: 8px 16px;
    border-bottom: 1px solid var(--rule);
    font-size: var(--t-read);
  }
  li button {
    justify-self: start;
  }
  .why {
    color: var(--blocks-ink);
  }
</style>
