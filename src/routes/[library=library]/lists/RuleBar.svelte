<script lang="ts">
  import type { RuleList } from '$lib/core/lists';
  import { countSteps } from '$lib/core/browse';
  import { parseQuery } from '$lib/core/query';
  import { inSlices } from '$lib/state/in-slices';
  import { getSession } from '$lib/state/session.svelte';
  import QueryField from '$lib/ui/QueryField.svelte';
  import { counted } from '$lib/ui/words/amounts';
  import RuleLimit from './RuleLimit.svelte';
  import RuleOrder from './RuleOrder.svelte';
  import RuleParts from './RuleParts.svelte';

  /** What a rule list asks for, its order and its limit. */
  let { rule }: { rule: RuleList } = $props();
  const session = getSession();
  const { lists, library, players, values } = session;

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

  /** Whether conditions are chosen rather than written. */
  let chooses = $state(false);
</script>

<div class="rule">
  <div class="query">
    {#if chooses}
      <RuleParts
        query={rule.query}
        world={lists.world}
        disabled={!library.mayWrite}
        onchange={(query) => keep({ query }, 'Rule')}
      />
    {:else}
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
          {counted(meeting, 'item')} would match. Enter saves the rule.
        </p>{/if}
    {/if}
  </div>
  <button class="act" onclick={() => (chooses = !chooses)}
    >{chooses ? 'Write the rule' : 'Choose conditions'}</button
  >
  <RuleOrder order={rule.order} disabled={!library.mayWrite} onchange={(order) => keep({ order }, 'Order')} />
  <RuleLimit
    limit={rule.limit}
    players={players.list}
    disabled={!library.mayWrite}
    onchange={(limit) => keep({ limit }, 'Limit')}
  />
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
</style>
