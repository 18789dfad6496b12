<script lang="ts">
  import { parseJson } from '$lib/core/json';
  import { VIDEO_CONTAINERS, TWIN_CODECS } from '$lib/core/rulebooks';
  import {
    isVideoWishes,
    plainVideoWishes,
    plainWishes,
    readWishes,
    triedVideo,
    triedRecipes,
    type AnyWishes,
    type NamedRecipe,
    type RecipeId,
  } from '$lib/core/twins';
  import { download } from '$lib/io/download';
  import { newId } from '$lib/io/new-id';
  import { getSession } from '$lib/state/session.svelte';
  import FileButton from '$lib/ui/FileButton.svelte';
  import Panel from '$lib/ui/Panel.svelte';
  import { CODEC_LABELS, MADE_LABELS, wishesWords } from '$lib/ui/words/twin-words';
  import VideoWishesForm from './VideoWishes.svelte';
  import SoundWishes from './SoundWishes.svelte';

  /** Recipes saved by name: create, duplicate, change, export and import them. */
  let { onclose }: { onclose: () => void } = $props();
  const session = getSession();
  const { library, prepare, players } = session;

  const kept = $derived([...library.recipes].sort((a, b) => a.name.localeCompare(b.name, 'en')));
  let draft = $state.raw<NamedRecipe | null>(null);
  /** Whether this browser encodes what is on show; null while it is asked. */
  let encodes = $state<boolean | null>(null);
  let trouble = $state<string | null>(null);
  const own = $derived(draft ? (kept.find(({ id }) => id === draft?.id) ?? null) : null);
  const isKept = $derived(own !== null && JSON.stringify(own) === JSON.stringify(draft));

  $effect(() => {
    const wishes = draft?.wishes;
    encodes = null;
    if (!wishes) return;
    let stale = false;
    const tried = isVideoWishes(wishes) ? [triedVideo(wishes)] : triedRecipes(wishes);
    void Promise.all(tried.map((recipe) => prepare.making.canEncode(recipe))).then(
      (all) => {
        if (!stale) encodes = all.length > 0 && all.every(Boolean);
      },
      () => {
        if (!stale) encodes = false;
      },
    );
    return () => (stale = true);
  });

  const begin = (label: string, wishes: AnyWishes) =>
    (draft = { id: newId() as RecipeId, name: `New ${label}`, wishes });
  const copy = (one: NamedRecipe) => (draft = { ...one, id: newId() as RecipeId, name: `${one.name} copy` });
  function forget(one: NamedRecipe) {
    library.forgetRecipe(one);
    draft = null;
  }
  async function bring(file: File) {
    trouble = null;
    const read = await file
      .text()
      .then((text) => readWishes(parseJson(text)))
      .catch(() => null);
    if (read) draft = { id: newId() as RecipeId, ...read };
    else trouble = `${file.name} is not a recipe: choose a JSON file that was exported here.`;
  }
  const takeOut = ({ name, wishes }: NamedRecipe) =>
    download(
      new Blob([JSON.stringify({ name, wishes }, null, 2)], { type: 'application/json' }),
      `${name}.json`,
    );
  const usedBy = ({ id }: NamedRecipe) =>
    players.list
      .filter(({ player }) => player.recipe === id || player.videoRecipe === id)
      .map(({ name }) => name)
      .join(', ');
</script>

<Panel title="Recipes">
  {#snippet tools()}
    <FileButton label="Import a recipe" accept="application/json,.json" onfile={bring} />
    <button class="btn" onclick={onclose}>Back to the board</button>
  {/snippet}
  <p class="quiet pad">
    A recipe says what to convert files to. A player normally gets the best format that its rulebook lists;
    choose a recipe for it on the card instead. No twin has more pixels, or a higher bit rate or sample rate,
    than its original.
  </p>
  {#if trouble}<p class="wrong pad" role="alert">{trouble}</p>{/if}
  <div class="two">
    <section aria-label="Saved recipes">
      <h2>Saved</h2>
      {#each kept as one (one.id)}
        <button class="one" aria-pressed={draft?.id === one.id} onclick={() => (draft = one)}>
          <b>{one.name}</b><span class="quiet">{wishesWords(one.wishes)}</span>
          {#if usedBy(one)}<span class="quiet">for {usedBy(one)}</span>{/if}
        </button>
      {:else}<p class="quiet">None yet.</p>{/each}
      <div class="begin" role="group" aria-label="Begin a recipe">
        <span class="quiet">New recipe for</span>
        {#each TWIN_CODECS as codec (codec)}
          <button
            class="btn"
            disabled={!library.mayWrite}
            onclick={() => begin(CODEC_LABELS[codec], plainWishes(codec))}>{CODEC_LABELS[codec]}</button
          >
        {/each}
        {#each VIDEO_CONTAINERS as container (container)}
          {@const label = `${MADE_LABELS[container]} video`}
          <button
            class="btn"
            disabled={!library.mayWrite}
            onclick={() => begin(label, plainVideoWishes(container))}>{label}</button
          >
        {/each}
      </div>
    </section>
    {#if draft}
      {@const now = draft}
      <section aria-label="The recipe">
        <h2>{own ? own.name : 'A new recipe'}</h2>
        <label
          ><span>name</span>
          <input
            type="text"
            maxlength="200"
            value={now.name}
            oninput={(event) => (draft = { ...now, name: event.currentTarget.value })}
          /></label
        >
        {#if isVideoWishes(now.wishes)}
          <VideoWishesForm wishes={now.wishes} onchange={(wishes) => (draft = { ...now, wishes })} />
        {:else}
          <SoundWishes wishes={now.wishes} onchange={(wishes) => (draft = { ...now, wishes })} />
        {/if}
        <p role="status" class:wrong={encodes === false}>
          {encodes === null
            ? 'Checking the encoder'
            : encodes
              ? 'This browser can encode this.'
              : 'No encoder here supports this: choose another size or rate.'}
        </p>
        <div class="acts">
          <button
            class="btn btn-primary"
            disabled={now.name.trim() === '' || isKept || encodes !== true || !library.mayWrite}
            onclick={() => library.keepRecipe(now)}>Save recipe</button
          >
          {#if own}
            <button class="btn" onclick={() => copy(own)}>Duplicate recipe</button>
            <button class="btn" onclick={() => takeOut(own)}>Export recipe</button>
            <button class="btn" disabled={!library.mayWrite} onclick={() => forget(own)}>Delete recipe</button
            >
          {/if}
        </div>
      </section>
    {/if}
  </div>
</Panel>

<style>
  .pad {
    padding: 0 16px 8px;
    max-width: 720px;
  }
  .two {
    display: grid;
    grid-template-columns: minmax(240px, 1fr) minmax(300px, 1.2fr);
    gap: 24px;
    padding: 8px 16px;
    align-items: start;
  }
  section {
    display: grid;
    gap: 6px;
  }
  h2 {
    font-size: var(--t-sub);
  }
  .one {
    display: grid;
    padding: 4px 8px;
    text-align: left;
    border-bottom: 1px solid var(--rule);
  }
  .one[aria-pressed='true'] {
    background: var(--select);
  }
  .begin,
  .acts {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 8px;
    margin-top: 6px;
  }
  section > :global(label) {
    display: grid;
    grid-template-columns: 96px minmax(0, 1fr);
    align-items: center;
    gap: 8px;
  }
  section > :global(label span) {
    color: var(--ink-2);
  }
  .wrong {
    color: var(--blocks-ink);
  }
</style>
