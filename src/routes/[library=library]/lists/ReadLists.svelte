<script lang="ts">
  import type { ListRead } from '$lib/state/lists/list-files';
  import { getSession } from '$lib/state/session.svelte';
  import { counted } from '$lib/ui/words/amounts';
  import { foundWords } from '$lib/ui/words/list-words';

  /** Reads list files, by the dialog or dropped here, and says how their entries were found. */
  const { lists, library, work } = getSession();

  const ACCEPT = '.m3u,.m3u8,.xspf,.pls,.txt';
  let read = $state.raw<readonly ListRead[]>([]);
  let troubles = $state.raw<readonly string[]>([]);
  let isOver = $state(false);

  async function take(files: readonly File[]) {
    read = [];
    troubles = [];
    for (const file of files) {
      try {
        read = [...read, await lists.readFile(file)];
      } catch (error) {
        troubles = [
          ...troubles,
          `${file.name} was not read: ${error instanceof Error ? error.message : String(error)}`,
        ];
      }
    }
    const last = read.at(-1);
    if (last) lists.choose(last.list.id);
    work.say(
      `${counted(read.length, 'list file')} read${troubles.length > 0 ? `, ${troubles.length} failed` : ''}`,
      troubles.length > 0,
    );
  }
</script>

<div
  class="read"
  class:over={isOver}
  role="group"
  aria-label="Read list files"
  ondragover={(event) => {
    if (!event.dataTransfer?.types.includes('Files') || !library.mayWrite) return;
    event.preventDefault();
    event.stopPropagation();
    isOver = true;
  }}
  ondragleave={() => (isOver = false)}
  ondrop={(event) => {
    isOver = false;
    const files = [...(event.dataTransfer?.files ?? [])];
    if (files.length === 0) return;
    event.preventDefault();
    event.stopPropagation();
    void take(files);
  }}
>
  {#each read as { list, found, open } (list.id)}
    <p><b>{list.name}</b>: {foundWords(found, open)}</p>
  {/each}
  {#each troubles as trouble (trouble)}<p class="trouble" role="alert">{trouble}</p>{/each}
  <label class="act"
    >Read list files<input
      type="file"
      multiple
      accept={ACCEPT}
      disabled={!library.mayWrite}
      onchange={(event) => {
        const files = [...(event.currentTarget.files ?? [])];
        event.currentTarget.value = '';
        void take(files);
      }}
    /></label
  >
</div>

<style>
  .read {
    flex: none;
    padding: 8px 14px 10px;
    border-top: 1px solid var(--rule);
    font-size: var(--t-small);
  }
  .read p {
    margin-bottom: 6px;
    overflow-wrap: anywhere;
  }
  .over {
    background: var(--primary-tint);
  }
  label {
    position: relative;
    font-size: var(--t-body);
  }
  input {
    position: absolute;
    inset: 0;
    opacity: 0;
    cursor: pointer;
  }
  label:focus-within {
    outline: 2px solid var(--primary);
  }
</style>
