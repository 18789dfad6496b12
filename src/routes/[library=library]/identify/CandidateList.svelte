<script lang="ts">
  import type { Candidate, ScoreReason } from '$lib/core/identify';
  import { getSession } from '$lib/state/session.svelte';
  import { reasonName, reasonWords, releaseWords } from '$lib/ui/words/identify-words';

  /** What the set could be, each with its score and what it was given for. */
  const session = getSession();
  const { identify } = session;

  const MOST_SHOWN = 30;
  const candidates = $derived((identify.lookUps.lookUp?.candidates ?? []).slice(0, MOST_SHOWN));
  const chosen = $derived(new Set(identify.pairing.chosen.map(({ key }) => key)));
  const first = $derived(identify.pairing.chosen[0]?.key ?? null);
  const CODES: readonly ScoreReason['code'][] = ['lengths', 'order', 'name', 'count'];
  /** Column heads, with the points that each reason can give. */
  const heads = $derived(candidates[0]?.reasons ?? []);

  const reasonOf = ({ reasons }: Candidate, code: ScoreReason['code']) =>
    reasons.find((reason) => reason.code === code);

  function keys(event: KeyboardEvent, index: number) {
    const step = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
    const next = candidates[index + step];
    if (step === 0 || !next) return;
    event.preventDefault();
    identify.pairing.choose(next.key);
    const rows = (event.currentTarget as HTMLElement)
      .closest('.list')
      ?.querySelectorAll<HTMLElement>('[role=radio]');
    rows?.[index + step]?.focus();
  }
</script>

<div class="head cols" aria-hidden="true">
  <span>Score</span><span>Candidates</span>
  {#each heads as { code, most } (code)}<span>{reasonName(code)} of {most}</span>{/each}
  <span></span>
</div>
<div class="list" role="radiogroup" aria-label="Candidates">
  {#each candidates as candidate, index (candidate.key)}
    {@const isFirst = candidate.key === first}
    {@const second = chosen.has(candidate.key) && !isFirst}
    <div class="row" class:chosen={chosen.has(candidate.key)}>
      <div
        class="cols"
        role="radio"
        aria-checked={isFirst}
        tabindex={isFirst || (first === null && index === 0) ? 0 : -1}
        onclick={() => identify.pairing.choose(candidate.key)}
        onkeydown={(event) => {
          if (event.key === ' ' || event.key === 'Enter') identify.pairing.choose(candidate.key);
          else keys(event, index);
        }}
      >
        <b class="score">{candidate.score}</b>
        <span class="name">
          <b>{candidate.release.title}</b>
          <small
            >{releaseWords(candidate.release, candidate.order)}
            <span class="quiet">from {candidate.release.source}</span></small
          >
        </span>
        {#each CODES as code (code)}
          {@const reason = reasonOf(candidate, code)}
          <span class="reason">
            {reason ? reasonWords(reason) : ''}
            <span class="track"
              ><i style:width="{reason ? (100 * reason.points) / reason.most : 0}%"></i></span
            >
          </span>
        {/each}
      </div>
      {#if !isFirst}
        <button
          class="act"
          aria-pressed={second}
          aria-label="{second ? 'Remove' : 'Compare some files with'} {candidate.release
            .title}, {releaseWords(candidate.release, candidate.order)}"
          title="Some of the files may belong to this release"
          onclick={() => identify.pairing.toggleSecond(candidate.key)}>{second ? 'take away' : 'also'}</button
        >
      {/if}
    </div>
  {:else}
    <p class="none quiet">
      {#if identify.lookUps.lookUp?.phase === 'asking'}Asking the reference
      {:else if identify.lookUps.lookUp?.phase === 'nobody'}No reference knows this. The files stay exactly as
        they are; other words may find it.
      {:else if !identify.lookUps.lookUp}Not looked up yet.{/if}
    </p>
  {/each}
</div>

<style>
  .cols {
    display: grid;
    grid-template-columns: 56px minmax(170px, 1.6fr) repeat(4, minmax(84px, 0.8fr)) 48px;
    align-items: center;
    gap: 0 10px;
  }
  .head {
    flex: none;
    height: 24px;
    padding: 0 16px;
    font-size: var(--t-small);
    color: var(--ink-2);
    border-top: 1px solid var(--rule);
    border-bottom: 1px solid var(--rule);
  }
  .list {
    flex: 1 1 130px;
    min-height: 96px;
    overflow-y: auto;
  }
  .row {
    position: relative;
    border-bottom: 1px solid var(--rule);
    border-left: 3px solid transparent;
  }
  .row.chosen {
    background: var(--select);
    border-left-color: var(--primary);
  }
  .row .cols {
    min-height: var(--row-two);
    padding: 0 16px 0 13px;
    cursor: pointer;
  }
  .row .act {
    position: absolute;
    right: 16px;
    top: 12px;
  }
  .score {
    font: 600 var(--t-title) var(--font-head);
  }
  .name {
    display: grid;
    min-width: 0;
  }
  .name > * {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  small,
  .reason {
    font-size: var(--t-small);
    color: var(--ink-2);
  }
  .reason {
    display: grid;
    gap: 3px;
  }
  .track {
    height: 4px;
    border: 1px solid var(--ink-3);
  }
  .track i {
    display: block;
    height: 100%;
    background: var(--ink-2);
  }
  .none {
    padding: 14px 16px;
  }
  @media (max-width: 760px) {
    .head,
    .row {
      min-width: 720px;
    }
    .list {
      overflow-x: auto;
    }
  }
</style>
