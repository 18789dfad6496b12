<script lang="ts">
  import X from '@lucide/svelte/icons/x';
  import { NO_ORDER, type ListOrder, type ListOrderKey, type OrderTerm } from '$lib/core/lists';
  import { ORDER_KEYS, orderWords } from '$lib/ui/words/list-words';

  /** What a rule list is put in order by: fields, the first of which leads, or a shuffle that stays. */
  let {
    order,
    disabled,
    onchange,
  }: { order: ListOrder; disabled: boolean; onchange: (order: ListOrder) => void } = $props();

  const terms = $derived(order.type === 'terms' ? order.terms : []);
  const lead = $derived(order.type === 'shuffled' ? 'shuffled' : (terms[0]?.by ?? 'own'));
  /** Terms beyond three decide between nothing any more. */
  const MOST_TERMS = 3;
  const left = $derived(ORDER_KEYS.filter((by) => !terms.some((term) => term.by === by)));

  const shuffle = () => onchange({ type: 'shuffled', seed: Math.floor(Math.random() * 2 ** 31) });
  const set = (next: readonly OrderTerm[]) => onchange({ type: 'terms', terms: next });
  const turn = (index: number) =>
    set(terms.map((term, at) => (at === index ? { ...term, down: !term.down } : term)));

  function leadBy(by: string) {
    if (by === 'shuffled') shuffle();
    else if (by === 'own') onchange(NO_ORDER);
    else {
      const own = { by: by as ListOrderKey, down: terms[0]?.down ?? false };
      set([own, ...terms.slice(1).filter((term) => term.by !== own.by)]);
    }
  }
</script>

{#snippet direction(index: number)}
  {@const term = terms[index] as OrderTerm}
  <button class="btn" {disabled} aria-label="Direction of {orderWords(term.by)}" onclick={() => turn(index)}
    >{term.down ? 'descending' : 'ascending'}</button
  >
{/snippet}

<div class="order" role="group" aria-label="Order">
  <label
    >sorted by <select
      class="select"
      aria-label="Sorted by"
      {disabled}
      value={lead}
      onchange={(event) => leadBy(event.currentTarget.value)}
    >
      <option value="own">disc and track</option>
      {#each ORDER_KEYS as by (by)}<option value={by}>{orderWords(by)}</option>{/each}
      <option value="shuffled">shuffled</option>
    </select></label
  >
  {#if order.type === 'shuffled'}
    <button class="btn" {disabled} onclick={shuffle}>Shuffle again</button>
  {:else if terms.length > 0}
    {@render direction(0)}
    {#each terms.slice(1) as term, index (term.by)}
      <span class="then"
        >then {orderWords(term.by)}
        {@render direction(index + 1)}
        <button
          class="remove"
          {disabled}
          aria-label="Do not sort by {orderWords(term.by)}"
          onclick={() => set(terms.filter((one) => one !== term))}><X size={13} /></button
        ></span
      >
    {/each}
    {#if terms.length < MOST_TERMS}
      <select
        class="select"
        aria-label="Then by"
        {disabled}
        value=""
        onchange={(event) => {
          const { currentTarget: field } = event;
          const by = left.find((one) => one === field.value);
          field.value = '';
          if (by) set([...terms, { by, down: false }]);
        }}
      >
        <option value="">then by</option>
        {#each left as by (by)}<option value={by}>{orderWords(by)}</option>{/each}
      </select>
    {/if}
  {/if}
</div>

<style>
  .order,
  label,
  .then {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 6px;
    white-space: nowrap;
  }
  .select {
    width: 118px;
    height: 28px;
    font-size: inherit;
  }
  .remove {
    display: flex;
    padding: 4px;
  }
</style>
