<script lang="ts">
  import { LIST_FILE_ENDINGS } from '$lib/core/list-files';
  import { extensionOf } from '$lib/core/paths';
  import { givenByDrop, walkHandle } from '$lib/io/take-in/walk';
  import type { ListRead } from '$lib/state/lists/list-files';
  import { getSession } from '$lib/state/session.svelte';
  import { counted } from '$lib/ui/words/amounts';
  import { foundWords } from '$lib/ui/words/list-words';

  /** Reads list files, by the dialog, dropped here or from a folder, and says how their entries were found. */
  const { lists, library, work } = getSession();

  const ACCEPT = '.m3u,.m3u8,.xspf,.pls,.txt';
  let read = $state.raw<readonly ListRead[]>([]);
  let troubles = $state.raw<readonly string[]>([]);
  let isOver = $state(false);

  const ENDINGS: ReadonlySet<string> = new Set(Object.values(LIST_FILE_ENDINGS));
  /** Of a folder, plain texts are more likely something else. */
  const isList = (path: string, inFolder: boolean) => {
    const ending = extensionOf(path);
    return ENDINGS.has(ending) && !(inFolder && ending === LIST_FILE_ENDINGS.text);
  };

  /** The list files among what was dropped, and in folders that were. */
  async function takeDropped(transfer: DataTransfer) {
    const files: File[] = [];
    for (const { handle, files: own } of await givenByDrop(transfer))
      for await (const one of own)
        if ('file' in one && isList(one.path, handle !== null)) files.push(one.file);
    await take(files);
  }

  async function takeFolder() {
    try {
      const folder = await window.showDirectoryPicker?.({ id: 'lectorum-lists', mode: 'read' });
      const files: File[] = [];
      if (folder)
        for await (const { path, file } of walkHandle(folder)) if (isList(path, true)) files.push(file);
      if (folder) await take(files);
    } catch (error) {
      // Closing the dialog is no error.
      if (!(error instanceof DOMException && error.name === 'AbortError')) throw error;
    }
  }

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
    const { dataTransfer } = event;
    if (!dataTransfer?.types.includes('Files')) return;
    event.preventDefault();
    event.stopPropagation();
    void takeDropped(dataTransfer);
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
  {#if 'showDirectoryPicker' in window}
    <button class="act" disabled={!library.mayWrite} onclick={takeFolder}>Read a folder of lists</button>
  {/if}
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
  label,
  button {
    display: block;
    font-size: var(--t-body);
  }
  label {
    position: relative;
    width: fit-content;
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
