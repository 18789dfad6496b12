<script lang="ts">
  import { onMount } from 'svelte';
  import { titleOf, type Chapter, type Item } from '$lib/core/items';
  import { KINDS, KIND_FACTS, type Kind } from '$lib/core/kinds';
  import { TWIN_CODECS, type TwinCodec } from '$lib/core/rulebooks';
  import { secondsOf, timeText } from '$lib/core/timing';
  import { codecsFor, recipeFromItems } from '$lib/core/twins';
  import type { HeardItem } from '$lib/state/levels';
  import { getSession } from '$lib/state/session.svelte';
  import Panel from '$lib/ui/Panel.svelte';
  import { clock } from '$lib/ui/words/amounts';
  import { CODEC_LABELS, recipeWords } from '$lib/ui/words/twin-words';
  import HearBar from '../describe/HearBar.svelte';
  import Ruler from '../describe/Ruler.svelte';

  /** Cuts a part out of a sound, such as a ringtone: where it begins and ends is found by ear. */
  let { item, onclose }: { item: Item; onclose: () => void } = $props();
  const session = getSession();
  const { library, playback, levels, assembling, selection } = session;

  /** Seconds that a part has before anything is said of it, and the least. */
  const USUAL = 30;
  const LEAST = 0.5;
  const KINDS_CUT: readonly Kind[] = ['ringtone', ...KINDS.filter((kind) => kind !== 'ringtone')];

  let from = $state(0);
  let length = $state(USUAL);
  let fadeIn = $state(0.5);
  let fadeOut = $state(1);
  let kind = $state<Kind>('ringtone');
  let codec = $state<TwinCodec>('aac');
  let typed = $state<string | null>(null);
  let heard = $state.raw<HeardItem | null>(null);
  let hearing = $state(false);
  let chosen = $state<number | null>(null);

  const whole = $derived(item.facts.durationSeconds ?? playback.length ?? 60);
  const to = $derived(Math.min(whole, from + length));
  const title = $derived(typed ?? `${titleOf(item)} (part)`);
  const place = $derived(playback.loaded?.id === item.id ? playback.place : null);
  const shown = $derived(heard?.type === 'heard' ? heard.levels : null);
  const mark = (startSeconds: number, name: string): Chapter => ({
    startSeconds,
    endSeconds: null,
    title: name,
    link: null,
  });
  const marks = $derived([mark(from, 'the part'), mark(to, 'what follows')]);

  onMount(async () => {
    length = Math.min(USUAL, whole);
    heard = await levels.known(item);
  });

  async function hear() {
    hearing = true;
    heard = await levels.of(item);
    hearing = false;
  }

  function begin(seconds: number) {
    const end = to;
    from = Math.max(0, Math.min(seconds, whole - LEAST));
    length = Math.max(LEAST, end > from + LEAST ? end - from : length);
  }
  const end = (seconds: number) => (length = Math.max(LEAST, Math.min(seconds, whole) - from));

  async function seek(seconds: number) {
    if (playback.loaded?.id !== item.id) {
      if (!(await playback.loadAlone(item))) return;
    }
    playback.seek(seconds);
  }

  async function cut() {
    const made = await assembling.cut(item, title.trim(), kind, codec, {
      fromSeconds: from,
      toSeconds: to,
      fadeInSeconds: Math.min(fadeIn, length),
      fadeOutSeconds: Math.min(fadeOut, length),
    });
    if (made) {
      selection.set([made], null);
      onclose();
    }
  }
</script>

<Panel title="Cut a part of {titleOf(item)}">
  {#snippet tools()}<span class="end"><button class="btn" onclick={onclose}>Back to the board</button></span
    >{/snippet}
  <div class="work">
    <div class="line">
      <HearBar {item} />
      <button class="btn" disabled={place === null} onclick={() => begin(place ?? 0)}>Begin here</button>
      <button class="btn" disabled={place === null} onclick={() => end(place ?? 0)}>End here</button>
      <button class="btn" onclick={() => seek(from)}>Go to its beginning</button>
    </div>
    <Ruler
      chapters={marks}
      durationSeconds={whole}
      levels={shown}
      proposed={[]}
      {place}
      {chosen}
      onseek={seek}
      onmove={(index, seconds) => (index === 0 ? begin(seconds) : end(seconds))}
      onchoose={(index) => (chosen = index)}
      onpropose={() => {}}
    />
    {#if !shown}
      <div class="line">
        <button class="btn" disabled={hearing} onclick={hear}
          >{hearing ? 'Analysing' : 'Show loudness'}</button
        >
        {#if heard?.type === 'deaf'}<span class="trouble" role="alert">Not analysed: {heard.reason}</span
          >{/if}
      </div>
    {/if}
    <div class="fields">
      <label
        ><span>begins</span>
        <input
          type="text"
          value={timeText(from)}
          onchange={(event) =>
            (from = Math.max(0, Math.min(secondsOf(event.currentTarget.value) ?? from, whole - LEAST)))}
        /></label
      >
      <label
        ><span>length, s</span>
        <input type="number" min={LEAST} max={whole} step="0.1" bind:value={length} /></label
      >
      <label
        ><span>fade in, s</span><input type="number" min="0" max="30" step="0.1" bind:value={fadeIn} /></label
      >
      <label
        ><span>fade out, s</span><input
          type="number"
          min="0"
          max="30"
          step="0.1"
          bind:value={fadeOut}
        /></label
      >
      <label
        ><span>title</span>
        <input
          type="text"
          maxlength="500"
          value={title}
          oninput={(event) => (typed = event.currentTarget.value)}
        /></label
      >
      <label
        ><span>kind</span>
        <select bind:value={kind}>
          {#each KINDS_CUT as one (one)}<option value={one}>{KIND_FACTS[one].one}</option>{/each}
        </select></label
      >
      <label
        ><span>format</span>
        <select bind:value={codec}>
          {#each codecsFor([item], TWIN_CODECS) as one (one)}<option value={one}>{CODEC_LABELS[one]}</option
            >{/each}
        </select></label
      >
    </div>
    <p class="quiet">
      {timeText(from)} to {timeText(to)} of {clock(whole)}, as {recipeWords(recipeFromItems(codec, [item]))}.
      The part is a new item of the library; it remembers what it was cut from, so that it can be made again.
    </p>
    <div class="line">
      <button
        class="btn btn-primary"
        disabled={!library.mayWrite || assembling.busy || title.trim() === '' || to - from < LEAST}
        onclick={cut}>{assembling.busy ? 'Cutting' : 'Cut the part'}</button
      >
    </div>
  </div>
</Panel>

<style>
  .work {
    display: grid;
    gap: 10px;
    padding: 4px 16px 16px;
  }
  .line {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 8px;
  }
  .fields {
    display: grid;
    grid-template-columns: repeat(auto-fill, minmax(190px, 1fr));
    gap: 8px 16px;
    max-width: 860px;
  }
  .fields label {
    display: grid;
    grid-template-columns: 76px minmax(0, 1fr);
    align-items: center;
    gap: 8px;
  }
  .fields span {
    color: var(--ink-2);
  }
</style>
