<script lang="ts">
  import Undo from '@lucide/svelte/icons/rotate-ccw';
  import type { FieldSummary } from '$lib/core/browse';
  import {
    editItem,
    editsOf,
    fieldText,
    fieldsOf,
    parseFieldText,
    putBack,
    requireField,
    type FieldName,
    type FieldValue,
    type Item,
  } from '$lib/core/items';
  import { getSession } from '$lib/state/session.svelte';

  /** One field of the selection. Only what is typed is changed; Enter takes it, Escape leaves it. */
  let { name, items, summary }: { name: FieldName; items: readonly Item[]; summary: FieldSummary } = $props();
  const session = getSession();
  const uid = $props.id();

  let typed = $state<string | null>(null);
  let wrong = $state<string | null>(null);

  const facts = $derived(requireField(name));
  const { shared, edited, unwritten } = $derived(summary);
  const standing = $derived(shared.type === 'same' ? fieldText(shared.value) : '');
  const note = $derived.by(() => {
    if (shared.type === 'same') return '';
    const empty = shared.empty > 0 ? `, ${shared.empty} empty` : '';
    return `${shared.different} differ${empty}`;
  });

  /** Values that the library has already, offered while typing: looked for once, not at every letter. */
  const isTyping = $derived(typed !== null);
  const known = $derived.by(() => {
    if (!isTyping || !(facts.type === 'text' || facts.type === 'texts') || name === 'title') return [];
    const values = new Set<string>();
    for (const item of session.library.items) {
      const text = fieldText(fieldsOf(item)[name]);
      if (text !== '') values.add(text);
      if (values.size >= 200) break;
    }
    return [...values].sort();
  });

  function take() {
    if (typed === null) return;
    if (typed === standing || (typed === '' && shared.type === 'differs')) return leave();
    const parsed = parseFieldText(name, typed);
    if (parsed.type === 'wrong') {
      wrong = parsed.reason;
      return;
    }
    set(parsed.value);
    leave();
  }

  function set(value: FieldValue) {
    session.library.edit(`${facts.label} of ${items.length}`, items, { [name]: value });
  }

  function leave() {
    typed = null;
    wrong = null;
  }

  function restore() {
    const own = items.filter((item) => name in editsOf(item));
    session.library.act(`Put back ${facts.label} of ${own.length}`, own, (item) =>
      putBack(item, { fields: [name] }),
    );
  }

  function empty() {
    session.library.act(`Empty ${facts.label} of ${items.length}`, items, (item) =>
      editItem(item, { [name]: null }),
    );
  }
</script>

<div class="field" class:edited={edited > 0}>
  <label for={uid}>{facts.label}</label>
  {#if facts.type === 'yesno'}
    <select
      id={uid}
      value={shared.type === 'same' ? (shared.value ? 'yes' : 'no') : ''}
      onchange={(event) => set(event.currentTarget.value === 'yes' ? true : null)}
    >
      {#if shared.type === 'differs'}<option value="" disabled>differs</option>{/if}
      <option value="no">no</option><option value="yes">yes</option>
    </select>
  {:else if facts.type === 'lines'}
    <textarea
      id={uid}
      rows={typed === null ? 2 : 6}
      value={typed ?? standing}
      placeholder={shared.type === 'differs' ? `${shared.different} differ` : ''}
      aria-invalid={wrong !== null}
      aria-describedby="{uid}-note"
      onfocus={() => (typed = standing)}
      oninput={(event) => {
        typed = event.currentTarget.value;
        wrong = null;
      }}
      onkeydown={(event) => {
        if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) take();
        if (event.key === 'Escape') {
          leave();
          event.currentTarget.blur();
        }
      }}
      onblur={() => {
        take();
        if (!wrong) typed = null;
      }}></textarea>
  {:else}
    <input
      id={uid}
      value={typed ?? standing}
      placeholder={shared.type === 'differs'
        ? `${fieldText(shared.usual) || 'empty'} (${shared.usualCount})`
        : ''}
      inputmode={facts.type === 'number' ? 'numeric' : undefined}
      list="{uid}-known"
      autocomplete="off"
      aria-invalid={wrong !== null}
      aria-describedby="{uid}-note"
      onfocus={() => (typed = standing)}
      oninput={(event) => {
        typed = event.currentTarget.value;
        wrong = null;
      }}
      onkeydown={(event) => {
        if (event.key === 'Enter') take();
        if (event.key === 'Escape') {
          leave();
          event.currentTarget.blur();
        }
        if (event.key === 'Delete' && event.shiftKey) empty();
      }}
      onblur={() => {
        take();
        if (!wrong) typed = null;
      }}
    />
    <datalist id="{uid}-known">
      {#each known as value (value)}<option {value}></option>{/each}
    </datalist>
  {/if}
  <span class="note">
    {note}
    {#if edited > 0}
      <button
        onclick={restore}
        aria-label="Put {facts.label} back to what the file holds"
        title="Put back to what the file holds"><Undo size={13} /></button
      >
    {/if}
  </span>
  <span id="{uid}-note" class="below" class:wrong={wrong !== null}>
    {#if wrong}{facts.label} {wrong}{:else if typed !== null && typed !== standing && items.length > 1}all {items.length}:
      Enter to set{:else if unwritten > 0}{unwritten === 1 ? 'its format' : `the format of ${unwritten}`} cannot
      be written yet: stays in Lectorum{/if}
  </span>
</div>

<style>
  .field {
    display: grid;
    grid-template-columns: 92px 1fr auto;
    align-items: center;
    column-gap: 8px;
    border-bottom: 1px solid var(--rule);
    min-height: 26px;
  }
  .field:last-child {
    border-bottom: none;
  }
  label {
    color: var(--ink-2);
  }
  .edited label {
    color: var(--primary-ink);
    font-weight: 600;
  }
  textarea {
    padding: 2px 6px;
    resize: vertical;
    line-height: 1.35;
  }
  input,
  select {
    height: 24px;
  }
  input,
  textarea,
  select {
    width: 100%;
    padding: 0 6px;
    background: none;
    border: 1px solid transparent;
    text-overflow: ellipsis;
  }
  input:hover,
  textarea:hover,
  select:hover {
    border-color: var(--rule-strong);
  }
  input:focus,
  textarea:focus {
    background: var(--raised);
    border-color: var(--ink-2);
  }
  input[aria-invalid='true'] {
    border-color: var(--blocks);
  }
  input::placeholder {
    color: var(--ink-3);
    opacity: 1;
  }
  .note {
    display: flex;
    align-items: center;
    gap: 4px;
    font-size: var(--t-small);
    color: var(--attention-ink);
  }
  .below {
    grid-column: 2 / -1;
    padding-left: 6px;
    font-size: var(--t-small);
    color: var(--ink-2);
  }
  .below:empty {
    display: none;
  }
  .wrong {
    color: var(--blocks-ink);
  }
</style>
