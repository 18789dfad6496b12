<script lang="ts">
  import {
    fieldText,
    fieldsOf,
    requireField,
    titleOf,
    type FieldName,
    type Item,
    type ItemId,
  } from '$lib/core/items';
  import {
    LETTER_CASES,
    TEXT_FIELDS,
    changed,
    isChanged,
    rewriteSteps,
    type LetterCase,
    type Preset,
    type RewriteRule,
    type Rewritten,
  } from '$lib/core/rewrite';
  import { inSlices } from '$lib/state/in-slices';
  import { getSession } from '$lib/state/session.svelte';
  import Presets from './Presets.svelte';
  import Ledger from '$lib/ui/Ledger.svelte';
  import Panel from '$lib/ui/Panel.svelte';
  import { counted } from '$lib/ui/words/amounts';
  import { drawn } from '$lib/ui/words/value-words';

  /** Changes many items by one rule: what becomes of each is seen before any is changed. */
  let { onclose }: { onclose: () => void } = $props();
  const session = getSession();
  const { library, selection, scope } = session;
  const uid = $props.id();

  const HOW = [
    { how: 'case', name: 'Letter case' },
    { how: 'replace', name: 'Find and replace' },
    { how: 'number', name: 'Number items' },
    { how: 'copy', name: 'Copy fields from one item' },
    { how: 'preset', name: 'Presets' },
  ] as const;
  const CASE_WORDS: Readonly<Record<LetterCase, string>> = {
    sentence: 'Sentence case',
    title: 'Title Case for Names',
    small: 'lower case',
    capital: 'UPPER CASE',
  };
  const NUMBERED = ['track', 'episode', 'disc', 'part'] as const;

  let how = $state<RewriteRule['type']>('case');
  let worded = $state.raw<ReadonlySet<FieldName>>(new Set(['title']));
  /** What one says of itself alone, such as its title, is not said of all unasked. */
  let copied = $state.raw<ReadonlySet<FieldName>>(
    new Set(['album', 'albumArtist', 'date', 'compilation', 'show', 'artist', 'genre']),
  );
  let as = $state<LetterCase>('title');
  let find = $state('');
  let by = $state('');
  let mindsCase = $state(false);
  let wholeWords = $state(false);
  let numbered = $state<(typeof NUMBERED)[number]>('track');
  let first = $state(1);
  let totals = $state(true);
  let preset = $state.raw<Preset | null>(null);
  let fromId = $state<ItemId | null>(null);
  let out = $state.raw<ReadonlySet<ItemId>>(new Set());
  let all = $state.raw<readonly Rewritten[]>([]);
  let cursor = $state<string | null>(null);

  const fields = $derived(how === 'copy' ? copied : worded);
  /** In the order of the ledger: that is the order in which they are numbered. */
  let items = $state.raw<readonly Item[]>([]);
  $effect(() => {
    // Until the rows of another scope are there, asking for its items would look through the library at once.
    if (scope.building) return;
    const { ids } = selection;
    items = ids.size > 0 ? scope.items.filter(({ id }) => ids.has(id)) : scope.items;
  });
  const from = $derived((fromId && library.find(fromId)) ?? items[0] ?? null);
  /** What the one says that the others may say as well. */
  const offered = $derived(
    how === 'copy' && from
      ? (Object.keys(fieldsOf(from)) as FieldName[]).filter((name) => fieldsOf(from)[name] !== null)
      : TEXT_FIELDS,
  );
  const rewrite = $derived.by((): RewriteRule | null => {
    const chosen = offered.filter((name) => fields.has(name));
    switch (how) {
      case 'case':
        return { type: 'case', fields: chosen, as };
      case 'replace':
        return { type: 'replace', fields: chosen, find, by, mindsCase, wholeWords };
      case 'number':
        return { type: 'number', field: numbered, first: Math.max(0, Math.floor(first || 0)), totals };
      case 'preset':
        return preset && { type: 'preset', preset };
      case 'copy':
        return from ? { type: 'copy', fields: chosen, from } : null;
    }
  });
  $effect(() => {
    if (rewrite) return inSlices(rewriteSteps(items, rewrite), (made) => (all = made));
    all = [];
  });
  const changes = $derived(all.filter((one) => one.wrong !== null || isChanged(one)));
  const rows = $derived(changes.map((one) => ({ key: one.item.id, ...one })));
  const ready = $derived(rows.filter((row) => !out.has(row.key) && isChanged(row)));

  function toggleField(name: FieldName) {
    const next = new Set(fields);
    if (!next.delete(name)) next.add(name);
    if (how === 'copy') copied = next;
    else worded = next;
  }

  function toggleRow(id: ItemId) {
    const next = new Set(out);
    if (!next.delete(id)) next.add(id);
    out = next;
  }

  function take() {
    const becoming = new Map(ready.map((row) => [row.key, row]));
    const name = how === 'preset' ? (preset?.name ?? '') : (HOW.find((one) => one.how === how)?.name ?? '');
    library.act(`${name}, ${becoming.size}`, library.findAll(becoming.keys()), (item) => {
      const row = becoming.get(item.id);
      return row ? changed({ ...row, item }) : item;
    });
    session.work.say(`${name}: ${counted(becoming.size, 'item')} changed`);
    out = new Set();
  }

  const becomes = (row: Rewritten) => [
    ...(Object.keys(row.edits) as FieldName[]).map((name) => ({
      label: requireField(name).label,
      before: drawn(fieldText(fieldsOf(row.item)[name])) || 'empty',
      after: drawn(fieldText(row.edits[name] ?? null)) || 'empty',
    })),
    ...(row.picture ? [{ label: 'picture', before: 'its own, or none', after: 'that of the preset' }] : []),
  ];
</script>

<Panel title="Change many" fits>
  {#snippet tools()}
    <span class="quiet"
      >{counted(items.length, 'item')}
      {selection.ids.size > 0 ? 'selected' : 'in scope'}; nothing changes until you confirm</span
    >
    <span class="end">
      <button class="btn btn-primary" disabled={ready.length === 0 || !library.mayWrite} onclick={take}
        >Change {counted(ready.length, 'item')}</button
      >
      <button class="btn" onclick={onclose}>Back to the items</button>
    </span>
  {/snippet}
  <div class="how" role="group" aria-label="Action">
    {#each HOW as { how: one, name } (one)}
      <button aria-pressed={how === one} onclick={() => (how = one)}>{name}</button>
    {/each}
  </div>
  <div class="rule">
    {#if how === 'case'}
      <fieldset>
        <legend>letters</legend>
        {#each LETTER_CASES as one (one)}
          <label><input type="radio" name="{uid}-as" value={one} bind:group={as} /> {CASE_WORDS[one]}</label>
        {/each}
      </fieldset>
    {:else if how === 'replace'}
      <div class="words">
        <label>find <input type="text" class="path" bind:value={find} /></label>
        <label>replace with <input type="text" class="path" bind:value={by} /></label>
        <label><input type="checkbox" bind:checked={mindsCase} /> match case</label>
        <label><input type="checkbox" bind:checked={wholeWords} /> whole words only</label>
      </div>
    {:else if how === 'number'}
      <div class="words">
        <label
          >number the
          <select bind:value={numbered}>
            {#each NUMBERED as name (name)}<option value={name}>{requireField(name).label}</option>{/each}
          </select></label
        >
        <label>from <input type="number" min="0" max="9999" bind:value={first} /></label>
        {#if numbered === 'track' || numbered === 'disc'}
          <label><input type="checkbox" bind:checked={totals} /> and how many there are</label>
        {/if}
        <span class="quiet">in the order of the ledger</span>
      </div>
    {:else if how === 'copy'}
      <div class="words">
        <label
          >copy the fields of this item
          <select value={from?.id} onchange={(event) => (fromId = event.currentTarget.value as ItemId)}>
            {#each items.slice(0, 200) as item (item.id)}<option value={item.id}>{titleOf(item)}</option
              >{/each}
          </select></label
        >
      </div>
    {/if}
    {#if how === 'preset'}
      <Presets example={items[0] ?? null} onchange={(next) => (preset = next)} />
    {:else if how !== 'number'}
      <fieldset class="fields">
        <legend>{how === 'copy' ? 'of these' : 'in these'}</legend>
        {#each offered as name (name)}
          <label
            ><input type="checkbox" checked={fields.has(name)} onchange={() => toggleField(name)} />
            {requireField(name).label}{#if how === 'copy' && from}<span class="quiet said"
                >{fieldText(fieldsOf(from)[name])}</span
              >{/if}</label
          >
        {/each}
      </fieldset>
    {/if}
  </div>
  {#if rows.length === 0}
    <p class="none quiet">Nothing would change.</p>
  {:else}
    <Ledger
      {rows}
      {cursor}
      label="Preview"
      rowHeight={46}
      isSelected={(row) => !out.has(row.key) && isChanged(row)}
      onpick={(row, picked) => {
        cursor = row.key;
        if (picked === 'toggle') toggleRow(row.key);
      }}
    >
      {#snippet row(row)}
        {@const [one, ...more] = becomes(row)}
        <div class="becomes">
          <span role="gridcell"
            ><input
              type="checkbox"
              aria-label="Change {titleOf(row.item)}"
              disabled={!isChanged(row)}
              checked={!out.has(row.key) && isChanged(row)}
              onchange={() => toggleRow(row.key)}
            /></span
          >
          <span role="gridcell" class="quiet"
            >{one?.label ?? ''}{more.length > 0 ? ` and ${more.length} more` : ''}</span
          >
          <span role="gridcell" class="two">
            {#if one}<span class="path quiet">{one.before}</span><span class="path after">{one.after}</span
              >{/if}
          </span>
          <span role="gridcell" class="two quiet">
            {#if row.wrong}<span class="wrong">{row.wrong}</span>{/if}
            {#each more.slice(0, row.wrong ? 1 : 2) as { label, after } (label)}<span>{label}: {after}</span
              >{/each}
          </span>
        </div>
      {/snippet}
    </Ledger>
  {/if}
</Panel>

<style>
  .how {
    display: flex;
    flex: none;
    gap: 16px;
    padding: 0 16px;
    border-bottom: 1px solid var(--rule);
  }
  .how button {
    padding: 4px 0;
    border-bottom: 2px solid transparent;
    color: var(--ink-2);
  }
  .how button[aria-pressed='true'] {
    border-bottom-color: var(--ink);
    color: var(--ink);
    font-weight: 600;
  }
  .rule {
    display: grid;
    flex: none;
    gap: 8px;
    max-height: 320px;
    padding: 10px 16px;
    overflow-y: auto;
    border-bottom: 1px solid var(--rule-strong);
  }
  fieldset,
  .words {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 4px 16px;
  }
  legend {
    float: left;
    margin-right: 12px;
    color: var(--ink-2);
  }
  label {
    display: flex;
    align-items: center;
    gap: 6px;
  }
  input[type='number'] {
    width: 70px;
    height: 26px;
    padding: 0 6px;
    border: 1px solid var(--rule-strong);
    background: var(--raised);
  }
  .said {
    max-width: 160px;
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .becomes {
    display: grid;
    grid-template-columns: 28px 150px minmax(0, 1.6fr) minmax(0, 1fr);
    align-items: center;
    gap: 10px;
    height: 100%;
    padding: 0 16px;
  }
  .two {
    display: grid;
  }
  .two > * {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .after {
    text-decoration: underline;
    text-decoration-color: var(--primary);
    text-underline-offset: 3px;
  }
  .wrong {
    color: var(--blocks-ink);
  }
  .none {
    padding: 24px 16px;
  }
</style>
