<script lang="ts">
  import Bookmark from '@lucide/svelte/icons/bookmark';
  import { sameView } from '$lib/core/browse';
  import { getSession } from '$lib/state/session.svelte';
  import Flyout from '$lib/ui/Flyout.svelte';

  /** Views that were kept: what is looked at, and how it is grouped. */
  const session = getSession();
  const { library, scope } = session;

  const levels = $derived(scope.levels[scope.board]);
  const current = $derived(library.views.find((view) => sameView(view, scope.scope, levels)) ?? null);
</script>

<Flyout label={current ? `Views: ${current.name}` : 'Views'} look="words">
  {#snippet button()}
    <Bookmark size={15} fill={current ? 'currentColor' : 'none'} aria-hidden="true" />
    <span>{current?.name ?? 'views'}</span>
  {/snippet}
  {#snippet children(close)}
    {#await import('./ViewsSheet.svelte') then { default: ViewsSheet }}
      <ViewsSheet {levels} {current} onend={close} />
    {/await}
  {/snippet}
</Flyout>

<style>
  span {
    overflow: hidden;
    text-overflow: ellipsis;
  }
</style>
