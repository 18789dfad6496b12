<script lang="ts">
  import { NO_ORDER, type ListLimit, type ListOrderKey, type RuleList } from '$lib/core/lists';
  import { countSteps } from '$lib/core/browse';
  import { parseQuery } from '$lib/core/query';
  import { inSlices } from '$lib/state/in-slices';
  import { getSession } from '$lib/state/session.svelte';
  import QueryField from '$lib/ui/QueryField.svelte';
  import { counted } from '$lib/ui/words/amounts';
  import { ORDER_KEYS, orderWords } from '$lib/ui/words/list-words';

  /** What a rule list asks for, its order and its limit. */
  let { rule }: { rule: RuleList } = $props();
  const session = getSession();
  const { lists, library, values } = session;

  /** As it is typed; kept by Enter, or when the field is left. */
  let draft = $derived(rule.query);
  const parsed = $derived(parseQuery(draft, lists.world));
  /** How many items meet what is being typed; null until they are counted. */
  let meeting = $state<number | null>(null);
  $effect(() => {
    meeting = null;
    if (draft === rule.query || parsed.type === 'wrong') return;
    const scope = { kind: null, text: draft };
    return inSlices(countSteps(library.items, scope, lists.world), (count) => (meeting = count));
  });
  const keep = (part: Partial<RuleList>, label: string) =>
    lists.keep({ ...rule, ...part }, `${label} of ${rule.name}`);

  const lead = $derived(rule.order.type === 'shuffled' ? 'shuffled' : (rule.order.terms[0]?.by ?? 'own'));
  const isDown = $derived(rule.order.type === 'terms' && rule.order.terms[0]?.down === true);

  function order(by: string, down: boolean) {
    if (by === 'shuffled')
      keep({ order: { type: 'shuffled', seed: Math.floor(Math.random() * 2 ** 31) } }, 'Order');
    else if (by === 'own') keep({ order: NO_ORDER }, 'Order');
    else keep({ order: { type: 'terms', terms: [{ by: by as ListOrderKey, down }] } }, 'Order');
  }

  const UNITS = { items: 1, seconds: 60, bytes: 1e6 } as const;
  const UNIT_NAMES = { items: 'items', seconds: 'minutes', bytes: 'MB' } as const;
  const STARTS = { items: 50, seconds: 7200, bytes: 1e9 } as const;

  function limitBy(by: string) {
    if (by === 'none') keep({ limit: null }, 'Limit');
    else {
      const own = by as ListLimit['by'];
      keep({ limit: { by: own, most: STARTS[own] } }, 'Limit');
    }
  }

  function limitTo(text: string) {
    const amount = Number(text);
    if (rule.limit && Number.isFinite(amount) && amount > 0)
      keep({ limit: { by: rule.limit.by, most: Math.round(amount * UNITS[rule.limit.by]) } }, 'Limit');
  }
</script>

<div class="rule">
  <div class="query">
    <QueryField
      label="Rule"
      placeholder="every item, or: genre is folk and added in the last 2 months"
      text={draft}
      disabled={!library.mayWrite}
      problem={parsed.type === 'wrong' && draft !== rule.query ? parsed.problem : null}
      worldNames={lists.world}
      valuesOf={(name, typed) => values.like(name, typed, 8)}
      onwrite={(query) => (draft = query)}
      oncommit={() => draft !== rule.query && keep({ query: draft }, 'Rule')}
    />
    {#if meeting !== null}<p class="count" role="status">
        {counted(meeting, 'item')} would meet this. Enter keeps the rule.
      </p>{/if}
  </div>
  <label
    >sorted by <select
      class="select"
      aria-label="Sorted by"
      disabled={!library.mayWrite}
      value={lead}
      onchange={(event) => order(event.currentTarget.value, isDown)}
    >
      <option value="own">disc and track</option>
      {#each ORDER_KEYS as by (by)}<option value={by}>{orderWords(by)}</option>{/each}
      <option value="shuffled">shuffled</option>
    </select></label
  >
  {#if rule.order.type === 'shuffled'}
    <button class="btn" disabled={!library.mayWrite} onclick={() => order('shuffled', false)}
      >Shuffle again</button
    >
  {:else if lead !== 'own'}
    <button
      class="btn"
      disabled={!library.mayWrite}
      aria-label="Direction"
      onclick={() => order(lead, !isDown)}>{isDown ? 'descending' : 'ascending'}</button
    >
  {/if}
  <label
    >at most <input
      class="input amount"
      type="number"
      min="1"
      aria-label="At most"
      disabled={!rule.limit || !library.mayWrite}
      value={rule.limit ? Math.round((rule.limit.most / UNITS[rule.limit.by]) * 10) / 10 : ''}
      onchange={(event) => limitTo(event.currentTarget.value)}
    />
    <select
      class="select unit"
      aria-label="Limited by"
      disabled={!library.mayWrite}
      value={rule.limit?.by ?? 'none'}
      onchange={(event) => limitBy(event.currentTarget.value)}
    >
      <option value="none">no limit</option>
      {#each Object.entries(UNIT_NAMES) as [by, name] (by)}<option value={by}>{name}</option>{/each}
    </select></label
  >
</div>

<style>
  .rule {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 8px 12px;
    flex: none;
    padding: 0 16px 8px;
    color: var(--ink-2);
  }
  .query {
    flex: 1 0 100%;
  }
  .count {
    padding-top: 4px;
    font-size: var(--t-small);
  }
  label {
    display: flex;
    align-items: center;
    gap: 6px;
    white-space: nowrap;
  }
  .select {
    width: 130px;
    height: 28px;
    font-size: inherit;
  }
  .unit {
    width: 92px;
  }
  .amount {
    width: 72px;
    height: 28px;
    font-size: inherit;
  }
</style>
