<script lang="ts">
  import Grip from '@lucide/svelte/icons/grip-vertical';
  import type { Item } from '$lib/core/items';
  import { download } from '$lib/io/download';
  import { HandOut, type FinishedCopy } from '$lib/state/hand-out.svelte';
  import { getSession } from '$lib/state/session.svelte';
  import { counted } from '$lib/ui/words/amounts';
  import { problemWords } from '$lib/ui/words/pattern-words';

  /** Finished files, saved or dragged out of the window, without a player. */
  let { items }: { items: readonly Item[] } = $props();
  const session = getSession();
  const handOut = session.part('handOut', () => new HandOut(session.library, session.work));
  const uid = $props.id();

  const one = $derived(items.length === 1 ? (items[0] as Item) : null);
  const path = $derived(handOut.pathOf(items[0] as Item));
  const name = $derived(path.slice(path.lastIndexOf('/') + 1));
  /** What can be dragged out: it must be there before dragging begins. */
  let ready = $state.raw<{ readonly of: Item; readonly finished: FinishedCopy; readonly url: string } | null>(
    null,
  );
  const isReady = $derived(ready !== null && ready.of === one);

  $effect(() => {
    const url = ready?.url;
    return () => url && URL.revokeObjectURL(url);
  });

  async function prepare() {
    const own = one;
    if (!own || ready?.of === own) return;
    const finished = await handOut.make(own).catch(() => null);
    if (finished && own === one) ready = { of: own, finished, url: URL.createObjectURL(finished.file) };
  }

  function drag(event: DragEvent) {
    if (!ready || !isReady) return event.preventDefault();
    const { finished, url } = ready;
    event.dataTransfer?.setData(
      'DownloadURL',
      `${finished.file.type || 'application/octet-stream'}:${name}:${url}`,
    );
  }
</script>

<section>
  <h3>
    Do you need {one ? 'its file' : 'their files'} elsewhere?<small>with all fields and pictures</small>
  </h3>
  <div class="acts">
    <button class="btn" onclick={() => void handOut.save(items, download)}
      >{one
        ? 'Save a finished copy'
        : `Save ${counted(items.length, 'finished copy', 'finished copies')}`}</button
    >
    {#if one}
      <span
        class="grip"
        class:ready={isReady}
        role="img"
        aria-label="Drag {name} out of the window"
        title="Drag it to a folder or another program"
        draggable={isReady}
        onpointerenter={() => void prepare()}
        ondragstart={drag}><Grip size={14} />{isReady ? 'drag it out' : 'or drag it out'}</span
      >
    {/if}
  </div>
  <label for={uid}>named by</label>
  <input
    id={uid}
    class="path"
    value={handOut.pattern}
    aria-invalid={handOut.problem !== null}
    aria-describedby="{uid}-note"
    oninput={(event) => handOut.setPattern(event.currentTarget.value)}
  />
  <p id="{uid}-note" class="path" class:wrong={handOut.problem !== null}>
    {handOut.problem ? problemWords(handOut.problem) : path}
  </p>
</section>

<style>
  .acts {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 10px;
    margin: 4px 0 8px;
  }
  .grip {
    display: flex;
    align-items: center;
    gap: 4px;
    color: var(--ink-2);
    font-size: var(--t-small);
  }
  .grip.ready {
    cursor: grab;
    color: var(--primary-ink);
  }
  label {
    color: var(--ink-2);
    font-size: var(--t-small);
  }
  input {
    width: 100%;
    height: 26px;
    padding: 0 6px;
    border: 1px solid var(--rule-strong);
    background: var(--raised);
  }
  p {
    color: var(--ink-2);
    overflow-wrap: anywhere;
  }
  .wrong {
    color: var(--blocks-ink);
  }
</style>
