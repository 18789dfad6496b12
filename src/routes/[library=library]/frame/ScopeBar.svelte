<script lang="ts">
  import { LEVELS, MOST_LEVELS, type Level } from '$lib/core/browse';
  import { KINDS, KIND_FACTS, type Kind } from '$lib/core/kinds';
  import { getSession } from '$lib/state/session.svelte';
  import SpineLabel from '$lib/ui/SpineLabel.svelte';
  import NarrowField from './NarrowField.svelte';
  import SavedViews from './SavedViews.svelte';

  const session = getSession();
  const scope = session.scope;
  const present = $derived<(Kind | 'open')[]>(
    [...KINDS, 'open' as const].filter((kind) => session.counts.kinds.has(kind)),
  );
  const levels = $derived(scope.levels[scope.board]);
  /** One more than there are levels, so that another can be added. */
  const slots = $derived(
    Array.from({ length: Math.min(MOST_LEVELS, levels.length + 1) }, (_, index) => index),
  );
  const grouped = $derived(
    scope.board === 'intake' || scope.board === 'describe' || scope.board === 'prepare',
  );

  const choose = (kind: Kind | 'open' | null) =>
    session.narrow({ ...scope.scope, kind: scope.scope.kind === kind ? null : kind });
  const words: Record<Level, string> = {
    arrival: 'arrival',
    release: 'release',
    kind: 'kind',
    folder: 'folder',
    artist: 'artist',
    albumArtist: 'album artist',
    genre: 'genre',
    composer: 'composer',
    year: 'year',
    decade: 'decade',
    format: 'format',
    none: 'nothing',
  };
</script>

<section class="bar" aria-label="Scope">
  <button class="kind" aria-pressed={scope.scope.kind === null} onclick={() => choose(null)}>
    All <b>{session.library.items.length.toLocaleString('en')}</b>
  </button>
  {#each present as kind (kind)}
    {@const name = kind === 'open' ? 'without a kind' : KIND_FACTS[kind].many}
    <button
      class="kind"
      aria-pressed={scope.scope.kind === kind}
      onclick={() => choose(kind)}
      aria-label="{session.counts.kinds.get(kind)} {name}"
    >
      <SpineLabel
        kind={kind === 'open' ? null : kind}
        drained={scope.scope.kind !== null && scope.scope.kind !== kind}
      />
      <b>{session.counts.kinds.get(kind)?.toLocaleString('en')}</b>
    </button>
  {/each}
  <NarrowField />
  <SavedViews />
  {#if grouped}
    <span class="group">
      <span>grouped by</span>
      {#each slots as index (index)}
        {#if index > 0}<span aria-hidden="true">›</span>{/if}
        <select
          aria-label={index === 0 ? 'Grouped by' : `Grouped by, level ${index + 1}`}
          value={levels[index] ?? 'none'}
          onchange={(event) => scope.setLevel(index, event.currentTarget.value as Level)}
        >
          {#each LEVELS as level (level)}
            {#if level === 'none' || !levels.slice(0, index).includes(level)}<option value={level}
                >{words[level]}</option
              >{/if}
          {/each}
        </select>
      {/each}
    </span>
  {/if}
  <span class="count"><b>{scope.counts.items.toLocaleString('en')}</b> in scope</span>
</section>

<style>
  .bar {
    display: flex;
    align-items: center;
    gap: 12px;
    height: var(--h-scope);
    flex: none;
    padding: 0 16px;
    border-bottom: 1px solid var(--rule);
  }
  .kind {
    display: flex;
    align-items: center;
    gap: 5px;
    height: 100%;
    border-bottom: 2px solid transparent;
  }
  .kind[aria-pressed='true'] {
    border-bottom-color: var(--ink);
  }
  .group {
    display: flex;
    align-items: center;
    gap: 5px;
    color: var(--ink-2);
    white-space: nowrap;
    min-width: 0;
    overflow-x: auto;
  }
  .group > span {
    flex: none;
  }
  select {
    flex: none;
    font-weight: 600;
    color: var(--ink);
    background: var(--base);
    border-bottom: 1px solid var(--ink-2);
    max-width: 108px;
  }
  .count {
    border-left: 1px solid var(--rule);
    padding-left: 12px;
    color: var(--ink-2);
    white-space: nowrap;
  }
  .count b {
    color: var(--ink);
  }
  @media (max-width: 760px) {
    .bar {
      height: auto;
      min-height: var(--h-scope);
      padding: 4px 12px;
      overflow-x: auto;
    }
    .bar > :global(*) {
      flex: none;
    }
  }
</style>
