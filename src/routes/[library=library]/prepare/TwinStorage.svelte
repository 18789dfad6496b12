<script lang="ts">
  import { getSession } from '$lib/state/session.svelte';
  import Sheet from '$lib/ui/Sheet.svelte';
  import { bytes, counted } from '$lib/ui/words/amounts';

  /** Where twins are stored: with the browser, or in a folder of the curator's. */
  let { onclose }: { onclose: () => void } = $props();
  const { library, prepare, work } = getSession();
  const { making, shelf } = prepare;

  let problem = $state<string | null>(null);
  let isMoving = $state(false);
  const canChoose = 'showDirectoryPicker' in window;
  const mayMove = $derived(library.mayWrite && !isMoving && making.left === 0);
  const stayed = $derived.by(() => {
    void shelf.version;
    return shelf.elsewhere(true);
  });
  const count = $derived.by(() => {
    void shelf.version;
    return shelf.elsewhere(true) + shelf.elsewhere(false);
  });

  /** @param inFolder where they go @param act moves them, and says what went wrong */
  async function move(inFolder: boolean, act: (tell: (moved: number) => void) => Promise<string | null>) {
    problem = null;
    isMoving = true;
    const job = work.start('Move twins', shelf.elsewhere(inFolder), null);
    problem = await act((moved) => job.progress(moved)).catch((error: unknown) => String(error));
    isMoving = false;
    const left = shelf.elsewhere(inFolder);
    job.finish(
      problem === null ? `Twins are stored in ${place()}` : `${counted(left, 'twin')} not moved: ${problem}`,
      problem !== null,
    );
  }
  const place = () => (shelf.folder ? `the folder ${shelf.folder.handle.name}` : 'the browser');

  async function choose() {
    const handle = await window
      .showDirectoryPicker?.({ id: 'lectorum-twins', mode: 'readwrite' })
      // Closing the picker is no fault.
      .catch(() => null);
    if (handle) await move(true, (tell) => shelf.useFolder(handle, tell));
  }
</script>

<Sheet title="Where twins are stored" {onclose}>
  <p>
    {#if count > 0}{counted(count, 'twin')}, {bytes(shelf.bytes)}, in {place()}.{:else}Twins will be stored in
      {place()}.{/if}
  </p>
  {#if shelf.folder && !shelf.folder.isShut && stayed > 0}
    <p class="odd">{counted(stayed, 'twin')} could not be written there, and stayed in the browser.</p>
  {/if}
  {#if shelf.folder?.isShut}
    <p class="odd">
      {#if shelf.folder.isAway}{shelf.folder.handle.name} is not there. Connect its disk.{:else}The browser
        needs your permission for {shelf.folder.handle.name} again.{/if} Until then, runs that need a twin from
      it fail, and new twins stay in the browser.
    </p>
  {/if}
  <p class="quiet">
    Browser storage may be limited, and is cleared with the site’s data. A folder holds as much as its disk;
    nothing else in it is touched. Twins move with each change.
  </p>
  {#if problem !== null}<p class="odd" role="alert">{problem}</p>{/if}
  <div class="acts">
    {#if shelf.folder?.isShut}
      <button
        class="btn btn-primary"
        disabled={!mayMove}
        onclick={() => move(true, (tell) => shelf.allow(tell))}
        >{shelf.folder.isAway ? 'Look again' : `Allow access to ${shelf.folder.handle.name}`}</button
      >
    {/if}
    <button class="btn" disabled={!mayMove || !canChoose || shelf.folder?.isShut === true} onclick={choose}
      >{shelf.folder ? 'Choose another folder' : 'Choose a folder'}</button
    >
    {#if shelf.folder && !shelf.folder.isShut}
      <button class="btn" disabled={!mayMove} onclick={() => move(false, (tell) => shelf.leaveFolder(tell))}
        >Store in the browser</button
      >
    {/if}
    <button class="btn" onclick={onclose}>Close</button>
  </div>
  {#if !canChoose}<p class="quiet">This browser cannot open folders for writing.</p>{/if}
</Sheet>

<style>
  p {
    margin-top: 8px;
  }
  .acts {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
    margin-top: 14px;
  }
  .odd {
    color: var(--attention-ink);
  }
</style>
