<script lang="ts">
  import { onMount } from 'svelte';
  import { fieldText, fieldsOf, requireField, type FieldName, type Item } from '$lib/core/items';
  import { folderOf, nameOf } from '$lib/core/paths';
  import type { NoiseRule } from '$lib/core/naming';
  import { NamesDesk, replacesTyped, type NameRow } from '$lib/state/names-desk.svelte';
  import { getSession } from '$lib/state/session.svelte';
  import Panel from '$lib/ui/Panel.svelte';
  import Ledger from '$lib/ui/Ledger.svelte';
  import { counted } from '$lib/ui/words/amounts';
  import { problemWords } from '$lib/ui/words/pattern-words';

  /** Reads fields out of names by a pattern, seen for every file before anything is taken. */
  let {
    items = null,
    only = null,
    onclose,
  }: {
    /** Whose names; the selection where there is one, else all in scope. */
    items?: readonly Item[] | null;
    /** The one field that is taken. */
    only?: FieldName | null;
    onclose?: () => void;
  } = $props();
  const session = getSession();
  const desk = session.part('names', () => new NamesDesk(session));
  const uid = $props.id();
  let input = $state<HTMLInputElement>();
  let cursor = $state<string | null>(null);
  let shown = $state<'all' | 'ambiguous' | 'failed'>('all');

  const NOISE: Readonly<Record<NoiseRule, string>> = {
    underscores: '_ is a space',
    leadingCounters: 'leading counters',
    bracketedNumbers: 'numbers in brackets',
    sourceMarks: 'marks of source and quality',
  };
  const rows = $derived(desk.rows.filter(({ reading }) => shown === 'all' || reading.type === shown));

  onMount(() =>
    desk.begin(
      items ?? (session.selection.items.length > 1 ? session.selection.items : session.scope.items),
      only,
    ),
  );

  /** Puts a field where the typing stands. */
  function insert(name: string) {
    const at = input?.selectionStart ?? desk.pattern.length;
    const end = input?.selectionEnd ?? at;
    desk.setPattern(`${desk.pattern.slice(0, at)}:${name}${desk.pattern.slice(end)}`);
    input?.focus();
  }

  const changes = (row: NameRow) => Object.entries(row.edits) as [FieldName, NameRow['edits'][FieldName]][];
  const stateOf = ({ reading, edits, ...rest }: NameRow) =>
    reading.type === 'failed'
      ? 'does not fit'
      : Object.keys(edits).length === 0 && reading.type === 'read'
        ? 'no new value'
        : replacesTyped({ reading, edits, ...rest })
          ? 'would replace your edit'
          : '';
  const valuesWords = (values: object) =>
    Object.entries(values)
      .map(([name, value]) => `${requireField(name).label} ${String(value)}`)
      .join(', ');
</script>

<Panel title={only ? `${requireField(only).label} from the path` : 'Fields from names'} fits>
  {#snippet tools()}
    <span class="quiet">{counted(desk.rows.length, 'file')}, nothing changes until you confirm</span>
    <span class="end">
      <button class="btn btn-primary" disabled={desk.ready.length === 0} onclick={() => desk.take()}
        >Use {only ? requireField(only).label : 'the fields'} of {counted(desk.ready.length, 'file')}</button
      >
      {#if onclose}<button class="btn" onclick={onclose}>Back to the values</button>{/if}
    </span>
  {/snippet}
  <div class="tools">
    <div>
      <label for="{uid}-pattern">pattern</label>
      <input
        id="{uid}-pattern"
        class="path wide"
        bind:this={input}
        value={desk.pattern}
        spellcheck="false"
        autocomplete="off"
        aria-invalid={desk.problem !== null}
        aria-describedby="{uid}-problem"
        oninput={(event) => desk.setPattern(event.currentTarget.value)}
      />
      <p id="{uid}-problem" class="wrong" role="status">{desk.problem ? problemWords(desk.problem) : ''}</p>
      <div class="palette" role="group" aria-label="Fields for the pattern">
        {#each desk.readable as name (name)}<button class="path" onclick={() => insert(name)}>:{name}</button
          >{/each}
      </div>
    </div>
    <fieldset>
      <legend>patterns that fit</legend>
      {#each desk.proposed as { text, fits, of } (text)}
        <label>
          <input
            type="radio"
            name="{uid}-proposed"
            checked={desk.pattern === text}
            onchange={() => desk.setPattern(text)}
          />
          <span class="path">{text}</span> <span class="quiet">{fits} of {of}</span>
        </label>
      {:else}<p class="quiet">no common pattern fits; type one</p>{/each}
    </fieldset>
    <fieldset>
      <legend>ignored as noise</legend>
      {#each Object.entries(NOISE) as [rule, name] (rule)}
        <label
          ><input
            type="checkbox"
            checked={desk.rules.has(rule as NoiseRule)}
            onchange={() => desk.toggleRule(rule as NoiseRule)}
          />
          {name}</label
        >
        {#if desk.clashes.get(rule as NoiseRule)}
          <p class="clash" role="status">
            removes what the pattern needs: {desk.clashes.get(rule as NoiseRule)} more fit without it
          </p>
        {/if}
      {/each}
    </fieldset>
  </div>
  <div class="tabs" role="group" aria-label="Which names are shown">
    <button aria-pressed={shown === 'all'} onclick={() => (shown = 'all')}
      >all, {desk.counts.read} read</button
    >
    <button aria-pressed={shown === 'ambiguous'} onclick={() => (shown = 'ambiguous')}
      >{desk.counts.ambiguous} can be read in several ways</button
    >
    <button aria-pressed={shown === 'failed'} onclick={() => (shown = 'failed')}
      >{desk.counts.failed} do not fit</button
    >
  </div>
  <Ledger
    {rows}
    {cursor}
    label="Names and what they say"
    rowHeight={46}
    isSelected={(row) => desk.isIn(row)}
    onpick={(row, how) => {
      cursor = row.key;
      // The card shows the item that the row is about.
      session.selection.set([row.item.id], null);
      if (how === 'toggle') desk.toggle(row);
    }}
  >
    {#snippet row(row)}
      <div class="name">
        <span role="gridcell">
          <input
            type="checkbox"
            aria-label="Take {nameOf(row.item.path)}"
            disabled={Object.keys(row.edits).length === 0}
            checked={desk.isIn(row)}
            onchange={() => desk.toggle(row)}
          />
        </span>
        <span role="gridcell" class="two">
          <span class="path cut"
            ><span class="quiet">{folderOf(row.item.path)}{folderOf(row.item.path) ? '/' : ''}</span>{nameOf(
              row.item.path,
            )}</span
          >
          <span class="cut says">
            {#each changes(row) as [name, value] (name)}
              <span
                ><i>{requireField(name).label}</i>
                {#if fieldsOf(row.item)[name] !== null}<s>{fieldText(fieldsOf(row.item)[name])}</s>{/if}
                <b>{fieldText(value ?? null)}</b></span
              >
            {/each}
            {#if row.reading.type === 'ambiguous'}
              <select
                aria-label="How {nameOf(row.item.path)} is read"
                value={String(desk.pickedOf(row))}
                onchange={(event) => desk.pick(row, Number(event.currentTarget.value))}
              >
                <option value="-1">{row.reading.readings.length} ways: choose one</option>
                {#each row.reading.readings as { values }, index (index)}<option value={String(index)}
                    >{valuesWords(values)}</option
                  >{/each}
              </select>
            {/if}
            <span class="quiet">{stateOf(row)}</span>
          </span>
        </span>
      </div>
    {/snippet}
  </Ledger>
</Panel>

<style>
  .tools {
    display: grid;
    grid-template-columns: minmax(0, 1.5fr) minmax(0, 1.1fr) auto;
    gap: 20px;
    flex: none;
    padding: 0 16px 8px;
  }
  .wide {
    width: 100%;
  }
  label[for] {
    color: var(--ink-2);
  }
  fieldset label {
    display: flex;
    align-items: baseline;
    gap: 6px;
    padding: 1px 0;
  }
  legend {
    color: var(--ink-2);
  }
  fieldset {
    min-width: 0;
  }
  fieldset label span {
    white-space: nowrap;
    overflow: hidden;
    text-overflow: ellipsis;
  }
  fieldset label span.quiet {
    flex: none;
  }
  .clash {
    padding-left: 20px;
    max-width: 260px;
    color: var(--blocks-ink);
    font-size: var(--t-small);
  }
  .wrong {
    min-height: 18px;
    color: var(--blocks-ink);
    font-size: var(--t-small);
  }
  .palette {
    display: flex;
    flex-wrap: wrap;
    gap: 3px 8px;
  }
  .palette button {
    color: var(--primary-ink);
  }
  .palette button:hover {
    text-decoration: underline;
  }
  .tabs {
    display: flex;
    gap: 16px;
    flex: none;
    padding: 4px 16px;
    border-top: 1px solid var(--rule);
    border-bottom: 1px solid var(--rule);
  }
  .tabs button[aria-pressed='true'] {
    font-weight: 600;
    box-shadow: 0 2px 0 var(--ink);
  }
  .name {
    display: grid;
    grid-template-columns: 30px minmax(0, 1fr);
    align-items: center;
    height: 100%;
    padding: 0 16px;
  }
  .two {
    display: grid;
    min-width: 0;
  }
  .cut {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .says {
    display: flex;
    gap: 14px;
  }
  i {
    font-style: normal;
    color: var(--ink-2);
  }
  b {
    text-decoration: underline;
    text-decoration-color: var(--primary);
    text-decoration-thickness: 2px;
    text-underline-offset: 3px;
  }
  s {
    color: var(--ink-3);
  }
  .says select {
    height: 20px;
    max-width: 420px;
  }
</style>
