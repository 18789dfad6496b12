<script lang="ts">
  import { titleOf, type Item } from '$lib/core/items';
  import { countPlayability, isVideoWishes, isVideo, toMakeOf, type Playability } from '$lib/core/twins';
  import { getSession } from '$lib/state/session.svelte';
  import { bytes, clock, counted } from '$lib/ui/words/amounts';
  import { unheldWords } from '$lib/ui/words/finding-words';
  import Loudness from './Loudness.svelte';
  import MakeOfThem from './MakeOfThem.svelte';
  import { REFUSED, UNMAKEABLE, recipeWords, timeWords } from '$lib/ui/words/twin-words';

  /** Where the selected items play, by what, and what making them playable costs. */
  let { items }: { items: readonly Item[] } = $props();
  const session = getSession();
  const { prepare, players } = session;
  const { making, shelf } = prepare;

  const one = $derived(items.length === 1 ? (items[0] ?? null) : null);
  const length = $derived(items.reduce((sum, { facts }) => sum + (facts.durationSeconds ?? 0), 0));
  /** More are not looked at here: each is looked up for every player, again whenever a twin is made. */
  const MOST = 1000;
  const told = $derived(
    (items.length > MOST ? [] : players.list).map((desk) => {
      const all = prepare.playabilities(items, desk);
      const { wanted } = countPlayability(items, all);
      return { desk, why: whyOf(all), lines: linesOf(all), wanted, sorts: sortsIn(all) };
    }),
  );
  /** Players that some of them are converted for. */
  const converted = $derived(told.filter(({ sorts }) => sorts.length > 0));
  const needing = $derived(told.filter(({ wanted }) => wanted.length > 0));
  const all = $derived(toMakeOf(needing.flatMap(({ wanted }) => wanted)));
  const losses = $derived(prepare.losses(all.wanted));

  /** What recipes are for, of which some of them ask for one. */
  function sortsIn(all: readonly Playability[]): readonly ('recipe' | 'videoRecipe')[] {
    const asked = new Set(all.flatMap((one) => ('recipe' in one ? isVideo(one.recipe) : [])));
    return (['recipe', 'videoRecipe'] as const).filter((sort) => asked.has(sort === 'videoRecipe'));
  }
  const recipesFor = (sort: 'recipe' | 'videoRecipe') =>
    session.library.recipes.filter(({ wishes }) => isVideoWishes(wishes) === (sort === 'videoRecipe'));

  /** What is said of a player, each line once with its number of items. */
  function linesOf(all: readonly Playability[]): readonly string[] {
    const counts = new Map<string, number>();
    for (const one of all) {
      const text = playabilityWords(one);
      counts.set(text, (counts.get(text) ?? 0) + 1);
    }
    return [...counts].map(([text, count]) => (counts.size === 1 ? text : `${count} ${text}`));
  }

  /** Why a player does not take some of them as they are. */
  const whyOf = (all: readonly Playability[]): string =>
    [...new Set(all.flatMap((one) => ('refusal' in one ? REFUSED[one.refusal] : [])))].join(', ');

  const STATES = { ready: 'ready', missing: 'to make', stale: 'outdated' } as const;

  function playabilityWords(playability: Playability): string {
    switch (playability.type) {
      case 'absent':
        return 'not on this player';
      case 'plays':
        return 'as it is';
      case 'cannot':
        return `cannot be converted: ${UNMAKEABLE[playability.why]}`;
      default:
        return `as ${recipeWords(playability.recipe)} (${STATES[playability.type]})`;
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
    {#if items.length > MOST}
      <p class="quiet">Select at most {MOST.toLocaleString('en')} items to see where they play.</p>
    {/if}
    {#each told as { desk, why, lines } (desk.id)}
      <p class="line">
        <b>{desk.name}</b>
        <span>
          {#if why !== ''}<span class="why">{why}</span>{/if}
          {#each lines as text (text)}<span class="how">{text}</span>{/each}
        </span>
      </p>
    {/each}
  </section>
  {#if converted.length > 0}
    <section>
      <h3>Recipe</h3>
      {#each converted as { desk, sorts } (desk.id)}
        {#each sorts as sort (sort)}
          {@const own = recipesFor(sort)}
          <label class="by"
            ><span>{desk.name}{sorts.length > 1 ? (sort === 'recipe' ? ', sound' : ', video') : ''}</span>
            <select
              value={desk[sort]?.id ?? ''}
              disabled={!session.library.mayWrite}
              onchange={(event) =>
                desk.decisions.setRecipe(
                  sort,
                  own.find(({ id }) => id === event.currentTarget.value) ?? null,
                )}
            >
              <option value="">the best format in its rulebook</option>
              {#each own as { id, name } (id)}<option value={id}>{name}</option>{/each}
            </select></label
          >
        {/each}
      {/each}
    </section>
  {/if}
  {#if all.wanted.length > 0}
    <section>
      <h3>What will it cost?</h3>
      <dl>
        <dt>time</dt>
        <dd>{timeWords(making.secondsFor(all.wanted))}</dd>
        <dt>space</dt>
        <dd>
          about {bytes(all.bytes)}
          {shelf.folder ? `in ${shelf.folder.handle.name}` : 'of browser storage'}
        </dd>
        {#each losses as [part, count] (part)}
          <dt>not stored</dt>
          <dd class="loss">
            {unheldWords(part)} of {counted(count, 'twin')}: {part === 'subtitles'
              ? 'a twin holds picture and sound only'
              : 'the format has no place for this'}
          </dd>
        {/each}
      </dl>
      <p class="quiet">
        Originals stay unchanged. Later edits go into the copies; nothing is converted again.
      </p>
    </section>
  {/if}
  <MakeOfThem {items} />
  <Loudness {items} />
</div>
{#if all.wanted.length > 0}
  <footer>
    {#each needing as { desk, wanted } (desk.id)}
      <button
        class={['btn', needing.length === 1 && 'btn-primary']}
        disabled={!session.library.mayWrite}
        onclick={() => making.add(wanted)}>Make {counted(wanted.length, 'twin')} for {desk.name}</button
      >
    {/each}
    {#if needing.length > 1}
      <button
        class="btn btn-primary"
        disabled={!session.library.mayWrite}
        onclick={() => making.add(all.wanted)}>Make all {all.wanted.length} twins</button
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
  .body :global(section) {
    padding: 12px 16px;
    border-bottom: 1px solid var(--rule);
    font-size: var(--t-read);
  }
  .body :global(h3) {
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
  .why,
  .how {
    display: block;
  }
  .why {
    color: var(--ink-2);
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
