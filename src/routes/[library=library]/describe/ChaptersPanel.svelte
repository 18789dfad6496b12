<script lang="ts">
  import { onMount } from 'svelte';
  import { chaptersOf, editContent, pictureKey, titleOf, type Chapter, type Item } from '$lib/core/items';
  import { nameOf, stemOf } from '$lib/core/paths';
  import { proposedStarts, silencesIn, startBehind, type Silence } from '$lib/core/sound';
  import {
    CHAPTER_FILES,
    ChapterFileError,
    changedMark,
    chapterOddities,
    numbered,
    readChapterFile,
    timeText,
    withMark,
    withoutMark,
    writeChapterFile,
    type ChapterFile,
  } from '$lib/core/timing';
  import { pictureBytes, tagMapOf } from '$lib/formats';
  import { saveText } from '$lib/io/download';
  import type { HeardItem } from '$lib/state/levels';
  import { getSession } from '$lib/state/session.svelte';
  import FileButton from '$lib/ui/FileButton.svelte';
  import LoadedPicture from '$lib/ui/LoadedPicture.svelte';
  import { hearingAct } from '$lib/ui/hearing-keys';
  import Panel from '$lib/ui/Panel.svelte';
  import { bytes, counted } from '$lib/ui/words/amounts';
  import ChapterLedger from './ChapterLedger.svelte';
  import HearBar from './HearBar.svelte';
  import Ruler from './Ruler.svelte';

  /** The chapters of one recording: marked while it is heard, moved on a ruler, proposed at silences, read and written as files. */
  let { item, onclose }: { item: Item; onclose: () => void } = $props();
  const session = getSession();
  const { library, playback } = session;

  const FILE_NAMES: Readonly<Record<ChapterFile, string>> = {
    json: 'JSON chapters',
    cue: 'Cue sheet',
    vtt: 'WebVTT',
    csv: 'Table (CSV)',
  };
  const MIMES: Readonly<Record<ChapterFile, string>> = {
    json: 'application/json',
    cue: 'application/x-cue',
    vtt: 'text/vtt',
    csv: 'text/csv',
  };

  let chosen = $state<number | null>(null);
  let heard = $state.raw<{ readonly of: string; readonly what: HeardItem } | null>(null);
  let hearing = $state(false);
  let leastSilence = $state(1.5);
  let pattern = $state('Chapter :number');
  let trouble = $state<string | null>(null);
  let proposing = $state(false);

  const chapters = $derived(chaptersOf(item));
  const key = $derived(`${item.id} ${item.size} ${item.modified}`);
  const what = $derived(heard?.of === key ? heard.what : null);
  const levels = $derived(what?.type === 'heard' ? what.levels : null);
  const duration = $derived(
    item.facts.durationSeconds ?? (levels ? levels.peaks.length / levels.perSecond : playback.length || 60),
  );
  const odd = $derived(chapterOddities(chapters, item.facts.durationSeconds));
  const oddCount = $derived(odd.filter(({ length }) => length > 0).length);
  const place = $derived(playback.loaded?.id === item.id ? playback.place : null);
  /** Of a book there are hours to go through: chapters that move leave them alone. */
  const silences = $derived(
    levels && proposing ? proposedStarts(silencesIn(levels, leastSilence), duration) : [],
  );
  const proposals = $derived(
    silences.filter((one) => !chapters.some((own) => Math.abs(own.startSeconds - startBehind(one)) < 1)),
  );
  const limits = $derived(tagMapOf(item)?.chapters ?? null);
  /** Bytes of all pictures of its chapters. */
  const shown = $derived(pictureBytes(chapters));
  const current = $derived(chosen === null ? null : (chapters[chosen] ?? null));

  function keep(label: string, next: readonly Chapter[]) {
    library.act(label, [item], (one) => editContent(one, { chapters: next }));
  }

  onMount(async () => {
    const of = key;
    const known = await session.levels.known(item);
    if (known) heard = { of, what: known };
  });

  async function hear() {
    hearing = true;
    const of = key;
    const found = await session.levels.of(item);
    hearing = false;
    heard = { of, what: found };
  }

  function mark() {
    if (place === null) return;
    const next = withMark(chapters, place);
    keep('Mark a chapter', next);
    chosen = next.findIndex(({ startSeconds }) => Math.abs(startSeconds - place) < 0.001);
  }

  function change(index: number, of: Partial<Chapter>, label = 'Change a chapter') {
    const before = chapters[index];
    const next = changedMark(chapters, index, of);
    keep(label, next);
    // It stays the one that is worked on where it passes another one.
    const moved = next.findIndex(({ title, startSeconds }) => {
      return (
        title === (of.title ?? before?.title) &&
        Math.abs(startSeconds - (of.startSeconds ?? before?.startSeconds ?? 0)) < 0.001
      );
    });
    if (moved >= 0) chosen = moved;
  }

  async function setPicture(file: File) {
    const of = current;
    if (!of) return;
    trouble = null;
    try {
      const picture = await session.pictures.keep(file, null);
      // It may have been moved or removed while the picture was read.
      const index = chapters.indexOf(of);
      if (index >= 0) change(index, { picture }, 'Picture of a chapter');
    } catch (error) {
      trouble = `${file.name}: ${error instanceof Error ? error.message : String(error)}. Choose a JPEG or PNG.`;
    }
  }

  function take(all: readonly Silence[]) {
    let next = chapters;
    for (const silence of all) next = withMark(next, startBehind(silence));
    if (next.length > 0 && (next[0]?.startSeconds ?? 0) > 1) next = withMark(next, 0);
    keep(`${counted(all.length, 'chapter')} at silences`, next);
  }

  function addStart() {
    keep('Chapter at 0:00', withMark(chapters, 0));
  }

  async function read(file: File) {
    trouble = null;
    try {
      const found = readChapterFile(await file.text());
      keep(`Chapters from ${file.name}`, found.chapters);
      session.work.say(`${counted(found.chapters.length, 'chapter')} read from ${file.name}`);
    } catch (error) {
      if (!(error instanceof ChapterFileError)) throw error;
      const where = error.line === null ? '' : `, line ${error.line}`;
      trouble = `${file.name}${where}: ${error.message}. Choose a cue sheet, WebVTT, JSON or XML chapters, or a list of times and titles.`;
    }
  }

  function write(type: ChapterFile) {
    const text = writeChapterFile(type, {
      chapters,
      file: nameOf(item.path),
      title: titleOf(item),
      durationSeconds: item.facts.durationSeconds,
    });
    saveText(`${stemOf(item.path)}.${type === 'json' ? 'chapters.json' : type}`, text, MIMES[type]);
  }

  function keydown(event: KeyboardEvent) {
    if (hearingAct(event)?.type === 'mark') {
      event.preventDefault();
      mark();
      return;
    }
    const target = event.target as HTMLElement;
    if (target.closest('input, select, textarea') || event.ctrlKey || event.metaKey || event.altKey) return;
    if (event.key === 'Delete' && chosen !== null && chosen < chapters.length) {
      event.preventDefault();
      keep('Remove a chapter', withoutMark(chapters, chosen));
    }
  }
</script>

<svelte:window onkeydown={keydown} />

<Panel title="Chapters of {titleOf(item)}" fits>
  {#snippet tools()}
    <span class="quiet"
      >{counted(chapters.length, 'chapter')}{#if oddCount > 0}, {oddCount} to review{/if}</span
    >
    <span class="end">
      {#if odd[0]?.includes('lateStart')}
        <button class="btn" disabled={!library.mayWrite} onclick={addStart}>Add a chapter at 0:00</button>
      {/if}
      <FileButton
        label="Read a file"
        accept=".cue,.csv,.tsv,.txt,.vtt,.json,.xml,.ffmeta,text/*,application/json,application/xml"
        disabled={!library.mayWrite}
        onfile={read}
      />
      <select
        aria-label="Save the chapters as"
        disabled={chapters.length === 0}
        onchange={(event) => {
          const type = event.currentTarget.value;
          event.currentTarget.value = '';
          if (type) write(type as ChapterFile);
        }}
      >
        <option value="">Save as</option>
        {#each CHAPTER_FILES as type (type)}<option value={type}>{FILE_NAMES[type]}</option>{/each}
      </select>
      <button class="btn" onclick={onclose}>Done</button>
    </span>
  {/snippet}
  <div class="top">
    {#if trouble}<p role="alert" class="trouble">{trouble}</p>{/if}
    {#if !limits}<p class="limit">
        Its copies cannot store chapters: they stay in the library.
      </p>{:else if chapters.length > limits.most}<p class="limit">
        Its copies can store at most {limits.most} chapters.
      </p>{:else if shown > limits.pictureBytes}<p class="limit">
        {limits.pictureBytes === 0
          ? 'Its copies cannot store chapter pictures: they stay in the library.'
          : `Its copies can store ${bytes(limits.pictureBytes)} of chapter pictures. These are ${bytes(shown)}, and stay in the library.`}
      </p>{/if}
    <div class="line">
      <HearBar {item} />
      <button class="btn btn-primary" disabled={place === null || !library.mayWrite} onclick={mark}
        >Mark here <span class="key">M</span></button
      >
      <button
        class="btn"
        disabled={place === null}
        onclick={() => playback.goChapter(-1)}
        aria-label="Chapter before">‹</button
      >
      <button
        class="btn"
        disabled={place === null}
        onclick={() => playback.goChapter(1)}
        aria-label="Next chapter">›</button
      >
    </div>
    <Ruler
      {chapters}
      durationSeconds={duration}
      {levels}
      proposed={proposals}
      {place}
      {chosen}
      onseek={async (seconds) => {
        if (playback.loaded?.id !== item.id) {
          if (!(await playback.loadAlone(item))) return;
        }
        playback.seek(seconds);
      }}
      onmove={(index, startSeconds) => change(index, { startSeconds }, 'Move a chapter')}
      onchoose={(index) => (chosen = index)}
      onpropose={(silence) => take([silence])}
    />
    <div class="line">
      {#if !levels}
        <button class="btn" disabled={hearing} onclick={hear}
          >{hearing ? 'Analysing' : 'Show loudness'}</button
        >
        {#if what?.type === 'deaf'}<span class="trouble" role="alert">Not analysed: {what.reason}</span>{/if}
      {:else}
        <label
          ><input type="checkbox" bind:checked={proposing} /> suggest chapters at silences of at least</label
        >
        <input
          type="number"
          min="0.3"
          max="30"
          step="0.1"
          bind:value={leastSilence}
          aria-label="Seconds of silence, at least"
        />
        s
        {#if proposing}
          <button
            class="btn"
            disabled={proposals.length === 0 || !library.mayWrite}
            onclick={() => take(proposals)}>Take all {proposals.length}</button
          >
        {/if}
        {#if what?.type === 'heard' && what.brokeOff !== null}<span class="trouble"
            >It was analysed up to {timeText((what.levels.peaks.length ?? 0) / what.levels.perSecond, 0)}: {what.brokeOff}</span
          >{/if}
      {/if}
      {#if current}
        {@const name = current.title || `chapter ${(chosen ?? 0) + 1}`}
        <span class="shows" role="group" aria-label="Picture of {name}">
          {#if current.picture}
            <LoadedPicture
              id={String(pictureKey(current.picture))}
              load={async () => (current?.picture ? session.pictures.ofChapter(item, current.picture) : null)}
              alt="What {name} shows"
            />
            <span class="quiet">{current.picture.width ?? '?'}×{current.picture.height ?? '?'}</span>
          {/if}
          <FileButton
            label={current.picture ? 'Another picture' : 'Picture of this chapter'}
            accept="image/*"
            disabled={!library.mayWrite}
            onfile={setPicture}
          />
          {#if current.picture}<button
              class="btn"
              disabled={!library.mayWrite}
              onclick={() => chosen !== null && change(chosen, { picture: null }, 'No picture of a chapter')}
              >Remove picture</button
            >{/if}
        </span>
      {/if}
      <span class="end">
        <label>titles by <input type="text" bind:value={pattern} aria-label="Pattern of titles" /></label>
        <button
          class="btn"
          disabled={chapters.length === 0 || pattern.trim() === '' || !library.mayWrite}
          onclick={() => keep('Number the chapters', numbered(chapters, pattern))}>Name all</button
        >
        <button
          class="btn"
          disabled={chapters.length === 0 || !library.mayWrite}
          onclick={() => keep('Remove all chapters', [])}>Remove all</button
        >
      </span>
    </div>
  </div>
  {#if chapters.length === 0}
    <p class="none">
      No chapters yet. Play it and press <b>M</b> where one begins, read a file, or use its silences.
    </p>
  {:else}
    <ChapterLedger
      {item}
      {chapters}
      {odd}
      durationSeconds={duration}
      bind:chosen
      onchange={change}
      onremove={(index) => keep('Remove a chapter', withoutMark(chapters, index))}
    />
  {/if}
</Panel>

<style>
  .top {
    display: grid;
    gap: 10px;
    flex: none;
    padding: 4px 16px 12px;
  }
  .line {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 6px 10px;
  }
  .line label {
    display: flex;
    align-items: center;
    gap: 6px;
  }
  .end {
    align-items: center;
  }
  input[type='number'] {
    width: 62px;
  }
  .shows {
    display: flex;
    align-items: center;
    gap: 8px;
    --size: 28px;
  }
  .limit {
    color: var(--attention-ink);
  }
  .none {
    padding: 24px 16px;
    color: var(--ink-2);
  }
</style>
