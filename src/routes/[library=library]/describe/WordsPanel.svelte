<script lang="ts">
  import {
    editContent,
    fieldsOf,
    requireField,
    timedOf,
    titleOf,
    type FieldName,
    type Item,
  } from '$lib/core/items';
  import { stemOf } from '$lib/core/paths';
  import {
    draftOf,
    lineOddity,
    markAt,
    nextToMark,
    reworded,
    rewordedLyrics,
    secondsOf,
    shifted,
    textCounts,
    timeText,
    timedIn,
    type DraftLine,
    type LineOddity,
  } from '$lib/core/timing';
  import { hasPlace, tagMapOf } from '$lib/formats';
  import { readLrc, writeLrc } from '$lib/formats/lrc';
  import { saveText } from '$lib/io/download';
  import { begunAt } from '$lib/state/playback.svelte';
  import { getSession } from '$lib/state/session.svelte';
  import Choice from '$lib/ui/Choice.svelte';
  import FileButton from '$lib/ui/FileButton.svelte';
  import Ledger from '$lib/ui/Ledger.svelte';
  import LedgerHeads from '$lib/ui/LedgerHeads.svelte';
  import { hearingAct } from '$lib/ui/hearing-keys';
  import Panel from '$lib/ui/Panel.svelte';
  import { counted } from '$lib/ui/words/amounts';
  import HearBar from './HearBar.svelte';

  /** The texts of one item, each with room and counts, and its words line by line as they are heard. */
  let { item, onclose }: { item: Item; onclose: () => void } = $props();
  const session = getSession();
  const { library, playback } = session;

  const TABS = ['lyrics', 'timed', 'description', 'notes', 'comment'] as const satisfies readonly (
    FieldName | 'timed'
  )[];
  type Shown = (typeof TABS)[number];
  const HEADS = [
    { name: 'Number', isShown: false },
    { name: 'Time' },
    { name: 'Line' },
    { name: 'To review', isShown: false },
    { name: 'What to do', isShown: false },
  ];
  const ODDITY_WORDS: Readonly<Record<LineOddity, string>> = {
    order: 'before the line above',
    pastEnd: 'past the end',
  };

  let shown = $state<Shown>('lyrics');
  let by = $state(0.5);
  let trouble = $state<string | null>(null);
  /** What is being typed, before it is kept. */
  let typed = $state<string | null>(null);
  let cursor = $state<string | null>(null);

  const fields = $derived(fieldsOf(item));
  const timed = $derived(timedOf(item));
  const lines = $derived(draftOf(timed, fields.lyrics));
  const next = $derived(nextToMark(lines));
  const place = $derived(playback.loaded?.id === item.id ? playback.place : null);
  const heard = $derived(place === null ? null : begunAt(timed, place));
  const rows = $derived(lines.map((line, index) => ({ key: String(index), line, index })));
  const held = $derived(shown === 'timed' ? (tagMapOf(item)?.timed ?? false) : hasPlace(item, shown));
  const text = $derived(shown === 'timed' ? '' : (typed ?? fields[shown] ?? ''));
  const counts = $derived(textCounts(text));

  const markWords = $derived.by(() => {
    if (lines.length === 0) return 'No line left';
    return next < 0 ? 'All lines have a time' : `“${(lines[next]?.text ?? '').slice(0, 32)}” begins now`;
  });

  const nameOf = (one: Shown) => (one === 'timed' ? 'line by line' : requireField(one).label);
  const amountOf = (one: Shown) => (one === 'timed' ? timed.length : textCounts(fields[one] ?? '').lines);

  function keepText(value: string) {
    typed = null;
    if (shown === 'timed' || value === (fields[shown] ?? '')) return;
    library.edit(`${requireField(shown).label} of ${titleOf(item)}`, [item], { [shown]: value || null });
  }

  function keepLines(label: string, all: readonly DraftLine[], lyrics = fields.lyrics) {
    library.act(label, [item], (one) => editContent(one, { timed: timedIn(all), fields: { lyrics } }));
  }

  function mark() {
    if (place === null || next < 0) return;
    keepLines(`Time of line ${next + 1}`, markAt(lines, next, place));
    cursor = String(next);
  }

  function retext(index: number, line: DraftLine, value: string) {
    const after = value.trim();
    if (after === line.text) return;
    const all =
      after === ''
        ? lines.filter((_, at) => at !== index)
        : lines.map((one, at) => (at === index ? reworded(one, after) : one));
    keepLines(`Words of line ${index + 1}`, all, rewordedLyrics(fields.lyrics, line.text, after));
  }

  async function read(file: File) {
    trouble = null;
    try {
      const found = readLrc(await file.text());
      if (!found) throw new Error('no line has a time such as [01:23.45]');
      keepLines(`Lines from ${file.name}`, found);
      session.work.say(`${counted(found.length, 'line')} read from ${file.name}`);
    } catch (error) {
      trouble = `${file.name}: ${error instanceof Error ? error.message : String(error)}`;
    }
  }

  function keydown(event: KeyboardEvent) {
    if (shown !== 'timed' || hearingAct(event)?.type !== 'mark') return;
    event.preventDefault();
    mark();
  }
</script>

<svelte:window onkeydown={keydown} />

<Panel title="Words of {titleOf(item)}" fits>
  {#snippet tools()}
    <span class="end"><button class="btn" onclick={onclose}>Done</button></span>
  {/snippet}
  <div class="tabs">
    <Choice
      label="Which words"
      options={TABS.map((one) => ({ value: one, name: nameOf(one), note: amountOf(one) || 'none' }))}
      value={shown}
      onchoose={(one) => {
        typed = null;
        trouble = null;
        shown = one;
      }}
    />
  </div>
  {#if !held}<p class="limit">Its copies cannot store this: it stays in the library.</p>{/if}
  {#if trouble}<p role="alert" class="trouble">{trouble}</p>{/if}
  {#if shown === 'timed'}
    <div class="top">
      <div class="line">
        <HearBar {item} />
        <button
          class="btn btn-primary"
          disabled={place === null || next < 0 || !library.mayWrite}
          onclick={mark}
          >{markWords}
          <span class="key">M</span></button
        >
      </div>
      <div class="line">
        <span>all lines</span>
        <button
          class="btn"
          disabled={timed.length === 0 || !library.mayWrite}
          onclick={() => keepLines('All lines sooner', shifted(lines, -by))}>sooner</button
        >
        <button
          class="btn"
          disabled={timed.length === 0 || !library.mayWrite}
          onclick={() => keepLines('All lines later', shifted(lines, by))}>later</button
        >
        <label
          >by <input type="number" min="0.05" max="600" step="0.05" bind:value={by} aria-label="Seconds" /> s</label
        >
        <span class="end">
          <FileButton
            label="Read an LRC file"
            accept=".lrc,.txt,text/plain"
            disabled={!library.mayWrite}
            onfile={read}
          />
          <button
            class="btn"
            disabled={timed.length === 0}
            onclick={() => saveText(`${stemOf(item.path)}.lrc`, `${writeLrc(timed)}\n`, 'text/plain')}
            >Save as LRC</button
          >
          <button
            class="btn"
            disabled={timed.length === 0 || !library.mayWrite}
            onclick={() =>
              keepLines('Plain words from the lines', lines, lines.map((line) => line.text).join('\n'))}
            >Copy to lyrics</button
          >
          <button
            class="btn"
            disabled={timed.length === 0 || !library.mayWrite}
            onclick={() => keepLines('No times', [])}>Remove all times</button
          >
        </span>
      </div>
    </div>
    {#if lines.length === 0}
      <p class="none">
        No lines yet. Write them under <b>lyrics</b>, then play it and press <b>M</b> as each line begins; or read
        an LRC file.
      </p>
    {:else}
      <Ledger
        label="Lines"
        {rows}
        rowHeight={34}
        columns="38px 116px minmax(160px, 1fr) 160px 120px"
        {cursor}
        isSelected={({ line }) => heard !== null && line.startSeconds === heard.startSeconds}
        onpick={({ key }) => (cursor = key)}
      >
        {#snippet head()}
          <LedgerHeads heads={HEADS} />
        {/snippet}
        {#snippet row({ line, index })}
          {@const oddity = lineOddity(lines, index, item.facts.durationSeconds)}
          <div class="cols">
            <span role="gridcell" class="quiet">{index + 1}</span>
            <span role="gridcell"
              ><input
                type="text"
                class="path"
                value={line.startSeconds === null ? '' : timeText(line.startSeconds)}
                placeholder="no time yet"
                aria-label="Time of line {index + 1}"
                disabled={!library.mayWrite}
                onchange={(event) => {
                  const value = event.currentTarget.value.trim();
                  const at = value === '' ? null : secondsOf(value);
                  if (value !== '' && at === null)
                    event.currentTarget.value = line.startSeconds === null ? '' : timeText(line.startSeconds);
                  else keepLines(`Time of line ${index + 1}`, markAt(lines, index, at));
                }}
              /></span
            >
            <span role="gridcell"
              ><input
                type="text"
                value={line.text}
                aria-label="Line {index + 1}"
                disabled={!library.mayWrite}
                onchange={(event) => retext(index, line, event.currentTarget.value)}
              /></span
            >
            <span role="gridcell" class={oddity ? 'odd' : 'quiet'}
              >{oddity ? ODDITY_WORDS[oddity] : line.words ? `${line.words.length} words in time` : ''}</span
            >
            <span role="gridcell" class="acts">
              <button
                class="act"
                disabled={place === null || !library.mayWrite}
                aria-label="Line {index + 1} begins now"
                onclick={() =>
                  place !== null && keepLines(`Time of line ${index + 1}`, markAt(lines, index, place))}
                >now</button
              >
              {#if line.startSeconds !== null && place !== null}
                <button
                  class="act"
                  aria-label="Play from line {index + 1}"
                  onclick={() => playback.seek(line.startSeconds ?? 0)}>hear</button
                >
              {/if}
            </span>
          </div>
        {/snippet}
      </Ledger>
    {/if}
  {:else}
    <textarea
      value={text}
      aria-label={nameOf(shown)}
      disabled={!library.mayWrite}
      oninput={(event) => (typed = event.currentTarget.value)}
      onchange={(event) => keepText(event.currentTarget.value)}></textarea>
    <p class="counts" role="status">
      {counted(counts.letters, 'letter')}, {counted(counts.words, 'word')}, {counted(counts.lines, 'line')}
    </p>
  {/if}
</Panel>

<style>
  .tabs {
    display: flex;
    flex: none;
    padding: 0 16px 8px;
  }
  .top {
    display: grid;
    gap: 8px;
    flex: none;
    padding: 0 16px 10px;
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
  input[type='number'] {
    width: 66px;
  }
  textarea {
    flex: 1;
    min-height: 120px;
    margin: 0 16px;
    padding: 12px 14px;
    border: 1px solid var(--rule-strong);
    background: var(--raised);
    color: var(--ink);
    font-size: var(--t-read);
    line-height: 1.6;
    resize: none;
  }
  .counts,
  .limit,
  .trouble {
    flex: none;
    padding: 4px 16px 10px;
  }
  .counts {
    color: var(--ink-2);
  }
  .limit {
    color: var(--attention-ink);
  }
  .none {
    padding: 24px 16px;
    color: var(--ink-2);
    max-width: 620px;
  }
  .acts {
    display: flex;
    gap: 10px;
  }
</style>
