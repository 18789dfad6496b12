<script lang="ts">
  import Filter from '@lucide/svelte/icons/list-filter';
  import { ASKING } from '$lib/core/browse';
  import { completionsFor, nearestQuerySteps, queryOf, wordsAsText, type Completion } from '$lib/core/query';
  import { inSlices } from '$lib/state/in-slices';
  import { getSession } from '$lib/state/session.svelte';
  import { queryProblemWords } from '$lib/ui/words/query-words';

  /** Narrows to items by a query; what may come next is offered while it is typed. */
  const session = getSession();
  const { scope } = session;

  const MOST = 8;
  let input = $state<HTMLInputElement>();
  let caret = $state(0);
  let isOpen = $state(false);
  let at = $state(-1);

  const text = $derived(scope.scope.text);
  const { problem } = $derived(scope);
  const offered = $derived.by((): readonly Completion[] => {
    if (!isOpen) return [];
    const values = session.values;
    return completionsFor(text.slice(0, caret), (name, typed) => values.like(name, typed, MOST), MOST);
  });
  /** A problem is told once the caret has left the place: until then it is what is being written. */
  const told = $derived(
    problem !== null && (!isOpen || problem.column + problem.text.length < caret) ? problem : null,
  );

  /** Nothing meets it: how it was read, and what is near to it and meets something. */
  const nothing = $derived.by(() => {
    const isEmpty = text.trim() !== '' && problem === null && !scope.building && scope.items.length === 0;
    if (!isEmpty || session.library.items.length === 0) return null;
    const words = wordsAsText(queryOf(text));
    return { words };
  });
  /** Looked for once the typing rests: of a large library all items are gone through several times. */
  let nearest = $state<string | null>(null);
  const PAUSE = 300;
  $effect(() => {
    nearest = null;
    if (!nothing) return;
    const own = text;
    let stop = () => {};
    const timer = setTimeout(() => {
      const steps = nearestQuerySteps(own, session.library.items, ASKING);
      stop = inSlices(steps, (found) => (nearest = found));
    }, PAUSE);
    return () => {
      clearTimeout(timer);
      stop();
    };
  });

  function follow() {
    caret = input?.selectionStart ?? text.length;
    at = -1;
  }

  function narrow(value: string) {
    isOpen = true;
    session.narrow({ ...scope.scope, text: value });
    follow();
  }

  function take({ text: next, from }: Completion) {
    const rest = text.slice(caret);
    const value = text.slice(0, from) + next + rest.trimStart();
    session.narrow({ ...scope.scope, text: value });
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
    }
  }
</script>

<div class="narrow">
  <label class="filter" class:wrong={told}>
    <Filter size={15} aria-hidden="true" />
    <input
      bind:this={input}
      type="search"
      role="combobox"
      placeholder="Narrow by any field"
      aria-label="Narrow by any field"
      aria-autocomplete="list"
      aria-expanded={offered.length > 0}
      aria-controls="narrow-offered"
      aria-activedescendant={at >= 0 ? `narrow-${at}` : undefined}
      aria-invalid={told !== null}
      aria-describedby={told ? 'narrow-problem' : undefined}
      autocomplete="off"
      spellcheck="false"
      value={text}
      oninput={(event) => narrow(event.currentTarget.value)}
      onclick={follow}
      onkeyup={(event) => event.key.startsWith('Arrow') && !offered.length && follow()}
      onfocus={follow}
      onblur={() => (isOpen = false)}
      {onkeydown}
    />
  </label>
  {#if told || nothing || offered.length > 0}
    <div class="below">
      {#if told}
        <p id="narrow-problem" role="alert">
          <span class="path">{text.slice(Math.max(0, told.column - 24), told.column)}</span><b class="path"
            >{text.slice(told.column).split(' ')[0] || '…'}</b
          ><br />{queryProblemWords(told)}; what stands before it holds.
        </p>
      {/if}
      {#if nothing}
        <p role="status">
          Nothing meets this{nothing.words.length > 0
            ? `: searched as text, “${nothing.words.join('” and “')}”`
            : ''}.
          {#if nearest}
            <button
              class="act"
              onmousedown={(event) => event.preventDefault()}
              onclick={() => narrow(nearest ?? '')}>Search {nearest}</button
            >
          {/if}
        </p>
      {/if}
      {#if offered.length > 0}
        <ul id="narrow-offered" role="listbox" aria-label="What may come next">
          {#each offered as one, index (one.text)}
            <!-- A list box is worked by keyboard from its field. -->
            <!-- svelte-ignore a11y_click_events_have_key_events -->
            <li
              id="narrow-{index}"
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
  .narrow {
    position: relative;
    flex: 0 1 300px;
    min-width: 120px;
    margin-left: auto;
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
    border: 1px solid var(--rule-strong);
    border-top: none;
    background: var(--raised);
  }
  .below p {
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
