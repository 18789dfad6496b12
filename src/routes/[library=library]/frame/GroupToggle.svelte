<script lang="ts">
  import ChevronDown from '@lucide/svelte/icons/chevron-down';
  import ChevronRight from '@lucide/svelte/icons/chevron-right';
  import type { GroupRow } from '$lib/core/browse';
  import { getSession } from '$lib/state/session.svelte';

  /** Opens a group of a ledger, or closes it. */
  let { row }: { row: GroupRow } = $props();
  const { scope } = getSession();
</script>

<button
  aria-expanded={!row.closed}
  aria-label={row.closed ? `Open ${row.label}` : `Close ${row.label}`}
  onclick={() => scope.toggle(row)}
>
  {#if row.closed}<ChevronRight size={15} />{:else}<ChevronDown size={15} />{/if}
</button>
