<script lang="ts">
  import { scaleLinear } from 'd3-scale';
  import type { LineFile, Pair, ReferenceEntry } from '$lib/core/identify';
  import type { ItemId } from '$lib/core/items';
  import { getSession } from '$lib/state/session.svelte';
  import { clock } from '$lib/ui/words/amounts';
  import { evidenceCell, pairWords } from '$lib/ui/words/identify-words';
  import { ribbonBetween } from './ribbon';

  /**
   * Files in their own order, left, against entries in theirs, right, both to one time scale. Ribbons join
   * pairs; a changed order is a crossing. A ribbon's end can be dragged to another entry.
   */
  const session = getSession();
  const { identify, selection } = session;

  const ROW = 35;
  const BAR = 21;
  const TOP = 34;
  /** Pixels of a right bar that hold its length and how far that is off. */
  const ROOM = 96;
  let width = $state(868);
  let drag = $state<{ file: string; x: number; y: number } | null>(null);
  let canvas = $state<SVGSVGElement>();
  let scroller = $state<HTMLElement>();
  const uid = $props.id();

  const files = $derived(identify.files);
  const entries = $derived(identify.entries);
  const lineUp = $derived(identify.lineUp);
  const pairOf = $derived(new Map((lineUp?.pairs ?? []).map((pair) => [pair.file, pair])));
  const pairAt = $derived(new Map((lineUp?.pairs ?? []).map((pair) => [pair.entry, pair])));
  const entryAt = $derived(new Map(entries.map((entry, index) => [entry.id, index])));
  const openFiles = $derived(new Set(lineUp?.openFiles ?? []));
  const whole = $derived(identify.gathering?.whole ?? null);

  // Left to right: names, bars that grow leftwards, ribbons, bars that grow rightwards, titles.
  const x = $derived({
    leftBar: Math.round(width * 0.16),
    leftEnd: Math.round(width * 0.31),
    rightStart: Math.round(width * 0.59),
    rightEnd: Math.round(width * 0.74),
    titles: Math.round(width * 0.745),
  });
  /** One file as long as all others would press the rest together: it is drawn broken. */
  const longest = $derived(
    Math.max(
      10,
      ...files.filter(({ id }) => id !== whole).map(({ lengthSeconds }) => lengthSeconds ?? 0),
      ...entries.map(({ lengthSeconds }) => lengthSeconds ?? 0),
    ),
  );
  const minutes = $derived(longest > 180);
  const scale = $derived(
    scaleLinear([0, minutes ? longest / 60 : longest], [0, x.leftEnd - x.leftBar]).nice(3),
  );
  const ticks = $derived(scale.ticks(3));
  const lengthOf = (seconds: number | null) => Math.max(2, scale((seconds ?? 0) / (minutes ? 60 : 1)));
  const middle = (index: number) => TOP + index * ROW + ROW / 2;
  const height = $derived(TOP + Math.max(files.length, entries.length, 1) * ROW + 4);

  const ribbons = $derived(
    files.flatMap((file, index) => {
      const pair = pairOf.get(file.id);
      const place = pair ? entryAt.get(pair.entry) : undefined;
      if (!pair || place === undefined) return [];
      const shape = ribbonBetween(x.leftEnd + 3, middle(index), x.rightStart - 3, middle(place), BAR);
      return [{ pair, shape, y: middle(place) }];
    }),
  );
  const DASHES: Readonly<Record<Pair['certainty'], string>> = {
    sure: 'none',
    likely: '7 4',
    guess: '0.1 4.5',
  };

  const chosen = $derived([...selection.ids][0] ?? null);
  const cursor = $derived(files.findIndex(({ id }) => id === chosen));
  const entryOf = (pair: Pair | undefined): ReferenceEntry | null =>
    (pair && entries[entryAt.get(pair.entry) ?? -1]) ?? null;
  const isOut = (file: LineFile) => lineUp !== null && !pairOf.has(file.id) && !openFiles.has(file.id);

  function lengthWords(pair: Pair | undefined): string {
    const length = pair?.evidence.find(({ code }) => code === 'length');
    if (!length) return '';
    const off = Math.round(length.measure);
    return Math.abs(length.measure) < 0.5 || off === 0
      ? 'same'
      : `${off > 0 ? '+' : '−'}${Math.abs(off) < 60 ? `${Math.abs(off)} s` : clock(Math.abs(off))}`;
  }
  const isFar = (pair: Pair | undefined) =>
    (pair?.evidence.find(({ code }) => code === 'length')?.points ?? 0) < 0;

  function select(index: number) {
    const file = files[Math.max(0, Math.min(files.length - 1, index))];
    if (!file) return;
    selection.set([file.id as ItemId], file.id);
    const y = middle(files.indexOf(file));
    if (!scroller) return;
    if (y - ROW < scroller.scrollTop) scroller.scrollTop = y - ROW;
    else if (y + ROW > scroller.scrollTop + scroller.clientHeight)
      scroller.scrollTop = y + ROW - scroller.clientHeight;
  }

  /** Lays the file against the entry before or behind the one it has. */
  function shift(file: LineFile, by: number) {
    const now = entryAt.get(pairOf.get(file.id)?.entry ?? '');
    const next = entries[now === undefined ? (by > 0 ? 0 : entries.length - 1) : now + by];
    if (next) identify.lock(file.id, next.id);
  }

  function keys(event: KeyboardEvent) {
    const file = files[cursor];
    const step = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
    const letter = event.ctrlKey || event.metaKey ? '' : event.key.toLowerCase();
    if (step !== 0 && event.altKey && file) shift(file, step);
    else if (step !== 0) select(cursor + step);
    else if (event.key === 'Home') select(0);
    else if (event.key === 'End') select(files.length - 1);
    else if (event.key === 'Enter') void identify.take();
    else if (letter === 'l' && file) toggleLock(file);
    else if (letter === 'o' && file) identify.lock(file.id, null);
    else if (letter === 'x' && file)
      if (isOut(file)) identify.free(file.id);
      else identify.leaveOut(file.id);
    else return;
    event.preventDefault();
  }

  function toggleLock(file: LineFile) {
    const pair = pairOf.get(file.id);
    if (file.id in identify.choice.decisions.locked) identify.free(file.id);
    else if (pair) identify.lock(file.id, pair.entry);
  }

  function point(event: PointerEvent): { x: number; y: number } {
    const box = canvas?.getBoundingClientRect();
    return { x: event.clientX - (box?.left ?? 0), y: event.clientY - (box?.top ?? 0) };
  }

  function grip(event: PointerEvent, file: string) {
    event.preventDefault();
    (event.currentTarget as Element).setPointerCapture(event.pointerId);
    drag = { file, ...point(event) };
    select(files.findIndex(({ id }) => id === file));
  }

  function drop() {
    if (!drag) return;
    const { file, x: at, y } = drag;
    drag = null;
    const entry = entries[Math.floor((y - TOP) / ROW)];
    // Let go over the files, the ribbon is taken off.
    if (at < (x.leftEnd + x.rightStart) / 2) identify.lock(file, null);
    else if (entry) identify.lock(file, entry.id);
  }
</script>

<div class="scroller" bind:this={scroller}>
  <div
    class="chart"
    role="listbox"
    tabindex="0"
    aria-label="Files and the entries they are laid against"
    aria-activedescendant={cursor >= 0 ? `${uid}-${cursor}` : undefined}
    bind:clientWidth={width}
    style:height="{height}px"
    onkeydown={keys}
  >
    {#each files as file, index (file.id)}
      {@const pair = pairOf.get(file.id)}
      <!-- svelte-ignore a11y_click_events_have_key_events (the list handles keys) -->
      <div
        id="{uid}-{index}"
        class="file"
        role="option"
        tabindex="-1"
        aria-selected={index === cursor}
        aria-label="{file.stem}, {clock(file.lengthSeconds)}, {pairWords(
          pair ?? null,
          entryOf(pair),
          isOut(file),
        )}"
        style:top="{TOP + index * ROW}px"
        style:width="{x.rightStart}px"
        onclick={() => select(index)}
      >
        <span class="path name" class:dim={isOut(file)} style:width="{x.leftBar - 4}px" title={file.stem}
          >{file.stem}</span
        >
      </div>
    {/each}
    <svg
      bind:this={canvas}
      {width}
      {height}
      aria-hidden="true"
      onpointermove={(event) => drag && (drag = { ...drag, ...point(event) })}
      onpointerup={drop}
      onpointercancel={() => (drag = null)}
    >
      <!-- Scales: a bar of alternate fields, with its numbers above. -->
      {#each [{ from: x.leftEnd, sign: -1 }, { from: x.rightStart, sign: 1 }] as { from, sign } (sign)}
        {#each ticks as tick, index (tick)}
          <text class="tick" x={from + sign * scale(tick)} y="11" text-anchor="middle">{tick}</text>
          <line
            class="grid"
            x1={from + sign * scale(tick)}
            x2={from + sign * scale(tick)}
            y1={TOP - 4}
            y2={height}
          />
          {#if ticks[index + 1] !== undefined}
            {@const next = scale(ticks[index + 1] as number)}
            <rect
              x={Math.min(from + sign * scale(tick), from + sign * next)}
              y="16"
              width={Math.abs(next - scale(tick))}
              height="5"
              class="field"
              class:full={index % 2 === 0}
            />
          {/if}
        {/each}
      {/each}
      <text class="unit" x={x.leftBar - 8} y="21" text-anchor="end">{minutes ? 'minutes' : 'seconds'}</text>
      {#each ribbons as { pair, shape } (pair.file)}
        <g class="ribbon" class:crosses={pair.crosses} class:chosen={pair.file === chosen}>
          <path class="body" d={shape.body} />
          <path
            class="edge"
            d={shape.top}
            stroke-dasharray={DASHES[pair.certainty]}
            stroke-linecap={pair.certainty === 'guess' ? 'round' : 'butt'}
          />
          <path
            class="edge"
            d={shape.foot}
            stroke-dasharray={DASHES[pair.certainty]}
            stroke-linecap={pair.certainty === 'guess' ? 'round' : 'butt'}
          />
        </g>
      {/each}
      {#each files as file, index (file.id)}
        {@const y = middle(index)}
        {@const out = isOut(file)}
        {@const long = file.lengthSeconds !== null && file.lengthSeconds > longest * 1.02}
        {@const bar = long ? x.leftEnd - x.leftBar : lengthOf(file.lengthSeconds)}
        <rect
          class="bar"
          class:out
          class:open={openFiles.has(file.id)}
          class:chosen={file.id === chosen}
          x={x.leftEnd - bar}
          y={y - BAR / 2}
          width={bar}
          height={BAR}
        />
        {#if long}
          <path class="break" d="M{x.leftBar + 22},{y - BAR / 2 - 2}l5,6l-5,6l5,6l-5,7" />
        {/if}
        <text
          class="length"
          class:quiet={out}
          x={bar > 46 ? x.leftEnd - 7 : x.leftEnd - bar - 6}
          y={y + 4}
          text-anchor="end">{clock(file.lengthSeconds)}</text
        >
        {#if openFiles.has(file.id)}
          <line class="stub" x1={x.leftEnd + 3} x2={x.leftEnd + 18} y1={y} y2={y} />
          <circle class="stub-end" cx={x.leftEnd + 22} cy={y} r="4" />
          <text class="note" x={x.leftEnd + 34} y={y + 4}>open</text>
        {:else if out}
          <text class="note quiet" x={x.leftEnd + 12} y={y + 4}
            >left out{file.id === whole ? ': as long as the others end to end' : ''}</text
          >
        {/if}
        {#if pairOf.get(file.id)?.locked}
          <text class="note held" x={x.leftEnd + 10} y={y + 4}>held</text>
        {/if}
      {/each}
      {#each entries as entry, index (entry.id)}
        {@const y = middle(index)}
        {@const pair = pairAt.get(entry.id)}
        {@const bar = lengthOf(entry.lengthSeconds)}
        <rect
          class="bar"
          class:out={!pair}
          class:chosen={pair?.file === chosen}
          x={x.rightStart}
          y={y - BAR / 2}
          width={bar}
          height={BAR}
        />
        <text
          class="length"
          class:quiet={!pair}
          x={bar > ROOM ? x.rightStart + 7 : x.rightStart + bar + 6}
          y={y + 4}
          >{clock(entry.lengthSeconds)}
          <tspan class="off" class:far={isFar(pair)} dx="3">{pair ? lengthWords(pair) : 'no file yet'}</tspan
          ></text
        >
      {/each}
      {#each ribbons as { pair, y } (pair.file)}
        <circle
          class="grip"
          role="presentation"
          cx={x.rightStart - 9}
          cy={y}
          r="6"
          onpointerdown={(event) => grip(event, pair.file)}
        >
          <title
            >{pair.evidence.map((piece) => `${piece.code} ${evidenceCell(piece)}`).join(', ')}: drag to
            another entry</title
          >
        </circle>
      {/each}
      {#each files as file, index (file.id)}
        {#if openFiles.has(file.id)}
          <circle
            class="grip"
            role="presentation"
            cx={x.leftEnd + 22}
            cy={middle(index)}
            r="7"
            onpointerdown={(event) => grip(event, file.id)}
          >
            <title>drag to an entry</title>
          </circle>
        {/if}
      {/each}
      {#if drag}
        {@const from = middle(files.findIndex(({ id }) => id === drag?.file))}
        <line class="dragged" x1={x.leftEnd + 3} y1={from} x2={drag.x} y2={drag.y} />
      {/if}
    </svg>
    {#each entries as entry, index (entry.id)}
      <div
        class="entry"
        aria-hidden="true"
        class:bold={pairAt.get(entry.id)?.file === chosen && chosen !== null}
        style:top="{TOP + index * ROW}px"
        style:left="{x.titles}px"
      >
        <span class="number"
          >{entry.disc && entries.some(({ disc }) => disc !== entry.disc)
            ? `${entry.disc}-`
            : ''}{entry.number}</span
        >
        <span class="cut" title={entry.title}>{entry.title}</span>
      </div>
    {/each}
  </div>
</div>

<style>
  .scroller {
    flex: 3 1 220px;
    min-height: 150px;
    overflow-y: auto;
    overflow-x: hidden;
    padding: 0 16px;
  }
  .chart {
    position: relative;
    min-width: 0;
  }
  .chart:focus-visible {
    outline: none;
    box-shadow: inset 0 0 0 1px var(--primary);
  }
  svg {
    position: absolute;
    inset: 0;
    pointer-events: none;
    touch-action: none;
  }
  .grip {
    pointer-events: all;
    cursor: grab;
    fill: transparent;
  }
  .grip:hover {
    fill: var(--primary);
  }
  .file,
  .entry {
    position: absolute;
    display: flex;
    align-items: center;
    height: 35px;
  }
  .file[aria-selected='true'] {
    background: var(--select);
    box-shadow: inset 3px 0 0 var(--primary);
  }
  .chart:focus-visible .file[aria-selected='true'] {
    box-shadow: inset 0 0 0 1.5px var(--primary);
  }
  .name {
    padding-left: 6px;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .dim {
    color: var(--ink-3);
  }
  .entry {
    right: 0;
    gap: 8px;
    pointer-events: none;
    font-size: var(--t-read);
  }
  .entry.bold {
    font-weight: 700;
  }
  .number {
    min-width: 26px;
    text-align: right;
    font-weight: 600;
  }
  .cut {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  text {
    font: var(--t-small) var(--font-body);
    fill: var(--ink);
    font-variant-numeric: tabular-nums;
  }
  .tick,
  .unit {
    font-size: var(--t-tick);
    fill: var(--ink-2);
  }
  .grid {
    stroke: var(--rule);
  }
  .field {
    stroke: var(--ink-2);
    fill: var(--raised);
  }
  .field.full {
    fill: var(--ink-2);
  }
  .bar {
    fill: var(--primary-tint);
    stroke: var(--primary);
  }
  .bar.out {
    fill: var(--raised);
    stroke: var(--rule-strong);
  }
  .bar.open {
    fill: var(--attention-tint);
    stroke: var(--attention);
  }
  .bar.chosen {
    stroke-width: 2;
  }
  .break {
    fill: var(--raised);
    stroke: var(--rule-strong);
    stroke-width: 1.5;
  }
  .length {
    font-weight: 600;
    fill: var(--primary-ink);
  }
  .length.quiet,
  .note.quiet {
    fill: var(--ink-2);
    font-weight: 400;
  }
  .off {
    font-weight: 400;
    fill: var(--ink-2);
  }
  .off.far {
    fill: var(--attention-ink);
    font-weight: 700;
  }
  .ribbon .body {
    fill: var(--primary-tint);
    opacity: 0.45;
  }
  .ribbon.crosses .body {
    fill: var(--fill);
    opacity: 0.6;
  }
  .ribbon.chosen .body {
    opacity: 0.85;
  }
  .edge {
    fill: none;
    stroke: var(--primary);
    stroke-width: 1.75;
  }
  .stub {
    stroke: var(--attention);
    stroke-width: 1.75;
  }
  .stub-end {
    fill: var(--raised);
    stroke: var(--attention);
    stroke-width: 1.75;
  }
  .note {
    paint-order: stroke;
    stroke: var(--raised);
    stroke-width: 4px;
    fill: var(--attention-ink);
    font-weight: 600;
  }
  .held {
    fill: var(--primary-ink);
  }
  .dragged {
    stroke: var(--primary);
    stroke-width: 2;
    stroke-dasharray: 4 3;
  }
</style>
