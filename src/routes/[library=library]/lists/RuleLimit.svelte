<script lang="ts">
  import type { ListLimit } from '$lib/core/lists';

  /** How much a rule list may come to: items, minutes, megabytes, or what is free on a player. */
  let {
    limit,
    players,
    disabled,
    onchange,
  }: {
    limit: ListLimit | null;
    players: readonly { readonly id: string; readonly name: string }[];
    disabled: boolean;
    onchange: (limit: ListLimit | null) => void;
  } = $props();

  type Amount = Exclude<ListLimit, { readonly by: 'free' }>;
  const UNITS = { items: 1, seconds: 60, bytes: 1e6 } as const;
  const UNIT_NAMES = { items: 'items', seconds: 'minutes', bytes: 'MB' } as const;
  const STARTS = { items: 50, seconds: 7200, bytes: 1e9 } as const;
  const FREE = 'free on ';

  const amount = $derived(limit && limit.by !== 'free' ? limit : null);
  const chosen = $derived(limit?.by === 'free' ? `${FREE}${limit.player}` : (limit?.by ?? 'none'));

  function limitBy(by: string) {
    if (by === 'none') onchange(null);
    else if (by.startsWith(FREE)) onchange({ by: 'free', player: by.slice(FREE.length) });
    else {
      const own = by as Amount['by'];
      onchange({ by: own, most: STARTS[own] });
    }
  }

  function limitTo(text: string) {
    const most = Number(text);
    if (amount && Number.isFinite(most) && most > 0)
      onchange({ by: amount.by, most: Math.round(most * UNITS[amount.by]) });
  }
</script>

<label
  >at most {#if limit?.by !== 'free'}<input
      class="input amount"
      type="number"
      min="1"
      aria-label="At most"
      disabled={!amount || disabled}
      value={amount ? Math.round((amount.most / UNITS[amount.by]) * 10) / 10 : ''}
      onchange={(event) => limitTo(event.currentTarget.value)}
    />{/if}
  <select
    class="select"
    class:free={limit?.by === 'free'}
    aria-label="Limited by"
    {disabled}
    value={chosen}
    onchange={(event) => limitBy(event.currentTarget.value)}
  >
    <option value="none">no limit</option>
    {#each Object.entries(UNIT_NAMES) as [by, name] (by)}<option value={by}>{name}</option>{/each}
    {#each players as { id, name } (id)}<option value="{FREE}{id}">what is free on {name}</option>{/each}
  </select></label
>

<style>
  label {
    display: flex;
    align-items: center;
    gap: 6px;
    white-space: nowrap;
  }
  .select {
    width: 104px;
    height: 28px;
    font-size: inherit;
  }
  .free {
    width: 190px;
  }
  .amount {
    width: 72px;
    height: 28px;
    font-size: inherit;
  }
</style>
