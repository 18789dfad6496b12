<script lang="ts">
  import { Virtualizer, type VirtualItem } from '@tanstack/virtual-core';
  import { onMount, untrack } from 'svelte';
  import {
    ODDITIES,
    fieldValueSteps,
    hasValue,
    withValue,
    type FieldValueRow,
    type FieldValues,
    type Oddity,
  } from '$lib/core/browse';
  import {
    FIELDS,
    parseFieldText,
    requireField,
    type FieldName,
    type FieldValue,
    type Item,
  } from '$lib/core/items';
  import { quoted } from '$lib/core/query';
  import { inSlices } from '$lib/state/in-slices';
  import { getSession } from '$lib/state/session.svelte';
  import CountFilter from '$lib/ui/CountFilter.svelte';
  import Panel from '$lib/ui/Panel.svelte';
  import { counted } from '$lib/ui/words/amounts';
  import { inElement } from '$lib/ui/virtual-options';
  import NamesPanel from '../frame/NamesPanel.svelte';
  import { ODDITY_WORDS, drawn, oddityWords } from '$lib/ui/words/value-words';

  /** Every value of a field in scope, with the odd ones told: some become one, for all their items, in one act. */
  let { onclose }: { onclose: () => void } = $props();
  const session = getSession();

  const HEIGHT = 34;
  const fields = FIELDS.filter(({ type }) => type !== 'lines' && type !== 'yesno');
  let field = $state<FieldName>('genre');
  let only = $state<Oddity | null>(null);
  let values = $state.raw<FieldValues | null>(null);
  let chosen = $state.raw<ReadonlySet<string>>(new Set());
  let into = $state('');
  let wrong = $state<string | null>(null);
  let body = $state<HTMLElement>();
  let shown = $state.raw<readonly VirtualItem[]>([]);
  let total = $state(0);

  $effect(() => {
    // Until the rows of another scope are there, asking for its items would look through the library at once.
    if (session.scope.building) return;
    const items = session.scope.items;
    const steps = fieldValueSteps(items, field, new Date().getFullYear());
    return inSlices(steps, (made) => (values = made));
  });

  const label = $derived(requireField(field).label);
  const locked = $derived(!session.library.mayWrite);
  const rows = $derived(values?.rows ?? []);
  const odd = $derived(
    ODDITIES.map((key) => {
      const count = rows.filter((row) => row.odd.includes(key)).length;
      return { key, name: ODDITY_WORDS[key], count };
    }).filter(({ count }) => count > 0),
  );
  const kept = $derived(only === null ? rows : rows.filter((row) => row.odd.includes(only as Oddity)));

  const options = (count: number) =>
    inElement(() => body, { count, estimateSize: () => HEIGHT, overscan: 8, onChange: show });
  const list = new Virtualizer<HTMLElement, HTMLElement>(options(0));
  function show() {
    shown = list.getVirtualItems();
    total = list.getTotalSize();
  }
  $effect(() => {
    const { length } = kept;
    // Another element each time the values come back.
    void body;
    untrack(() => {
      list.setOptions(options(length));
      list._willUpdate();
      show();
    });
  });
  onMount(() => list._didMount());

  function look(name: FieldName) {
    field = name;
    only = null;
    values = null;
    choose([]);
  }

  /** What they are to become is at first the most frequent of them. */
  function choose(texts: Iterable<string>) {
    chosen = new Set(texts);
    into = rows.find(({ text }) => chosen.has(text))?.text.trim() ?? '';
    wrong = null;
  }

  function toggle(text: string) {
    const next = new Set(chosen);
    if (!next.delete(text)) next.add(text);
    choose(next);
  }

  function merge(from: ReadonlySet<string>, typed: string) {
    const parsed = parseFieldText(field, typed);
    if (parsed.type === 'wrong') {
      wrong = `${label} ${parsed.reason}`;
      return;
    }
    const to: FieldValue = parsed.value;
    const own = field;
    const what =
      from.size === 1 ? `${label} ${[...from][0]?.trim()}` : `${counted(from.size, 'value')} of ${label}`;
    session.library.act(
      typed.trim() === '' ? `Empty ${what}` : `${what} to ${typed.trim()}`,
      session.scope.items,
      (item) => withValue(item, own, from, to),
    );
    choose([]);
  }

  /** Whose paths are read in place of what they have: null while values are looked at. */
  let fromPath = $state.raw<readonly Item[] | null>(null);

  /** Reads the field anew out of the paths of the items that have the chosen values. */
  function readPaths() {
    fromPath = session.scope.items.filter((item) => hasValue(item, field, chosen));
  }

  /** The items that say nothing of it, in the ledger. */
  function showWithout() {
    session.narrow({ ...session.scope.scope, text: `no ${label}` });
    onclose();
  }

  /** The items of one value, in the ledger. */
  function showItems({ text }: FieldValueRow) {
    session.narrow({ ...session.scope.scope, text: `${label} is ${quoted(text.trim())}` });
    onclose();
  }
</script>

{#if fromPath}
  <NamesPanel
    items={fromPath}
    only={field}
    onclose={() => {
      fromPath = null;
      choose([]);
    }}
  />
{:else}
  <Panel title="Values of a field" fits>
    {#snippet tools()}
      <label
        >field
        <select value={field} onchange={(event) => look(event.currentTarget.value as FieldName)}>
          {#each fields as { name, label: own } (name)}<option value={name}>{own}</option>{/each}
        </select></label
      >
      <span class="quiet">
        {#if values}{counted(rows.length, 'value')}{:else}counting{/if}
      </span>
      {#if values && values.without > 0}<button class="act" onclick={showWithout}
          >{counted(values.without, 'item')} without</button
        >{/if}
      <span class="end"><button class="btn" onclick={onclose}>Back to the items</button></span>
    {/snippet}
    <div class="by">
      <CountFilter
        label="Which values"
        total={rows.length}
        sorts={odd}
        {only}
        onpick={(next) => (only = next)}
      />
    </div>
    <!-- svelte-ignore a11y_no_noninteractive_tabindex (a scrolled list is moved through by keys) -->
    <div class="body" bind:this={body} tabindex="0" role="region" aria-label="Values of {label}">
      {#if values && rows.length === 0}<p class="none quiet">
          No item in scope has a value for this field.
        </p>{/if}
      <ul style:height="{total}px">
        {#each shown as { index, start } (kept[index]?.text ?? index)}
          {@const row = kept[index]}
          {#if row}
            <li style:top="{start}px" class:chosen={chosen.has(row.text)}>
              <label>
                <input type="checkbox" checked={chosen.has(row.text)} onchange={() => toggle(row.text)} />
                <span class="text">{drawn(row.text)}</span>
              </label>
              <button
                class="count"
                onclick={() => showItems(row)}
                aria-label="Show {counted(row.count, 'item')} of {row.text}"
                >{row.count.toLocaleString('en')}</button
              >
              <span class="why"
                >{row.odd.map((one) => oddityWords(one, row)).join('; ')}
                <span class="path quiet" title={row.witness}>{row.witness}</span></span
              >
              {#if row.like !== null}
                <button
                  class="btn"
                  disabled={locked}
                  onclick={() => merge(new Set([row.text]), row.like ?? '')}>To {row.like}</button
                >
              {/if}
            </li>
          {/if}
        {/each}
      </ul>
    </div>
    <form
      onsubmit={(event) => {
        event.preventDefault();
        merge(chosen, into);
      }}
    >
      <span
        >{chosen.size === 0
          ? 'Choose values to merge or change.'
          : chosen.size === 1
            ? '1 value becomes'
            : `${chosen.size} values become`}</span
      >
      {#if chosen.size > 0}
        <input type="text" aria-label="What they become" bind:value={into} oninput={() => (wrong = null)} />
        <button class="btn btn-primary" disabled={locked}
          >{into.trim() === '' ? 'Remove value' : chosen.size === 1 ? 'Change value' : 'Merge values'}</button
        >
        {#if requireField(field).inNames}
          <button type="button" class="btn" disabled={locked} onclick={readPaths}>From the path</button>
        {/if}
        <button type="button" class="btn" onclick={() => choose([])}>Clear selection</button>
      {/if}
      {#if wrong}<span role="alert" class="wrong">{wrong}</span>{/if}
    </form>
  </Panel>
{/if}

<style>
  .by {
    flex: none;
    margin: 0 16px;
  }
  .body {
    flex: 1;
    min-height: 0;
    overflow-y: auto;
  }
  ul {
    position: relative;
  }
  li {
    position: absolute;
    inset: 0 0 auto;
    display: grid;
    grid-template-columns: minmax(160px, 1fr) 64px minmax(0, 1.4fr) 180px;
    align-items: center;
    gap: 12px;
    height: 34px;
    padding: 0 16px;
    border-bottom: 1px solid var(--rule);
  }
  li.chosen {
    background: var(--select);
  }
  li label {
    display: flex;
    align-items: center;
    gap: 8px;
    min-width: 0;
  }
  .text,
  .why {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: pre;
  }
  .why {
    color: var(--attention-ink);
    font-size: var(--t-small);
  }
  .count {
    text-align: right;
    color: var(--primary-ink);
    font-weight: 600;
  }
  li .btn {
    justify-self: end;
    height: 26px;
    max-width: 100%;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  form {
    display: flex;
    align-items: center;
    gap: 10px;
    flex: none;
    min-height: 48px;
    padding: 6px 16px;
    border-top: 1px solid var(--rule-strong);
  }
  form input {
    flex: 0 1 260px;
  }
  .none {
    padding: 24px 16px;
  }
  .wrong {
    color: var(--blocks-ink);
  }
</style>
