<script lang="ts">
  import { parseJson } from '$lib/core/json';
  import { Dialog } from 'bits-ui';
  import { FORMAT_NAMES } from '$lib/core/items';
  import { readRulebook } from '$lib/core/rulebooks';
  import type { PlayerDesk } from '$lib/state/player/desk.svelte';
  import Sheet from '$lib/ui/Sheet.svelte';
  import { wishesWords } from '$lib/ui/words/twin-words';
  import { diskWords, listRuleWords, placeWords, tagWords, takeWords } from '$lib/ui/words/rulebook-words';
  import { download } from '$lib/io/download';

  /** What a player asks for, in words and as the JSON that it is; changed there, and taken out as a file. */
  let { desk, onclose }: { desk: PlayerDesk; onclose: () => void } = $props();

  let view = $state<'words' | 'json'>('words');
  // svelte-ignore state_referenced_locally (the text is the curator's from here on)
  let text = $state(JSON.stringify(desk.ownRulebook, null, 2));
  let trouble = $state<string | null>(null);

  const rulebook = $derived(desk.ownRulebook);
  const isOwn = $derived(desk.player.own !== null);

  function whereIn(error: unknown): string {
    const { message } = error as Error;
    const at = /^(.*?)(?: in JSON)? at position (\d+)/.exec(message);
    if (!at) return message;
    const [, what, position] = at;
    const before = text.slice(0, Number(position)).split('\n');
    return `line ${before.length}, column ${(before.at(-1)?.length ?? 0) + 1}: ${what}`;
  }

  function apply() {
    trouble = null;
    try {
      const own = readRulebook(parseJson(text));
      desk.decisions.setRulebook(own);
      onclose();
    } catch (error) {
      trouble =
        error instanceof SyntaxError ? `This is not valid JSON: ${whereIn(error)}` : (error as Error).message;
    }
  }

  /** What it says of converting; nothing where the best of what it plays is made. */
  const converts = $derived([rulebook.twins, rulebook.videoTwins].filter((one) => one !== null));

  function putBack() {
    desk.decisions.setRulebook(null);
    text = JSON.stringify(desk.ownRulebook, null, 2);
    trouble = null;
  }

  const save = () =>
    download(
      new Blob([JSON.stringify(rulebook, null, 2)], { type: 'application/json' }),
      `${rulebook.id}-rulebook.json`,
    );
</script>

<Sheet title="The rulebook of {desk.name}" wide {onclose}>
  <div class="views" role="group" aria-label="How it is shown">
    <button class="act" aria-pressed={view === 'words'} onclick={() => (view = 'words')}>in words</button>
    <button class="act" aria-pressed={view === 'json'} onclick={() => (view = 'json')}>as JSON</button>
    <button class="act end" onclick={save}>Save it as a file</button>
    {#if isOwn}<button class="act" onclick={putBack}>Reset to the original</button>{/if}
  </div>
  {#if view === 'words'}
    <dl>
      <dt>Plays</dt>
      <dd>
        <ul>
          {#each rulebook.takes as take, index (index)}<li>{takeWords(take, FORMAT_NAMES)}</li>{/each}
        </ul>
      </dd>
      <dt>Folders</dt>
      <dd>
        <ul>
          {#each rulebook.places as place (place.folder + place.pattern)}
            {@const words = placeWords(place)}
            <li>
              {words.what} <span class="path">{words.path}</span> <span class="quiet">{words.how}</span>
            </li>
          {/each}
        </ul>
      </dd>
      <dt>Files beside media</dt>
      <dd>
        {#if rulebook.beside.length === 0}nothing{/if}
        <ul>
          {#each rulebook.beside as one, index (index)}
            <li>
              {#if one.type === 'picture'}<span class="path">{one.name}</span> in each {one.of}, at least {one.minPixels}
                pixels{one.square ? ', square' : ''}
              {:else if one.type === 'list'}{listRuleWords(one)}
              {:else}a sidecar <span class="path">.{one.extension}</span> with {one.elements
                  .map(({ name }) => name)
                  .join(', ')}{/if}
            </li>
          {/each}
        </ul>
      </dd>
      <dt>Disk limits</dt>
      <dd>{diskWords(rulebook).join('; ')}</dd>
      <dt>Tags</dt>
      <dd>{tagWords(rulebook).join('; ')}</dd>
      {#if converts.length > 0}
        <dt>Converts to</dt>
        <dd>{converts.map(wishesWords).join('; ')}</dd>
      {/if}
    </dl>
  {:else}
    <textarea class="path" rows="22" spellcheck="false" aria-label="Rulebook as JSON" bind:value={text}
    ></textarea>
    {#if trouble}<p class="wrong" role="alert">{trouble}</p>{/if}
  {/if}
  <div class="acts">
    {#if view === 'json'}<button class="btn btn-primary" onclick={apply}>Use this rulebook</button>{/if}
    <Dialog.Close class="btn">Close</Dialog.Close>
  </div>
</Sheet>

<style>
  .views {
    display: flex;
    gap: 16px;
    margin: 10px 0;
  }
  .views [aria-pressed='true'] {
    color: var(--ink);
    text-decoration: none;
    box-shadow: inset 0 -2px var(--primary);
  }
  .end {
    margin-left: auto;
  }
  dl {
    display: grid;
    grid-template-columns: 130px 1fr;
    gap: 10px 12px;
    margin-bottom: 14px;
    font-size: var(--t-read);
  }
  dt {
    font-weight: 600;
  }
  dd ul {
    display: grid;
    gap: 4px;
  }
  textarea {
    width: 100%;
    padding: 8px;
    border: 1px solid var(--rule-strong);
    background: var(--base);
    color: var(--ink);
  }
  .wrong {
    margin-top: 8px;
    color: var(--blocks-ink);
    overflow-wrap: anywhere;
  }
  .acts {
    display: flex;
    gap: 8px;
    margin-top: 10px;
  }
</style>
