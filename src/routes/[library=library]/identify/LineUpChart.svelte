<script lang="ts">
  import type { LineFile, Pair } from '$lib/core/identify';
  import type { ItemId } from '$lib/core/items';
  import { getSession } from '$lib/state/session.svelte';
  import { clock } from '$lib/ui/words/amounts';
  import { evidenceCell, isFarOff, offWords, pairWords } from '$lib/ui/words/identify-words';
  import { BAR, LineUpLayout, ROW, TOP } from './line-up-layout.svelte';

  /**
   * Files in their own order, left, against entries in theirs, right, both to one time scale. Ribbons join
   * pairs; a changed order is a crossing. A ribbon's end can be dragged to another entry.
   */
  const session = getSession();
  const { identify, selection } = session;

  let width = $state(868);
  let drag = $state<{ file: string; x: number; y: number } | null>(null);
  let canvas = $state<SVGSVGElement>();
  let scroller = $state<HTMLElement>();
  const uid = $props.id();
  const layout = new LineUpLayout(identify, () => width);

  const DASHES: Readonly<Record<Pair['certainty'], string>> = {
    sure: 'none',
    likely: '7 4',
    guess: '0.1 4.5',
  };
  const chosen = $derived([...selection.ids][0] ?? null);
  const cursor = $derived(layout.files.findIndex(({ id }) => id === chosen));

  function select(index: number) {
    const file = layout.files[Math.max(0, Math.min(layout.files.length - 1, index))];
    if (!file) return;
    selection.set([file.id as ItemId], file.id);
    const y = layout.middle(layout.files.indexOf(file));
    if (!scroller) return;
    if (y - ROW < scroller.scrollTop) scroller.scrollTop = y - ROW;
    else if (y + ROW > scroller.scrollTop + scroller.clientHeight)
      scroller.scrollTop = y + ROW - scroller.clientHeight;
  }

  /** Lays the file against the entry before or behind the one it has. */
  function shift(file: LineFile, by: number) {
    const now = layout.entryAt.get(layout.pairOf.get(file.id)?.entry ?? '');
    const next = layout.entries[now === undefined ? (by > 0 ? 0 : layout.entries.length - 1) : now + by];
    if (next) identify.pairing.lock(file.id, next.id);
  }

  function keys(event: KeyboardEvent) {
    const file = layout.files[cursor];
    const step = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
    const letter = event.ctrlKey || event.metaKey ? '' : event.key.toLowerCase();
    if (step !== 0 && event.altKey && file) shift(file, step);
    else if (step !== 0) select(cursor + step);
    else if (event.key === 'Home') select(0);
    else if (event.key === 'End') select(layout.files.length - 1);
    else if (event.key === 'Enter') void identify.accept();
    else if (letter === 'l' && file) toggleLock(file);
    else if (letter === 'o' && file) identify.pairing.lock(file.id, null);
    else if (letter === 'x' && file)
      if (layout.isOut(file)) identify.pairing.free(file.id);
      else identify.pairing.leaveOut(file.id);
    else return;
    event.preventDefault();
  }

  function toggleLock(file: LineFile) {
    const pair = layout.pairOf.get(file.id);
    if (file.id in identify.pairing.choice.decisions.locked) identify.pairing.free(file.id);
    else if (pair) identify.pairing.lock(file.id, pair.entry);
  }

  function point(event: PointerEvent): { x: number; y: number } {
    const box = canvas?.getBoundingClientRect();
    return { x: event.clientX - (box?.left ?? 0), y: event.clientY - (box?.top ?? 0) };
  }

  function grip(event: PointerEvent, file: string) {
    event.preventDefault();
    (event.currentTarget as Element).setPointerCapture(event.pointerId);
    drag = { file, ...point(event) };
    select(layout.files.findIndex(({ id }) => id === file));
  }

  function drop() {
    if (!drag) return;
    const { file, x: at, y } = drag;
    drag = null;
    const entry = layout.entries[Math.floor((y - TOP) / ROW)];
    // Let go over the files, the ribbon is taken off.
    if (at < (layout.x.leftEnd + layout.x.rightStart) / 2) identify.pairing.lock(file, null);
    else if (entry) identify.pairing.lock(file, entry.id);
  }
</script>

<div class="scroller" bind:this={scroller}>
  <div
    class="chart"
    role="listbox"
    tabindex="0"
    aria-label="Files and the entries they match"
    aria-activedescendant={cursor >= 0 ? `${uid}-${cursor}` : undefined}
    bind:clientWidth={width}
    style:height="{layout.height}px"
    onkeydown={keys}
  >
    {#each layout.files as file, index (file.id)}
      {@const pair = layout.pairOf.get(file.id)}
      <!-- svelte-ignore a11y_click_events_have_key_events (the list handles keys) -->
      <div
        id="{uid}-{index}"
        class="file"
        role="option"
        tabindex="-1"
        aria-selected={index === cursor}
        aria-label="{file.stem}, {clock(file.lengthSeconds)}, {pairWords(
          pair ?? null,
          layout.entryOf(pair),
          layout.isOut(file),
        )}"
        style:top="{TOP + index * ROW}px"
        style:width="{layout.x.rightStart}px"
        onclick={() => select(index)}
      >
        <span
          class="path name"
          class:dim={layout.isOut(file)}
          style:width="{layout.x.leftBar - 4}px"
          title={file.stem}>{file.stem}</span
        >
      </div>
    {/each}
    <svg
      bind:this={canvas}
      {width}
      height={layout.height}
      aria-hidden="true"
      onpointermove={(event) => drag && (drag = { ...drag, ...point(event) })}
      onpointerup={drop}
      onpointercancel={() => (drag = null)}
    >
      <!-- Scales: a bar of alternate fields, with its numbers above. -->
      {#each [{ from: layout.x.leftEnd, sign: -1 }, { from: layout.x.rightStart, sign: 1 }] as { from, sign } (sign)}
        {#each layout.ticks as tick, index (tick)}
          <text class="tick" x={from + sign * layout.scale(tick)} y="11" text-anchor="middle">{tick}</text>
          <line
            class="grid"
            x1={from + sign * layout.scale(tick)}
            x2={from + sign * layout.scale(tick)}
            y1={TOP - 4}
            y2={layout.height}
          />
          {#if layout.ticks[index + 1] !== undefined}
            {@const next = layout.scale(layout.ticks[index + 1] as number)}
            <rect
              x={Math.min(from + sign * layout.scale(tick), from + sign * next)}
              y="16"
              width={Math.abs(next - layout.scale(tick))}
              height="5"
              class="field"
              class:full={index % 2 === 0}
            />
          {/if}
        {/each}
      {/each}
      <text class="unit" x={layout.x.leftBar - 8} y="21" text-anchor="end"
        >{layout.minutes ? 'minutes' : 'seconds'}</text
      >
      {#each layout.ribbons as { pair, shape } (pair.file)}
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
      {#each layout.files as file, index (file.id)}
        {@const y = layout.middle(index)}
        {@const out = layout.isOut(file)}
        {@const long = file.lengthSeconds !== null && file.lengthSeconds > layout.longest * 1.02}
        {@const bar = long ? layout.x.leftEnd - layout.x.leftBar : layout.lengthOf(file.lengthSeconds)}
        <rect
          class="bar"
          class:out
          class:open={layout.openFiles.has(file.id)}
          class:chosen={file.id === chosen}
          x={layout.x.leftEnd - bar}
          y={y - BAR / 2}
          width={bar}
          height={BAR}
        />
        {#if long}
          <path class="break" d="M{layout.x.leftBar + 22},{y - BAR / 2 - 2}l5,6l-5,6l5,6l-5,7" />
        {/if}
        <text
          class="length"
          class:quiet={out}
          x={bar > 46 ? layout.x.leftEnd - 7 : layout.x.leftEnd - bar - 6}
          y={y + 4}
          text-anchor="end">{clock(file.lengthSeconds)}</text
        >
        {#if layout.openFiles.has(file.id)}
          <line class="stub" x1={layout.x.leftEnd + 3} x2={layout.x.leftEnd + 18} y1={y} y2={y} />
          <circle class="stub-end" cx={layout.x.leftEnd + 22} cy={y} r="4" />
          <text class="note" x={layout.x.leftEnd + 34} y={y + 4}>open</text>
        {:else if out}
          <text class="note quiet" x={layout.x.leftEnd + 12} y={y + 4}
            >left out{file.id === layout.whole ? '; as long as the others together' : ''}</text
          >
        {/if}
        {#if layout.pairOf.get(file.id)?.locked}
          <text class="note held" x={layout.x.leftEnd + 10} y={y + 4}>held</text>
        {/if}
      {/each}
      {#each layout.entries as entry, index (entry.id)}
        {@const y = layout.middle(index)}
        {@const pair = layout.pairAt.get(entry.id)}
        {@const bar = layout.lengthOf(entry.lengthSeconds)}
        <rect
          class="bar"
          class:out={!pair}
          class:chosen={pair?.file === chosen}
          x={layout.x.rightStart}
          y={y - BAR / 2}
          width={bar}
          height={BAR}
        />
        <text class="length" class:quiet={!pair} x={layout.x.rightStart + layout.textAt(bar)} y={y + 4}
          >{clock(entry.lengthSeconds)}
          <tspan class="off" class:far={isFarOff(pair)} dx="3">{pair ? offWords(pair) : 'no file'}</tspan
          ></text
        >
      {/each}
      {#each layout.ribbons as { pair, y } (pair.file)}
        <circle
          class="grip"
          role="presentation"
          cx={layout.x.rightStart - 9}
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
      {#each layout.files as file, index (file.id)}
        {#if layout.openFiles.has(file.id)}
          <circle
            class="grip"
            role="presentation"
            cx={layout.x.leftEnd + 22}
            cy={layout.middle(index)}
            r="7"
            onpointerdown={(event) => grip(event, file.id)}
          >
            <title>drag to an entry</title>
          </circle>
        {/if}
      {/each}
      {#if drag}
        {@const from = layout.middle(layout.files.findIndex(({ id }) => id === drag?.file))}
        <line class="dragged" x1={layout.x.leftEnd + 3} y1={from} x2={drag.x} y2={drag.y} />
      {/if}
    </svg>
    {#each layout.entries as entry, index (entry.id)}
      <div
        class="entry"
        aria-hidden="true"
        class:bold={layout.pairAt.get(entry.id)?.file === chosen && chosen !== null}
        style:top="{TOP + index * ROW}px"
        style:left="{layout.x.titles}px"
      >
        <span class="number"
          >{entry.disc && layout.entries.some(({ disc }) => disc !== entry.disc)
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
  @media (max-width: 760px) {
    .scroller {
      overflow-x: auto;
      min-height: 220px;
    }
    .chart {
      min-width: 720px;
    }
  }
</style>
