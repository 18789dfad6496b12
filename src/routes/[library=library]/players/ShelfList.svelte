<script lang="ts">
  import { nameOf } from '$lib/core/paths';
  import type { ShownNode, Showing } from '$lib/core/plan';
  import SpineLabel from '$lib/ui/SpineLabel.svelte';
  import { counted } from '$lib/ui/words/amounts';
  import { unplacedWords } from '$lib/ui/words/run-words';

  /** What the player would show, shelf by shelf, and what it would miss. */
  let {
    showing,
    player,
    foreign,
    splits,
  }: { showing: Showing; player: string; foreign: number; splits: ReadonlySet<string> } = $props();

  const MOST = 200;
  let open = $state<string | null>(null);

  /** Files in a node and below it. */
  const countOf = ({ path, nodes }: ShownNode): number =>
    path === null ? nodes.reduce((sum, node) => sum + countOf(node), 0) : 1;
</script>

{#snippet leaves(nodes: readonly ShownNode[])}
  <ol>
    {#each nodes.slice(0, MOST) as node (node.key)}
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
    <b>{player} will show</b> <span class="quiet">{counted(showing.nodes.length, 'shelf', 'shelves')}</span>
  </header>
  <ul>
    {#each showing.nodes.slice(0, MOST) as node (node.key)}
      {@const { title, maker, year, picture } = node.facts}
      <li>
        <button
          aria-expanded={open === node.key}
          onclick={() => (open = open === node.key ? null : node.key)}
        >
          <SpineLabel kind={node.kind} />
          <span class="name"
            ><b>{title ?? maker ?? 'no name'}</b>
            {title ? (maker ?? '') : ''}
            {year ?? ''}</span
          >
          {#if typeof title === 'string' && splits.has(title.trim())}<span class="split">split</span>{/if}
          {#if picture === null}<span class="quiet">no picture</span>{/if}
          <span class="count">{countOf(node)}</span>
        </button>
        {#if open === node.key}{@render leaves(node.nodes)}{/if}
      </li>
    {/each}
    {#if showing.nodes.length > MOST}<li class="quiet more">
        {showing.nodes.length - MOST} more shelves
      </li>{/if}
    {#if showing.nodes.length === 0}<li class="quiet more">nothing yet</li>{/if}
  </ul>
  {#if showing.unplaced.length > 0}
    <h3>It would miss {showing.unplaced.length}</h3>
    <ul>
      {#each showing.unplaced.slice(0, 20) as { path, code, detail } (path)}
        <li class="missed">
          <span class="path">{nameOf(path)}</span> <span>{unplacedWords(code, detail)}</span>
        </li>
      {/each}
    </ul>
  {/if}
  {#if foreign > 0}<p class="quiet more">{counted(foreign, 'file')} of its own there, left alone</p>{/if}
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
