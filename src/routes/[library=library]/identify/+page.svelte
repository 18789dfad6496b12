<script lang="ts">
  import { onMount } from 'svelte';
  import { getSession } from '$lib/state/session.svelte';
  import SetLedger from './SetLedger.svelte';
  import SetView from './SetView.svelte';

  const session = getSession();
  const { library, identify } = session;

  onMount(() => identify.proposals.begin());
</script>

<svelte:head><title>Identify · Lectorum</title></svelte:head>

{#if library.items.length === 0}
  <section class="empty">
    <h1>What are they?</h1>
    <p>
      Loose files are grouped into likely releases and compared with a reference, entry by entry. You see
      every change of order, and nothing changes until you accept a line-up.
    </p>
    <p class="quiet">Take some files in first, at Intake or with the demo.</p>
  </section>
{:else if identify.sets.gathering}
  <SetView />
{:else}
  <SetLedger />
{/if}

<style>
  .empty {
    padding: 64px 48px;
    max-width: 640px;
    display: grid;
    gap: 16px;
    font-size: var(--t-sub);
  }
  h1 {
    font-size: var(--t-title);
  }
</style>
