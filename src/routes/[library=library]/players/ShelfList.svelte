<script lang="ts">
  import { nameOf } from '$lib/core/paths';
  import type { PlanDigest, ShownNode } from '$lib/core/plan';
  import SpineLabel from '$lib/ui/SpineLabel.svelte';
  import { counted } from '$lib/ui/words/amounts';
  import { unplacedWords } from '$lib/ui/words/run-words';

  /** What the player would show, shelf by shelf, and what it would miss. */
  let {
    plan,
    player,
    splits,
    onopen,
  }: {
    plan: PlanDigest;
    player: string;
    splits: ReadonlySet<string>;
    /** What a shelf holds. */
    onopen: (shelf: string) => Promise<readonly ShownNode[]>;
  } = $props();

  let open = $state<string | null>(null);
  let inside = $state.raw<readonly ShownNode[]>([]);

  // Asked for again with every plan: what the shelf holds may be other things by then.
  $effect(() => {
    void plan;
    const shelf = open;
    if (shelf === null) return;
    let stale = false;
    void onopen(shelf).then(
      (nodes) => {
        if (!stale) inside = nodes;
      },
      () => {},
    );
    return () => (stale = true);
  });

  function toggle(shelf: string) {
    inside = [];
    open = open === shelf ? null : shelf;
  }
</script>

{#snippet leaves(nodes: readonly ShownNode[])}
  <ol>
    {#each nodes as node (node.key)}
      <li>
        <span class="number">{node.facts.track ?? node.facts.episode ?? ''}</span>
        {node.facts.title ?? node.facts.maker ?? 'no name'}
        {#if node.path === null}{@render leaves(node.nodes)}{/if}
      </li>
    {/each}
  </ol>
{/snippet}

<section aria-label="What {player} will show">
  <header>
    <b>{player} will show</b> <span class="quiet">{counted(plan.shelves.count, 'shelf', 'shelves')}</span>
  </header>
  <ul>
    {#each plan.shelves.first as node (node.key)}
      {@const { title, maker, year, picture } = node.facts}
      <li>
        <button aria-expanded={open === node.key} onclick={() => toggle(node.key)}>
          <SpineLabel kind={node.kind} />
          <span class="name"
            ><b>{title ?? maker ?? (node.kind === 'podcast' ? 'No show' : 'No name')}</b>
            {title ? (maker ?? '') : ''}
            {year ?? ''}</span
          >
          {#if typeof title === 'string' && splits.has(title.trim())}<span class="split">split</span>{/if}
          {#if picture === null}<span class="quiet">no picture</span>{/if}
          <span class="count">{node.count}</span>
        </button>
        {#if open === node.key}{@render leaves(inside)}{/if}
      </li>
    {/each}
    {#if plan.shelves.count > plan.shelves.first.length}<li class="quiet more">
        {counted(plan.shelves.count - plan.shelves.first.length, 'more shelf', 'more shelves')}
      </li>{/if}
    {#if plan.shelves.count === 0}<li class="quiet more">nothing yet</li>{/if}
  </ul>
  {#if plan.unplaced.count > 0}
    <h3>It would not show {plan.unplaced.count}</h3>
    <ul>
      {#each plan.unplaced.first as { path, code, detail } (path)}
        <li class="missed">
          <span class="path">{nameOf(path)}</span> <span>{unplacedWords(code, detail)}</span>
        </li>
      {/each}
    </ul>
  {/if}
  {#if plan.foreign > 0}<p class="quiet more">
      {#if plan.added > 0}{counted(plan.added, 'file')} of {player}’s own{plan.foreign > plan.added
          ? `, and ${(plan.foreign - plan.added).toLocaleString('en')} that it does not play by themselves`
          : ''}{:else}{counted(plan.foreign, 'file')} there that it does not play by {plan.foreign === 1
          ? 'itself'
          : 'themselves'}{/if}, left alone
    </p>{/if}
</section>

<style>
  section {
    border: 1px solid var(--ink-2);
    border-left-width: 4px;
    background: var(--raised);
  }
  header,
  h3 {
    padding: 6px 10px;
    border-bottom: 1px solid var(--rule);
    font-size: var(--t-body);
  }
  button {
    display: flex;
    align-items: center;
    gap: 8px;
    width: 100%;
    min-height: 27px;
    padding: 1px 10px;
    text-align: left;
  }
  button:hover {
    background: var(--select);
  }
  .name {
    flex: 1;
    min-width: 0;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .split {
    color: var(--blocks-ink);
    font-weight: 600;
  }
  .count {
    font-family: var(--font-mono);
  }
  ol {
    padding: 2px 10px 6px 38px;
    color: var(--ink-2);
  }
  ol li {
    overflow-wrap: anywhere;
  }
  .number {
    display: inline-block;
    width: 22px;
    font-family: var(--font-mono);
    font-size: var(--t-small);
  }
  h3 {
    color: var(--blocks-ink);
    border-top: 1px solid var(--rule);
  }
  .missed {
    display: grid;
    padding: 3px 10px;
  }
  .missed .path {
    overflow-wrap: anywhere;
  }
  .more {
    padding: 5px 10px;
  }
</style>
