<script lang="ts">
  import { goto } from '$app/navigation';
  import { page } from '$app/state';
  import type { Item } from '$lib/core/items';
  import { targetId } from '$lib/core/library';
  import { parsePattern } from '$lib/core/naming';
  import { SELECT_ALL } from '$lib/core/plan';
  import { VIDEO_CONTAINERS, TWIN_CODECS, type TwinCodec } from '$lib/core/rulebooks';
  import {
    HAND_PATTERNS,
    codecFacts,
    handRulebook,
    isVideoWishes,
    pictureCodecName,
    plainVideoWishes,
    plainWishes,
  } from '$lib/core/twins';
  import { getSession } from '$lib/state/session.svelte';
  import Sheet from '$lib/ui/Sheet.svelte';
  import { counted } from '$lib/ui/words/amounts';
  import { problemWords } from '$lib/ui/words/pattern-words';
  import { CODEC_LABELS, MADE_LABELS, wishesWords } from '$lib/ui/words/twin-words';

  /** Converts items by a recipe to a folder or a ZIP, with file names from a pattern. */
  let {
    items,
    isScope,
    onclose,
  }: {
    items: readonly Item[];
    /** They are everything in scope: the scope itself is kept, not a list of its items. */
    isScope: boolean;
    onclose: () => void;
  } = $props();
  const session = getSession();
  const { library, prepare, players } = session;

  const PATTERN_WORDS = ['from tags', 'keep folders and names', 'keep names, in one folder'];
  /** A kept recipe by its id, or a codec, or a container of moving pictures. */
  let by = $state<string>('mp3');
  let pattern = $state<string>(HAND_PATTERNS[0]);
  let where = $state<'folder' | 'zip'>('folder');
  let name = $state('');
  let trouble = $state<string | null>(null);
  /** What is wrong with the pattern, while it is. */
  const problem = $derived.by(() => {
    const parsed = parsePattern(pattern.trim());
    return parsed.type === 'wrong' ? problemWords(parsed.problem) : null;
  });

  const recipe = $derived(library.recipes.find(({ id }) => id === by) ?? null);
  const container = $derived(VIDEO_CONTAINERS.find((one) => one === by));
  const wishes = $derived(
    recipe?.wishes ?? (container ? plainVideoWishes(container) : plainWishes(by as TwinCodec)),
  );
  const label = $derived(MADE_LABELS[isVideoWishes(wishes) ? wishes.container : wishes.codec]);
  const suggested = $derived(players.freeName(`${recipe?.name ?? label} copies`));

  async function convert(event: SubmitEvent) {
    event.preventDefault();
    const title = name.trim() || suggested;
    try {
      const own = handRulebook(title, wishes, pattern.trim());
      const { kind, text } = session.scope.scope;
      const selection =
        isScope && kind !== 'open'
          ? { ...SELECT_ALL, kinds: kind && [kind], text: text.trim() }
          : { ...SELECT_ALL, with: items.map(({ id }) => id), only: true as const };
      onclose();
      const desk = await players.add({ name: title, rulebook: 'attic', own, device: null, selection });
      await desk.open(targetId(desk.id, where));
      prepare.making.add(prepare.makingFor(items, desk).wanted);
      await goto(`/${page.params.library}/players`);
    } catch (error) {
      trouble = error instanceof Error ? error.message : String(error);
    }
  }
</script>

<Sheet title="Convert {counted(items.length, 'item')}" {onclose}>
  <form class="rows" onsubmit={convert}>
    <label
      ><span>recipe</span>
      <select class="select" bind:value={by}>
        {#each library.recipes as { id, name: own, wishes: wished } (id)}<option value={id}
            >{own}: {wishesWords(wished)}</option
          >{/each}
        {#each TWIN_CODECS as codec (codec)}<option value={codec}
            >{CODEC_LABELS[codec]}, {codecFacts(codec).lossless ? 'lossless' : 'standard quality'}</option
          >{/each}
        {#each VIDEO_CONTAINERS as one (one)}<option value={one}
            >{MADE_LABELS[one]} video, {pictureCodecName(plainVideoWishes(one).codec)}</option
          >{/each}
      </select></label
    >
    <label
      ><span>file names</span>
      <select
        class="select"
        value={HAND_PATTERNS.find((one) => one === pattern) ?? ''}
        onchange={(event) => (pattern = event.currentTarget.value || pattern)}
      >
        {#each HAND_PATTERNS as one, index (one)}<option value={one}>{PATTERN_WORDS[index]}</option>{/each}
        <option value="">custom pattern</option>
      </select></label
    >
    <label
      ><span>pattern</span>
      <input type="text" class="input path" aria-invalid={problem !== null} bind:value={pattern} /></label
    >
    <fieldset>
      <legend>destination</legend>
      <label><input type="radio" bind:group={where} value="folder" /> a folder, chosen before the run</label>
      <label><input type="radio" bind:group={where} value="zip" /> a ZIP</label>
    </fieldset>
    <label
      ><span>name</span>
      <input type="text" class="input" maxlength="200" placeholder={suggested} bind:value={name} /></label
    >
    <p class="quiet">
      This adds a destination to Players. Its rehearsal shows every file name before anything is written, and
      you can take the run back. Run it again later to bring it up to date. Files that are in this format
      already are copied as they are. Originals stay unchanged.
    </p>
    {#if problem}<p class="wrong" role="alert">{problem}</p>{/if}
    {#if trouble}<p class="wrong" role="alert">{trouble}</p>{/if}
    <div class="acts">
      <button type="submit" class="btn btn-primary" disabled={problem !== null}
        >Convert {counted(items.length, 'item')}</button
      >
      <button type="button" class="btn" onclick={onclose}>Cancel</button>
    </div>
  </form>
</Sheet>

<style>
  fieldset label {
    display: flex;
    gap: 6px;
  }
  .wrong {
    color: var(--blocks-ink);
  }
</style>
