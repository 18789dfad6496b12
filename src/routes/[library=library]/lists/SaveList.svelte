<script lang="ts">
  import { entriesOf, type PlayList } from '$lib/core/lists';
  import { LIST_FILES, type ListFileType, type PathsOut } from '$lib/core/list-files';
  import { saveList } from '$lib/state/lists/list-files';
  import { getSession } from '$lib/state/session.svelte';
  import Sheet from '$lib/ui/Sheet.svelte';
  import { LIST_FILE_NAMES } from '$lib/ui/words/rulebook-words';

  /** Saves a list as a file that other programs read. */
  let { list, onclose }: { list: PlayList; onclose: () => void } = $props();
  const { lists, library, work } = getSession();

  const LINE_ENDS = { lf: '\n', crlf: '\r\n' } as const;
  let type = $state<ListFileType>('m3u8');
  let paths = $state<PathsOut['type']>('relative');
  let at = $state('');
  let root = $state('/');
  let lineEnd = $state<'\n' | '\r\n'>('\n');
  let encoding = $state<'utf-8' | 'windows-1252'>('utf-8');
  const hasEncoding = $derived(type === 'm3u' || type === 'text');

  function save() {
    const entries =
      list.type === 'hand' ? entriesOf(list) : (lists.listed?.items ?? []).map((item) => ({ item }));
    saveList(list.name, entries, (id) => library.find(id), {
      type,
      lineEnd,
      encoding: hasEncoding ? encoding : 'utf-8',
      paths: paths === 'relative' ? { type: 'relative', at } : { type: paths, root },
    });
    work.say(`${list.name} saved as a file`);
    onclose();
  }
</script>

<Sheet title="Save {list.name} as a file" {onclose}>
  <form
    class="rows"
    onsubmit={(event) => {
      event.preventDefault();
      save();
    }}
  >
    <label
      ><span>format</span><select class="select" bind:value={type}>
        {#each LIST_FILES as one (one)}<option value={one}>{LIST_FILE_NAMES[one]}</option>{/each}
      </select></label
    >
    <label
      ><span>paths</span><select class="select" bind:value={paths}>
        <option value="relative">relative to the list file</option>
        <option value="absolute">absolute, below a folder</option>
        <option value="address">file addresses, below a folder</option>
      </select></label
    >
    {#if paths === 'relative'}
      <label
        ><span>list lies in</span><input
          class="input path"
          placeholder="the top folder"
          autocomplete="off"
          bind:value={at}
        /></label
      >
    {:else}
      <label><span>folder</span><input class="input path" autocomplete="off" bind:value={root} /></label>
    {/if}
    <label
      ><span>line ends</span><select class="select" bind:value={lineEnd}>
        <option value={LINE_ENDS.lf}>LF (Linux, macOS, Android)</option>
        <option value={LINE_ENDS.crlf}>CR LF (Windows)</option>
      </select></label
    >
    {#if hasEncoding}
      <label
        ><span>encoding</span><select class="select" bind:value={encoding}>
          <option value="utf-8">UTF-8</option>
          <option value="windows-1252">Windows-1252</option>
        </select></label
      >
    {/if}
    <p class="quiet">Entries that are not in the library are written unchanged.</p>
    <div class="acts">
      <button class="btn btn-primary">Save file</button>
      <button class="btn" type="button" onclick={onclose}>Cancel</button>
    </div>
  </form>
</Sheet>
