<script lang="ts">
  import Filter from '@lucide/svelte/icons/list-filter';
  import { ASKING } from '$lib/core/browse';
  import { nearestQuerySteps, queryOf, wordsAsText } from '$lib/core/query';
  import { inSlices } from '$lib/state/in-slices';
  import { getSession } from '$lib/state/session.svelte';
  import QueryField from '$lib/ui/QueryField.svelte';

  /** Narrows to items by a query; what may come next is offered while it is typed. */
  const session = getSession();
  const { scope, lists, values } = session;

  const MOST = 8;
  const text = $derived(scope.scope.text);
  const { problem } = $derived(scope);

  /** Nothing meets it: how it was read, and what is near to it and meets something. */
  const nothing = $derived.by(() => {
    const isEmpty = text.trim() !== '' && problem === null && !scope.building && scope.items.length === 0;
    if (!isEmpty || session.library.items.length === 0) return null;
    const words = wordsAsText(queryOf(text, lists.world));
    return { words };
  });
  /** Looked for once the typing rests: of a large library all items are gone through several times. */
  let nearest = $state<string | null>(null);
  const PAUSE = 300;
  $effect(() => {
    nearest = null;
    if (!nothing) return;
    const own = text;
    let stop = () => {};
    const timer = setTimeout(() => {
      const steps = nearestQuerySteps(own, session.library.items, ASKING, lists.world);
      stop = inSlices(steps, (found) => (nearest = found));
    }, PAUSE);
    return () => {
      clearTimeout(timer);
      stop();
    };
  });
</script>

<div class="narrow">
  <QueryField
    label="Narrow by any field"
    placeholder="Narrow by any field"
    {text}
    {problem}
    meanwhile="; the part before it is used."
    worldNames={lists.world}
    valuesOf={(name, typed) => values.like(name, typed, MOST)}
    onwrite={(value) => session.narrow({ ...scope.scope, text: value })}
  >
    {#snippet icon()}<Filter size={15} aria-hidden="true" />{/snippet}
    {#snippet below(write)}
      {#if nothing}
        <p role="status">
          No items match{nothing.words.length > 0
            ? `: searched as text, “${nothing.words.join('” and “')}”`
            : ''}.
          {#if nearest}
            <button
              class="act"
              onmousedown={(event) => event.preventDefault()}
              onclick={() => write(nearest ?? '')}>Search {nearest}</button
            >
          {/if}
        </p>
      {/if}
    {/snippet}
  </QueryField>
</div>

<style>
  .narrow {
    flex: 0 1 300px;
    min-width: 120px;
    margin-left: auto;
  }
</style>
