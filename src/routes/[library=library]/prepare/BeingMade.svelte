<script lang="ts">
  import type { TwinJob, TwinMaking } from '$lib/state/prepare/twin-making.svelte';
  import { getSession } from '$lib/state/session.svelte';
  import Ladder from '$lib/ui/Ladder.svelte';
  import { counted } from '$lib/ui/words/amounts';
  import { convertFailure, recipeWords } from '$lib/ui/words/twin-words';

  /** Twins that wait, are being made, or could not be made. */
  let { making }: { making: TwinMaking } = $props();
  const session = getSession();

  /** Nobody was asked yet whether the system may tell of the end. */
  let mayAsk = $state(globalThis.Notification?.permission === 'default');
  async function askToTell() {
    await Notification.requestPermission();
    mayAsk = false;
  }

  const SHOWN = 6;
  const RANK = { running: 0, failed: 1, waiting: 2 } as const;
  const waiting = $derived(making.waiting.length);
  const failed = $derived(making.jobs.filter(({ state }) => state === 'failed'));
  const shown = $derived([...making.jobs].sort((a, b) => RANK[a.state] - RANK[b.state]).slice(0, SHOWN));

  function tryAgain() {
    making.add(
      failed.flatMap(({ item: id, recipe }) => {
        const item = session.library.find(id);
        return item ? [{ item, recipe }] : [];
      }),
    );
  }
  const stateOf = ({ state, seconds, heard }: TwinJob) =>
    state === 'running' ? `${seconds > 0 ? Math.min(99, Math.floor((heard / seconds) * 100)) : 0}%` : 'waits';
</script>

<section aria-label="Being made">
  <div class="head">
    <h2>Being made</h2>
    <span class="quiet">
      {#if waiting > 0}{counted(waiting, 'twin')} left{making.isPaused
          ? ', paused'
          : ', goes on when this page is hidden'}{/if}
      {#if failed.length > 0}{waiting > 0 ? '; ' : ''}{failed.length} could not be made{/if}
    </span>
    <span class="acts">
      {#if waiting > 0}
        {#if making.isPaused}<button class="act" onclick={() => making.resume()}>Go on</button>
        {:else}<button class="act" onclick={() => making.pause()}>Pause</button>{/if}
        <button class="act" onclick={() => making.cancel()}>Cancel</button>
        {#if mayAsk}<button class="act" onclick={askToTell}>Tell me when it is done</button>{/if}
      {/if}
      {#if failed.length > 0}
        <button class="act" onclick={tryAgain}
          >Try {failed.length === 1 ? 'it' : `all ${failed.length}`} again</button
        >
        <button class="act" onclick={() => making.forgetFailed()}
          >Let go of {failed.length === 1 ? 'it' : 'them'}</button
        >
      {/if}
    </span>
  </div>
  <ul>
    {#each shown as job (job.key)}
      <li>
        <b>{job.title}</b>
        <span class="quiet">{recipeWords(job.recipe)}</span>
        {#if job.state === 'failed' && job.failure}
          <span class="wrong">{convertFailure(job.failure)}</span>
        {:else}
          <span class="state">
            <Ladder done={job.heard} total={job.seconds} label="Making {job.title}" />
            {stateOf(job)}
          </span>
        {/if}
      </li>
    {/each}
  </ul>
  {#if making.jobs.length > SHOWN}<p class="quiet">and {counted(making.jobs.length - SHOWN, 'other')}</p>{/if}
</section>

<style>
  section {
    flex: none;
    max-height: 40%;
    overflow-y: auto;
    padding: 6px 16px 8px;
    border-top: 1px solid var(--rule-strong);
    background: var(--base);
  }
  .head {
    display: flex;
    align-items: baseline;
    gap: 12px;
  }
  h2 {
    font-size: var(--t-sub);
  }
  .acts {
    display: flex;
    gap: 12px;
    margin-left: auto;
  }
  li {
    display: grid;
    grid-template-columns: minmax(120px, 1fr) minmax(160px, 1fr) minmax(190px, 1.2fr);
    gap: 12px;
    padding: 3px 0;
    border-top: 1px solid var(--rule);
    font-size: var(--t-read);
  }
  li > * {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .wrong {
    white-space: normal;
    color: var(--blocks-ink);
  }
  .state {
    display: flex;
    align-items: center;
    gap: 8px;
    font-variant-numeric: tabular-nums;
  }
</style>
