<script lang="ts">
  import { inSlices } from '$lib/state/in-slices';
  import { originalsOf, type WritingPlan } from '$lib/state/originals-desk.svelte';
  import type { PlayerDesk } from '$lib/state/player/desk.svelte';
  import { getSession } from '$lib/state/session.svelte';
  import { counted } from '$lib/ui/words/amounts';

  /** A step of the run sheet that is done only when it is ticked: writing into the originals first. Asked anew for every run. */
  let {
    desk,
    first = $bindable(),
  }: {
    desk: PlayerDesk;
    /** What will be written into originals before the run; null where they are left alone. */
    first: readonly WritingPlan[] | null;
  } = $props();
  const session = getSession();
  const { library } = session;
  const originals = originalsOf(session);

  let wanted = $state(false);
  let ready = $state.raw<readonly WritingPlan[]>([]);
  let cannot = $state(0);
  $effect(() => {
    if (!wanted) return;
    const { onlyListed, lists = [] } = desk.player.selection;
    const listed = session.lists.itemsOf(onlyListed ? lists : []);
    return inSlices(originals.goingSteps(desk, library.items, listed), (plans) => {
      const writing = plans.filter((plan): plan is WritingPlan => plan.type === 'writes');
      ready = writing;
      cannot = plans.length - writing.length;
    });
  });
  $effect(() => {
    first = wanted ? ready : null;
  });
  const waits = $derived(wanted && originals.unfinished !== null);
</script>

<tr>
  <th scope="row">
    <label
      ><input
        type="checkbox"
        bind:checked={wanted}
        disabled={desk.runs.isRunning || originals.busy || !library.mayWrite}
      />
      Write into the originals first</label
    >
  </th>
  <td class="quiet">{wanted ? '' : 'not in this run'}</td>
  <td>{wanted ? ready.length.toLocaleString('en') : ''}</td>
</tr>
{#if wanted}
  <tr>
    <td colspan="3" class="means quiet">
      Tags and pictures of {ready.length === 1 ? 'it' : 'these'} are changed; what stood there is kept, under Originals
      in Describe, until you take it as good.{#if cannot > 0}
        {counted(cannot, 'original')} cannot be written and {cannot === 1
          ? 'stays as it is'
          : 'stay as they are'}.{/if}
      {#if waits}<span class="odd"
          >An earlier run into originals was interrupted: open Originals in Describe first.</span
        >{/if}
    </td>
  </tr>
{/if}

<style>
  th {
    text-align: left;
    font-weight: 400;
    padding: 1px 0 1px 14px;
    border-left: 2px solid var(--primary);
  }
  td:last-child {
    text-align: right;
    font-weight: 600;
  }
  td.means {
    padding: 0 0 4px 14px;
    text-align: left;
    font-weight: 400;
    font-size: var(--t-small);
  }
  label {
    display: flex;
    align-items: center;
    gap: 6px;
  }
  .odd {
    color: var(--attention-ink);
  }
</style>
