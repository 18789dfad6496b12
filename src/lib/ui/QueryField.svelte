<script lang="ts">
  import type { Snippet } from 'svelte';
  import { completionsFor, type Completion, type QueryName, type QueryProblem } from '$lib/core/query';
  import { queryProblemWords } from './words/query-words';

  /** A field for a query: what may come next is offered while it is typed, and its problem is told below it. */
  let {
    label,
    placeholder,
    text,
    problem,
    disabled = false,
    worldNames,
    valuesOf,
    onwrite,
    oncommit = () => {},
    meanwhile = '.',
    icon,
    below,
  }: {
    label: string;
    placeholder: string;
    text: string;
    problem: QueryProblem | null;
    disabled?: boolean;
    /** Names of lists and players, which may follow `in list` and `on`. */
    worldNames: { readonly lists: readonly string[] | null; readonly players: readonly string[] };
    /** Values that the library has of a name, with how many items have each. */
    valuesOf: (name: QueryName, typed: string) => readonly (readonly [value: string, count: number])[];
    /** At every letter. */
    onwrite: (text: string) => void;
    /** By Enter, and when the field is left. */
    oncommit?: () => void;
    /** What holds while a problem stands, behind its words. */
    meanwhile?: string;
    icon?: Snippet;
    /** What else is told below the field. */
    below?: Snippet<[write: (text: string) => void]>;
  } = $props();

  const MOST = 8;
  let input = $state<HTMLInputElement>();
  let caret = $state(0);
  let isOpen = $state(false);
  let at = $state(-1);
  const uid = $props.id();

  const offered = $derived.by((): readonly Completion[] =>
    isOpen ? completionsFor(text.slice(0, caret), valuesOf, { most: MOST, ...worldNames }) : [],
  );
  /** A problem is told once the caret has left the place: until then it is what is being written. */
  const told = $derived(
    problem !== null && (!isOpen || problem.column + problem.text.length < caret) ? problem : null,
  );

  function follow() {
    caret = input?.selectionStart ?? text.length;
    at = -1;
  }

  function write(value: string) {
    isOpen = true;
    onwrite(value);
    follow();
  }

  function take({ text: next, from }: Completion) {
    const rest = text.slice(caret);
    const value = text.slice(0, from) + next + rest.trimStart();
    onwrite(value);
    if (!input) return;
    // The field shows it only behind this turn; the caret goes where writing goes on.
    input.value = value;
    input.setSelectionRange(from + next.length, from + next.length);
    input.focus();
    follow();
  }

  function onkeydown(event: KeyboardEvent) {
    const count = offered.length;
    if (event.key === 'Escape' && isOpen && count > 0) {
      // The field itself would be emptied by it.
      event.preventDefault();
      isOpen = false;
    } else if ((event.key === 'ArrowDown' || event.key === 'ArrowUp') && count > 0) {
      event.preventDefault();
      const by = event.key === 'ArrowDown' ? 1 : -1;
      at = at < 0 && by < 0 ? count - 1 : (at + by + count) % count;
    } else if ((event.key === 'Enter' || event.key === 'Tab') && at >= 0) {
      const chosen = offered[at];
      if (!chosen) return;
      event.preventDefault();
      take(chosen);
    } else if (event.key === 'Enter') {
      isOpen = false;
      oncommit();
    }
  }
</script>

<div class="query">
  <label class="filter" class:wrong={told}>
    {@render icon?.()}
    <input
      bind:this={input}
      type="search"
      role="combobox"
      {placeholder}
      {disabled}
      aria-label={label}
      aria-autocomplete="list"
      aria-expanded={offered.length > 0}
      aria-controls="{uid}-offered"
      aria-activedescendant={at >= 0 ? `${uid}-${at}` : undefined}
      aria-invalid={told !== null}
      aria-describedby={told ? `${uid}-problem` : undefined}
      autocomplete="off"
      spellcheck="false"
      value={text}
      oninput={(event) => write(event.currentTarget.value)}
      onclick={follow}
      onkeyup={(event) => event.key.startsWith('Arrow') && !offered.length && follow()}
      onfocus={follow}
      onblur={() => {
        isOpen = false;
        oncommit();
      }}
      {onkeydown}
    />
  </label>
  {#if told || below || offered.length > 0}
    <div class="below">
      {#if told}
        <p id="{uid}-problem" role="alert">
          <span class="path">{text.slice(Math.max(0, told.column - 24), told.column)}</span><b class="path"
            >{text.slice(told.column).split(' ')[0] || '…'}</b
          ><br />{queryProblemWords(told)}{meanwhile}
        </p>
      {/if}
      {@render below?.(write)}
      {#if offered.length > 0}
        <ul id="{uid}-offered" role="listbox" aria-label="Suggestions">
          {#each offered as one, index (one.text)}
            <!-- A list box is worked by keyboard from its field. -->
            <!-- svelte-ignore a11y_click_events_have_key_events -->
            <li
              id="{uid}-{index}"
              role="option"
              aria-selected={index === at}
              onmousedown={(event) => event.preventDefault()}
              onclick={() => take(one)}
            >
              <span class="text">{one.text.trim()}</span><span class="quiet">{one.means}</span>
            </li>
          {/each}
        </ul>
      {/if}
    </div>
  {/if}
</div>

<style>
  .query {
    position: relative;
    min-width: 120px;
  }
  .filter {
    display: flex;
    align-items: center;
    gap: 6px;
    height: 27px;
    padding: 0 8px;
    border: 1px solid var(--rule-strong);
    background: var(--raised);
  }
  .filter:focus-within {
    outline: 2px solid var(--primary);
  }
  .filter.wrong {
    border-color: var(--blocks);
  }
  .filter input {
    width: 100%;
    outline: none;
    background: none;
    color: var(--ink);
  }
  .filter input::placeholder {
    color: var(--ink-2);
  }
  .below {
    position: absolute;
    z-index: 20;
    top: 100%;
    right: 0;
    min-width: 100%;
    max-width: 420px;
    background: var(--raised);
  }
  .below:has(*) {
    border: 1px solid var(--rule-strong);
    border-top: none;
  }
  .below :global(p) {
    padding: 6px 10px;
    font-size: var(--t-small);
    border-bottom: 1px solid var(--rule);
  }
  .below b {
    color: var(--blocks-ink);
    border-bottom: 2px solid var(--blocks);
  }
  li {
    display: flex;
    justify-content: space-between;
    gap: 16px;
    padding: 3px 10px;
    white-space: nowrap;
    cursor: pointer;
  }
  li .text {
    overflow: hidden;
    text-overflow: ellipsis;
  }
  li[aria-selected='true'],
  li:hover {
    background: var(--select);
  }
</style>
