<script lang="ts">
  import { editContent, languageTag, putBack, allTracksOf, type Item, type TrackEdit } from '$lib/core/items';
  import { tagMapOf } from '$lib/formats';
  import { getSession } from '$lib/state/session.svelte';
  import { TRACK_TYPES } from '$lib/ui/words/track-words';

  /** What is said of each track of a container: what it is called, and in which language it is. */
  let { item }: { item: Item } = $props();
  const session = getSession();
  const { library } = session;
  let trouble = $state<string | null>(null);

  const tracks = $derived(allTracksOf(item));
  const isHeld = $derived(tagMapOf(item)?.tracks !== null);

  function say(edit: TrackEdit, what: string) {
    trouble = null;
    library.act(`${what} of track ${edit.id}`, [item], (one) => editContent(one, { tracks: [edit] }));
  }

  function sayLanguage(input: HTMLInputElement, id: number, before: string | null) {
    const typed = input.value.trim();
    const language = typed === '' ? null : languageTag(typed);
    if (typed !== '' && language === null) {
      trouble = `“${typed}” is not a language code such as en, gd or pt-BR.`;
      input.value = before ?? '';
    } else say({ id, language }, 'Language');
  }
</script>

<div class="tracks" role="group" aria-label="Tracks">
  {#each tracks as { id, type, language, name, isDefault, isForced, isLeftOut } (id)}
    <span class="quiet"
      >{id}
      {TRACK_TYPES[type]}{#if isLeftOut}, left out{:else if isForced}, always shown{:else if !isDefault && type !== 'picture'},
        if chosen{/if}</span
    >
    <input
      type="text"
      class="language"
      value={language ?? ''}
      maxlength="60"
      placeholder="language"
      aria-label="Language of track {id}"
      disabled={!library.mayWrite}
      onchange={(event) => sayLanguage(event.currentTarget, id, language)}
    />
    <input
      type="text"
      value={name}
      maxlength="1000"
      placeholder="name"
      aria-label="Name of track {id}"
      disabled={!library.mayWrite}
      onchange={(event) => say({ id, name: event.currentTarget.value }, 'Name')}
    />
  {/each}
</div>
{#if trouble}<p class="wrong" role="alert">{trouble}</p>{/if}
{#if item.edits.tracks}
  {#if !isHeld}<p class="limit">Its copies cannot store these: they stay in the library.</p>{/if}
  <button
    class="act"
    disabled={!library.mayWrite}
    onclick={() => library.act('Put back tracks', [item], (one) => putBack(one, { tracks: true }))}
    >put tracks back</button
  >
{/if}

<style>
  .tracks {
    display: grid;
    grid-template-columns: auto 84px minmax(0, 1fr);
    gap: 4px 8px;
    align-items: center;
    margin-top: 6px;
  }
  input {
    min-width: 0;
  }
  .limit {
    color: var(--attention-ink);
  }
  .wrong {
    color: var(--blocks-ink);
  }
</style>
