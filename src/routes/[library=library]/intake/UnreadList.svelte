<script lang="ts">
  import type { UnreadFile } from '$lib/core/items';
  import { counted } from '$lib/ui/words/amounts';
  import { unreadWords } from '$lib/ui/words/unread-words';

  let {
    unread,
    aside,
    onTake,
  }: {
    unread: readonly UnreadFile[];
    /** Files that are no media, by what they came in with. */
    aside: readonly { readonly label: string; readonly count: number; readonly paths: readonly string[] }[];
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

<div class="lists">
  {#if unread.length > 0}<ul aria-label="Files that were not read">
      {#each unread as file, index (index)}
        {@const { why, remedy } = unreadWords(file)}
        <li>
          <span class="path">{file.path}</span>
          <span class:why={file.code !== 'double'}>{why}</span>
          <span class="quiet">{remedy}</span>
          {#if file.code === 'cutShort'}
            <button
              class="act"
              disabled={busy !== null}
              aria-label="Take the readable part of {file.path}"
              onclick={() => take(file)}>Take the readable part</button
            >
          {/if}
          {#if trouble[file.path]}<span class="why" role="alert"
              >nothing could be read: {trouble[file.path]}</span
            >{/if}
        </li>
      {/each}
    </ul>{/if}
  {#each aside as { label, count, paths }, index (index)}
    <section>
      <h3>{counted(count, 'file')} set aside from {label}</h3>
      <p class="quiet">Not media, and not recognised as part of an item or list. They stay where they are.</p>
      <ul aria-label="Files set aside from {label}">
        {#each paths as path (path)}<li class="path">{path}</li>{/each}
        {#if count > paths.length}<li class="quiet">
            and {(count - paths.length).toLocaleString('en')} more
          </li>{/if}
      </ul>
    </section>
  {/each}
</div>

<style>
  .lists {
    overflow: auto;
    flex: 1;
    border-top: 1px solid var(--rule);
  }
  section {
    padding: 8px 16px;
  }
  h3 {
    font-size: var(--t-sub);
  }
  section li {
    padding: 2px 0;
    font-size: var(--t-body);
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
