<script lang="ts">
  import ArrowLeft from '@lucide/svelte/icons/arrow-left';
  import ArrowRight from '@lucide/svelte/icons/arrow-right';
  import { pointsByCode } from '$lib/core/identify';
  import { getSession } from '$lib/state/session.svelte';
  import { counted } from '$lib/ui/words/amounts';
  import { lookUpTrouble, stateName, stateWords } from '$lib/ui/words/identify-words';
  import CandidateList from './CandidateList.svelte';
  import LineUpChart from './LineUpChart.svelte';
  import LookUpBar from './LookUpBar.svelte';
  import TakeBar from './TakeBar.svelte';
  import TrackListPanel from './TrackListPanel.svelte';

  /** One set laid against what it could be. */
  const session = getSession();
  const { identify } = session;

  /** A track list is being pasted or typed in place of the line-up. */
  let isListing = $state(false);
  const set = $derived(identify.sets.gathering);
  const lineUp = $derived(identify.pairing.lineUp);
  const release = $derived(identify.pairing.chosen[0]?.release ?? null);
  const crossing = $derived(lineUp?.pairs.filter(({ crosses }) => crosses).length ?? 0);
  const at = $derived(identify.sets.waiting.findIndex(({ key }) => key === identify.sets.openKey));
  const looked = $derived(identify.lookUps.lookUp);
  const offered = $derived.by(() => {
    const { offer } = identify.pairing;
    if (!offer?.straight) return null;
    const [best, straight] = [pointsByCode(offer.best), pointsByCode(offer.straight)];
    const says = [
      ['lengths', best.length - straight.length],
      ['names', best.title - straight.title],
      ['sound', best.sound - straight.sound],
      ['numbers', best.number - straight.number],
    ] as const;
    return {
      crossed: says.filter(([, points]) => points > 1).map(([name]) => name),
      straight: ['their own order', ...says.filter(([, points]) => points < -1).map(([name]) => name)],
    };
  });

  const list = (words: readonly string[]) =>
    words.length < 2 ? (words[0] ?? 'nothing else') : `${words.slice(0, -1).join(', ')} and ${words.at(-1)}`;

  function keys(event: KeyboardEvent) {
    if ((event.target as HTMLElement).closest('input, select, textarea, aside, [role=dialog]')) return;
    if (event.key !== 'Escape') return;
    if (isListing) isListing = false;
    else identify.sets.open(null);
  }
</script>

<svelte:window onkeydown={keys} />
{#if set && isListing}
  <TrackListPanel {set} onclose={() => (isListing = false)} />
{:else if set}
  <header class="title">
    <button class="btn" onclick={() => identify.sets.open(null)}>All sets</button>
    <h1 title={set.label}>{set.label}</h1>
    <span class="said">
      {#if set.state !== 'waits'}{stateName(set.state)}: <span class="quiet">{stateWords(set)}</span>
      {:else if lineUp && release}{counted(set.items.length, 'file')} compared with {counted(
          identify.pairing.entries.length,
          'entry',
          'entries',
        )}{#if crossing > 0}, <b>{crossing} cross</b>{/if}
      {:else}{counted(set.items.length, 'file')}{/if}
    </span>
    <span class="steps">
      {#if at >= 0}<span class="quiet">set {at + 1} of {identify.sets.waiting.length} to identify</span>{/if}
      <button class="btn" aria-label="Set before" onclick={() => identify.sets.step(-1)}
        ><ArrowLeft size={15} /></button
      >
      <button class="btn" aria-label="Next set" onclick={() => identify.sets.step(1)}
        ><ArrowRight size={15} /></button
      >
    </span>
  </header>
  {#if offered}
    <div class="offer" role="group" aria-label="Two ways to match">
      <b>The best match changes the order.</b>
      <label
        ><input
          type="radio"
          name="way"
          checked={!identify.pairing.choice.straight}
          onchange={() => identify.pairing.setStraight(false)}
        />
        crossed: {list(offered.crossed)} support it</label
      >
      <label
        ><input
          type="radio"
          name="way"
          checked={identify.pairing.choice.straight}
          onchange={() => identify.pairing.setStraight(true)}
        />
        straight: {list(offered.straight)}
        {offered.straight.length === 1 ? 'supports' : 'support'} it</label
      >
    </div>
  {/if}
  <LineUpChart />
  <TakeBar />
  <LookUpBar onlist={() => (isListing = true)} />
  {#if looked?.phase === 'failed' && looked.trouble}
    <p class="trouble" role="alert">{lookUpTrouble(looked.trouble)}</p>
  {/if}
  <CandidateList />
{/if}

<style>
  .title {
    display: flex;
    align-items: center;
    gap: 12px;
    height: 42px;
    flex: none;
    padding: 0 16px;
    white-space: nowrap;
  }
  h1 {
    font-size: var(--t-title);
    overflow: hidden;
    text-overflow: ellipsis;
  }
  .said {
    overflow: hidden;
    text-overflow: ellipsis;
    flex: 1 2 auto;
    min-width: 60px;
  }
  .steps {
    display: flex;
    align-items: center;
    gap: 8px;
    margin-left: auto;
  }
  .steps .btn {
    padding-inline: 6px;
  }
  .offer {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 4px 16px;
    padding: 6px 16px;
    flex: none;
    border-top: 1px solid var(--rule);
    border-bottom: 1px solid var(--rule);
    background: var(--attention-tint);
  }
  .offer label {
    display: flex;
    align-items: center;
    gap: 6px;
  }
  .trouble {
    flex: none;
    padding: 8px 16px;
    background: var(--blocks-tint);
    color: var(--blocks-ink);
  }
</style>
