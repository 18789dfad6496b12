<script lang="ts">
  import { titleOf, type Item } from '$lib/core/items';
  import { toMakeOf, recipeKey, type Playability } from '$lib/core/twins';
  import type { PlayerDesk } from '$lib/state/player/desk.svelte';
  import { getSession } from '$lib/state/session.svelte';
  import { bytes, clock, counted } from '$lib/ui/words/amounts';
  import { unheldWords } from '$lib/ui/words/finding-words';
  import { UNMAKEABLE, recipeWords, timeWords } from '$lib/ui/words/twin-words';

  /** Where the selected items play, by what, and what making them playable costs. */
  let { items }: { items: readonly Item[] } = $props();
  const session = getSession();
  const { prepare, players } = session;
  const { making } = prepare;

  const one = $derived(items.length === 1 ? (items[0] ?? null) : null);
  const length = $derived(items.reduce((sum, { facts }) => sum + (facts.durationSeconds ?? 0), 0));
  const told = $derived(
    players.list.map((desk) => ({ desk, lines: linesOf(desk), make: prepare.makingFor(items, desk) })),
  );
  /** Players that need a twin of some of them. */
  const asking = $derived(
    players.list.filter((desk) => items.some((item) => 'recipe' in prepare.playability(item, desk))),
  );
  const all = $derived(toMakeOf(told.flatMap(({ make }) => make.wanted)));
  const time = $derived(making.secondsFor(all.wanted));

  /** What is to be said of a player, each said once with how many items it is said of. */
  function linesOf(desk: PlayerDesk): readonly string[] {
    const counts = new Map<string, number>();
    for (const item of items) {
      const text = playabilityWords(prepare.playability(item, desk));
      counts.set(text, (counts.get(text) ?? 0) + 1);
    }
    return [...counts].map(([text, count]) => (counts.size === 1 ? text : `${count} ${text}`));
  }

  const STATES = { ready: 'ready', missing: 'to make', stale: 'to make anew' } as const;

  function playabilityWords(playability: Playability): string {
    switch (playability.type) {
      case 'absent':
        return 'has no place for it';
      case 'plays':
        return 'as it is';
      case 'cannot':
        return `not at all: ${UNMAKEABLE[playability.why]}`;
      default:
        return `by twin: ${recipeWords(playability.recipe)} (${STATES[playability.type]})`;
    }
  }
</script>

<header>
  <h2>{one ? titleOf(one) : counted(items.length, 'item')}</h2>
  <p class="quiet">{clock(length)}, {bytes(items.reduce((sum, { size }) => sum + size, 0))}</p>
</header>
<div class="body">
  <section>
    <h3>Where {one ? 'does it' : 'do they'} play?</h3>
    {#each told as { desk, lines } (desk.id)}
      <p class="line">
        <b>{desk.name}</b>
        <span>{lines.join('; ')}</span>
      </p>
    {/each}
  </section>
  {#if asking.length > 0}
    <section>
      <h3>By which recipe?</h3>
      {#each asking as desk (desk.id)}
        <label class="by"
          ><span>{desk.name}</span>
          <select
            value={desk.recipe?.id ?? ''}
            disabled={!session.library.mayWrite}
            onchange={(event) =>
              desk.decisions.setRecipe(
                session.library.recipes.find(({ id }) => id === event.currentTarget.value) ?? null,
              )}
          >
            <option value="">the best that it takes, by its rulebook</option>
            {#each session.library.recipes as { id, name } (id)}<option value={id}>{name}</option>{/each}
          </select></label
        >
      {/each}
    </section>
  {/if}
  {#if all.wanted.length > 0}
    <section>
      <h3>What will it cost?</h3>
      <dl>
        <dt>time</dt>
        <dd>{timeWords(time)}</dd>
        <dt>room</dt>
        <dd>about {bytes(all.bytes)}, in the browser’s own storage</dd>
        {#each prepare.losses(all.wanted) as [part, count] (part)}
          <dt>left out</dt>
          <dd class="loss">{unheldWords(part)} of {counted(count, 'twin')}: their format cannot hold it</dd>
        {/each}
      </dl>
      <p class="quiet">
        The original stays as it is. What you say of it later goes into its copies, and makes no twin anew.
      </p>
    </section>
  {/if}
</div>
{#if all.wanted.length > 0}
  <footer>
    {#each told.filter(({ make }) => make.wanted.length > 0) as { desk, make } (desk.id)}
      <button
        class={['btn', told.filter((other) => other.make.wanted.length > 0).length === 1 && 'btn-primary']}
        disabled={!session.library.mayWrite}
        onclick={() => making.add(make.wanted)}>Make {make.wanted.length} for {desk.name}</button
      >
    {/each}
    {#if told.filter(({ make }) => make.wanted.length > 0).length > 1}
      <button
        class="btn btn-primary"
        disabled={!session.library.mayWrite}
        onclick={() => making.add(all.wanted)}
        >Make all {new Set(all.wanted.map(({ item, recipe }) => `${item.id} ${recipeKey(recipe)}`))
          .size}</button
      >
    {/if}
  </footer>
{/if}

<style>
  header {
    padding: 14px 44px 10px 16px;
    border-bottom: 1px solid var(--rule);
  }
  h2 {
    font: 600 var(--t-title) / 1.2 var(--font-head);
  }
  .body {
    flex: 1;
    min-height: 0;
    overflow-y: auto;
  }
  section {
    padding: 12px 16px;
    border-bottom: 1px solid var(--rule);
    font-size: var(--t-read);
  }
  h3 {
    font-size: var(--t-sub);
    margin-bottom: 6px;
  }
  .line {
    display: grid;
    grid-template-columns: 72px 1fr;
    align-items: baseline;
    gap: 8px;
    padding: 2px 0;
  }
  .by {
    display: grid;
    grid-template-columns: 72px minmax(0, 1fr);
    align-items: center;
    gap: 8px;
    padding: 2px 0;
  }
  .by span {
    color: var(--ink-2);
  }
  dl {
    display: grid;
    grid-template-columns: 72px 1fr;
    gap: 4px 8px;
    margin-bottom: 6px;
  }
  dt {
    color: var(--ink-2);
  }
  .loss {
    color: var(--attention-ink);
  }
  footer {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
    padding: 10px 16px;
    border-top: 1px solid var(--rule-strong);
  }
</style>
