<script lang="ts">
  import { inSlices } from '$lib/state/in-slices';
  import { originalsOf, type WritingPlan } from '$lib/state/originals-desk.svelte';
  import type { PlayerDesk } from '$lib/state/player-desk.svelte';
  import { getSession } from '$lib/state/session.svelte';
  import { counted } from '$lib/ui/words/amounts';

  /** Where the edits of a run go: into the copies alone, or into the originals first. Asked anew for every run. */
  let {
    desk,
    first = $bindable(),
  }: {
    desk: PlayerDesk;
    /** What is written into originals before the run; null where they are left alone. */
    first: readonly WritingPlan[] | null;
  } = $props();
  const session = getSession();
  const { library } = session;
  const uid = $props.id();
  const originals = originalsOf(session);

  let wanted = $state(false);
  let ready = $state.raw<readonly WritingPlan[]>([]);
  let cannot = $state(0);
  $effect(() => {
    if (!wanted) return;
    return inSlices(originals.goingSteps(desk, library.items), (plans) => {
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

<section>
  <h3>Does it touch the originals?</h3>
  <fieldset disabled={desk.running || originals.busy || !library.mayWrite}>
    <legend class="sr-only">Where the edits go</legend>
    <label
      ><input type="radio" name="{uid}-into" checked={!wanted} onchange={() => (wanted = false)} /> No: the copies
      only</label
    >
    <label
      ><input type="radio" name="{uid}-into" checked={wanted} onchange={() => (wanted = true)} /> This time, too</label
    >
  </fieldset>
  {#if wanted}
    <p class="quiet">
      {counted(ready.length, 'original')} of what goes there {ready.length === 1 ? 'says' : 'say'} otherwise: tags
      and pictures are written into {ready.length === 1 ? 'it' : 'them'} first. What stood there is kept, under
      Originals in Describe, until you take it as good.{#if cannot > 0}
        {counted(cannot, 'original')} cannot be written and {cannot === 1
          ? 'stays as it is'
          : 'stay as they are'}.{/if}
    </p>
    {#if waits}<p class="odd">
        An earlier run into originals broke off: see Originals in Describe first.
      </p>{/if}
  {:else}<p class="quiet">Tags and pictures are written into what the player gets.</p>{/if}
</section>

<style>
  fieldset {
    display: flex;
    gap: 16px;
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
