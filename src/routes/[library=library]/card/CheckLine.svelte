<script lang="ts">
  import { onMount } from 'svelte';
  import { isFresh } from '$lib/core/checks';
  import { doubleOf, titleOf, type Item } from '$lib/core/items';
  import { nameOf } from '$lib/core/paths';
  import { CheckDesk } from '$lib/state/check-desk.svelte';
  import { getSession } from '$lib/state/session.svelte';
  import { clock } from '$lib/ui/words/amounts';

  /** What a check found of one file, and what else sounds like it. */
  let { item }: { item: Item } = $props();
  const session = getSession();
  const desk = session.part('check', () => new CheckDesk(session));

  const checked = $derived.by(() => {
    const found = desk.checks.get(item.id);
    return found && isFresh(found, item) ? found : null;
  });
  const doubles = $derived(
    desk.findings.flatMap((finding) =>
      finding.type === 'doubles' && finding.items.includes(item.id)
        ? session.library.findAll(finding.items.filter((id) => id !== item.id))
        : [],
    ),
  );

  const double = $derived(doubleOf(item, (id) => session.library.find(id)));

  onMount(() => {
    if (desk.checks.size === 0 && !desk.running) void desk.load();
  });
</script>

{#if checked}
  <p class:bad={checked.decodes !== 'whole'}>
    {#if checked.decodes === 'whole'}plays to the end, {clock(checked.decodedSeconds)}
    {:else if checked.decodes === 'part'}stops at {clock(checked.decodedSeconds)}: {checked.reason}
    {:else}does not play here: {checked.reason}{/if}
  </p>
{/if}
{#if double}
  <p>
    the same file, byte for byte, as
    <button class="act" title={double.path} onclick={() => session.selection.set([double.id], double.id)}
      >{double.path}</button
    >
  </p>
{/if}
{#if doubles.length > 0}
  <p>
    the same sound as
    {#each doubles as other, index (other.id)}
      {index > 0 ? ', ' : ''}<button
        class="act"
        title={other.path}
        onclick={() => session.selection.set([other.id], other.id)}
        >{titleOf(other)} ({nameOf(other.path)})</button
      >
    {/each}
  </p>
{/if}

<style>
  .bad {
    color: var(--blocks-ink);
  }
</style>
