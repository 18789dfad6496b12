<script lang="ts">
  import { chaptersOf, fieldsOf, kindOf, titleOf, type Item } from '$lib/core/items';
  import { folderOf, nameOf } from '$lib/core/paths';
  import { TWIN_CODECS, type TwinCodec } from '$lib/core/rulebooks';
  import { codecsFor, inPlayingOrder, recipeFromItems } from '$lib/core/twins';
  import { getSession } from '$lib/state/session.svelte';
  import Sheet from '$lib/ui/Sheet.svelte';
  import { clock, counted } from '$lib/ui/words/amounts';
  import { CODEC_LABELS, recipeWords } from '$lib/ui/words/twin-words';

  /** Joins several items into one file, or splits one at its chapters. */
  let { items, what, onclose }: { items: readonly Item[]; what: 'join' | 'split'; onclose: () => void } =
    $props();
  const session = getSession();
  const { library, players, assembling, selection } = session;

  const ordered = $derived(inPlayingOrder(items));
  const first = $derived(ordered[0] as Item);
  const codecs = $derived(codecsFor(items, TWIN_CODECS));
  let codec = $state<TwinCodec>('aac');
  let typed = $state<string | null>(null);
  let leavesOut = $state(true);
  const name = $derived(typed ?? fieldsOf(first).album ?? (nameOf(folderOf(first.path)) || titleOf(first)));
  const seconds = $derived(items.reduce((sum, { facts }) => sum + (facts.durationSeconds ?? 0), 0));
  const many = $derived(what === 'join' ? items.length : chaptersOf(first).length);
  /** Items that are listed; of more, the last stand for those between. */
  const SHOWN = 8;

  const title = $derived(
    what === 'join'
      ? `Join ${counted(items.length, 'item')} into one file`
      : `Split ${titleOf(first)} at its chapters`,
  );

  async function make(event: SubmitEvent) {
    event.preventDefault();
    // Once it is closed, it is of nothing any more.
    const [joins, parts, own, called, to] = [what === 'join', ordered, first, name.trim(), codec];
    onclose();
    const made = joins
      ? [await assembling.join(parts, called, to)].flatMap((id) => id ?? [])
      : await assembling.split(own, to);
    if (made.length === 0) return;
    if (leavesOut)
      for (const desk of players.list)
        desk.decisions.leaveOut(
          parts.map(({ id }) => id),
          `${desk.name} goes without ${joins ? 'the parts' : titleOf(own)}`,
        );
    selection.set(made, null);
  }
</script>

<Sheet {title} {onclose}>
  <form class="rows" onsubmit={make}>
    <ol aria-label={what === 'join' ? 'Items in their order' : 'Files to make'}>
      {#each what === 'join' ? ordered.map( (item) => titleOf(item) ) : chaptersOf(first).map((one) => one.title) as line, index (index)}
        {#if index < SHOWN - 1 || index === many - 1 || many === SHOWN}<li value={index + 1}>
            {line || `${titleOf(first)} ${index + 1}`}
          </li>{:else if index === SHOWN - 1}<li class="quiet" value={index + 1}>
            and {many - SHOWN} more
          </li>{/if}
      {/each}
    </ol>
    {#if what === 'join'}
      <label
        ><span>title</span>
        <input
          type="text"
          class="input"
          maxlength="500"
          value={name}
          oninput={(event) => (typed = event.currentTarget.value)}
        /></label
      >
    {/if}
    <label
      ><span>format</span>
      <select class="select" bind:value={codec}>
        {#each codecs as one (one)}<option value={one}
            >{CODEC_LABELS[one]}{one === 'aac' && kindOf(first) === 'audiobook' && what === 'join'
              ? ' (M4B)'
              : ''}</option
          >{/each}
      </select></label
    >
    <label class="check"
      ><input type="checkbox" class="checkbox" bind:checked={leavesOut} />{what === 'join'
        ? 'leave the single items out of all players'
        : 'leave the whole file out of all players'}</label
    >
    <p class="quiet">
      {clock(seconds)}, encoded as {recipeWords(recipeFromItems(codec, items))}.
      {what === 'join'
        ? 'Each item becomes a chapter with its title; chapters that it has already are kept.'
        : 'Each chapter becomes a file with its title and number.'}
      What you make is a new item of the library. Originals stay unchanged.
    </p>
    <div class="acts">
      <button
        type="submit"
        class="btn btn-primary"
        disabled={!library.mayWrite || assembling.busy || name.trim() === ''}
        >{what === 'join' ? 'Join them' : `Make ${counted(many, 'file')}`}</button
      >
      <button type="button" class="btn" onclick={onclose}>Cancel</button>
    </div>
  </form>
</Sheet>

<style>
  .check {
    display: flex;
    align-items: center;
    gap: 8px;
  }
  ol {
    padding-left: 24px;
    list-style: decimal;
  }
</style>
