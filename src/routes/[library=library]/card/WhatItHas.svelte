<script lang="ts">
  import ArrowUp from '@lucide/svelte/icons/arrow-up';
  import { KINDS, KIND_FACTS, type Kind } from '$lib/core/kinds';
  import { FIRST_OF_KIND, type FirstOfKind } from '$lib/core/plan';
  import { parseQuery, type QueryProblem } from '$lib/core/query';
  import { findPlace } from '$lib/core/rulebooks';
  import type { PlayerDesk } from '$lib/state/player/desk.svelte';
  import { getSession } from '$lib/state/session.svelte';
  import { counted } from '$lib/ui/words/amounts';
  import { queryProblemWords } from '$lib/ui/words/query-words';

  /** Which items a player is to have, and which come first where room runs out. */
  let { desk }: { desk: PlayerDesk } = $props();
  const session = getSession();

  const selection = $derived(desk.player.selection);
  let problem = $state.raw<QueryProblem | null>(null);
  const locked = $derived(desk.runs.isRunning || !session.library.mayWrite);
  const taken = $derived(KINDS.filter((kind) => findPlace(desk.rulebook, kind) !== null));
  const chosen = $derived(selection.kinds?.filter((kind) => taken.includes(kind)) ?? taken);
  /** Those that were put in an order first, then the others as they are. */
  const ordered = $derived([
    ...selection.order.filter((kind) => chosen.includes(kind)),
    ...chosen.filter((kind) => !selection.order.includes(kind)),
  ]);
  const scope = $derived(session.scope.scope.text.trim());

  function toggle(kind: Kind) {
    const next = taken.filter((one) => (one === kind ? !chosen.includes(kind) : chosen.includes(one)));
    desk.decisions.select({ ...selection, kinds: next.length === taken.length ? null : next });
  }

  function narrow(text: string) {
    const parsed = parseQuery(text);
    problem = parsed.type === 'wrong' ? parsed.problem : null;
    if (!problem) desk.decisions.select({ ...selection, text });
  }

  const FIRST_WORDS: Readonly<Record<FirstOfKind, string>> = {
    rated: 'highest rating first',
    latest: 'latest first',
    smallest: 'smallest first, so that more fit',
  };

  function first(value: string) {
    const { first: _, ...rest } = selection;
    const chosen = FIRST_OF_KIND.find((one) => one === value);
    desk.decisions.select(chosen ? { ...rest, first: chosen } : rest);
  }

  function raise(kind: Kind) {
    const at = ordered.indexOf(kind);
    const order = ordered.filter((one) => one !== kind);
    order.splice(at - 1, 0, kind);
    desk.decisions.select({ ...selection, order });
  }
</script>

<section>
  <h3>What should it hold?</h3>
  {#if selection.only}
    <p>
      Only the {counted(selection.with.length, 'item')} chosen for this conversion.
    </p>
  {:else}
    <fieldset disabled={locked}>
      <legend class="sr-only">Kinds for {desk.name}</legend>
      {#each taken as kind (kind)}
        <label
          ><input type="checkbox" checked={chosen.includes(kind)} onchange={() => toggle(kind)} />
          {KIND_FACTS[kind].many}</label
        >
      {/each}
    </fieldset>
    <label class="field"
      >only items that match
      <input
        class="input"
        value={selection.text}
        placeholder="all of them"
        disabled={locked}
        onchange={(event) => narrow(event.currentTarget.value.trim())}
      /></label
    >
    {#if problem}<p role="alert" class="wrong">{queryProblemWords(problem)}</p>{/if}
    {#if scope !== '' && scope !== selection.text}
      <button
        class="act"
        disabled={locked}
        onclick={() => desk.decisions.select({ ...selection, text: scope })}>Use the scope: {scope}</button
      >
    {/if}
    {#if selection.with.length > 0}
      <p>
        And {counted(selection.with.length, 'single item')}.
        <button
          class="act"
          disabled={locked}
          onclick={() => desk.decisions.select({ ...selection, with: [] })}>Remove them</button
        >
      </p>
    {/if}
  {/if}
  {#if ordered.length > 0}
    <details>
      <summary>Priority when space runs out</summary>
      <ol>
        {#each ordered as kind, index (kind)}
          <li>
            {KIND_FACTS[kind].many}
            {#if index > 0}<button
                disabled={locked}
                aria-label="Move {KIND_FACTS[kind].many} up"
                onclick={() => raise(kind)}><ArrowUp size={14} /></button
              >{/if}
          </li>
        {/each}
      </ol>
      <label class="field"
        >within a kind
        <select
          class="select"
          disabled={locked}
          value={selection.first ?? ''}
          onchange={(event) => first(event.currentTarget.value)}
        >
          <option value="">in order of arrival</option>
          {#each FIRST_OF_KIND as one (one)}<option value={one}>{FIRST_WORDS[one]}</option>{/each}
        </select></label
      >
      <p class="quiet">Files that are already there stay; new ones are added from the top of this order.</p>
    </details>
  {/if}
</section>

<style>
  fieldset {
    display: flex;
    flex-wrap: wrap;
    gap: 2px 12px;
  }
  label {
    display: flex;
    align-items: center;
    gap: 5px;
  }
  .field {
    gap: 8px;
    margin-top: 4px;
    color: var(--ink-2);
    white-space: nowrap;
  }
  .field .input {
    flex: 1;
    min-width: 0;
    height: 26px;
  }
  .wrong {
    color: var(--blocks-ink);
  }
  summary {
    margin-top: 4px;
    cursor: pointer;
  }
  ol {
    padding-left: 20px;
    list-style: decimal;
  }
  li button {
    padding: 2px;
    vertical-align: -3px;
  }
</style>
