<script lang="ts">
  import Grip from '@lucide/svelte/icons/grip-vertical';
  import type { Item } from '$lib/core/items';
  import { download } from '$lib/io/download';
  import { HandOut, type FinishedCopy } from '$lib/state/hand-out.svelte';
  import { getSession } from '$lib/state/session.svelte';
  import PatternField from '$lib/ui/PatternField.svelte';
  import { counted } from '$lib/ui/words/amounts';

  /** Finished files, saved or dragged out of the window, without a player. */
  let { items }: { items: readonly Item[] } = $props();
  const session = getSession();
  const handOut = session.part('handOut', () => new HandOut(session.library, session.work));

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
  <PatternField
    label="named by"
    pattern={handOut.pattern.text}
    problem={handOut.pattern.problem}
    example={path}
    onpattern={(pattern) => handOut.pattern.set(pattern)}
  />
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
</style>
