<script lang="ts">
  import type { UnreadFile } from '$lib/core/items';
  import { unreadWords } from '$lib/ui/words/unread-words';

  let { unread }: { unread: readonly UnreadFile[] } = $props();
</script>

<ul aria-label="Files that were not read">
  {#each unread as file, index (index)}
    {@const { why, remedy } = unreadWords(file)}
    <li>
      <span class="path">{file.path}</span>
      <span class="why">{why}</span>
      <span class="quiet">{remedy}</span>
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
  .why {
    color: var(--blocks-ink);
  }
</style>
