<script lang="ts">
  import type { TwinMaking } from '$lib/state/prepare/twin-making.svelte';
  import { getSession } from '$lib/state/session.svelte';
  import Ladder from '$lib/ui/Ladder.svelte';
  import { counted } from '$lib/ui/words/amounts';
  import { convertFailure, recipeWords } from '$lib/ui/words/twin-words';

  /** Twins that are being made, failed, or wait in the queue. */
  let { making }: { making: TwinMaking } = $props();
  const session = getSession();

  /** Nobody was asked yet whether the system may show notifications. */
  let mayAsk = $state(globalThis.Notification?.permission === 'default');
  async function askToNotify() {
    await Notification.requestPermission();
    mayAsk = false;
  }

  const SHOWN = 6;
  const { running, failures, waiting } = $derived(making);
  const failed = $derived(failures.slice(0, SHOWN - running.length));
  const queued = $derived(waiting.slice(0, Math.max(0, SHOWN - running.length - failed.length)));
  const more = $derived(making.left + failures.length - running.length - failed.length - queued.length);

  const retry = () =>
    making.add(
      failures.flatMap(({ item: id, recipe }) => {
        const item = session.library.find(id);
        return item ? [{ item, recipe }] : [];
      }),
    );
  const percent = (heard: number, seconds: number) =>
    `${seconds > 0 ? Math.min(99, Math.floor((heard / seconds) * 100)) : 0}%`;
</script>

<section aria-label="Making twins">
  <div class="head">
    <h2>Making twins</h2>
    <span class="quiet">
      {[
        ...(making.left > 0
          ? [`${making.left} left${making.isPaused ? ', paused' : ', continues while this page is hidden'}`]
          : []),
        ...(failures.length > 0 ? [`${failures.length} failed`] : []),
      ].join('; ')}
    </span>
    <span class="acts">
      {#if making.left > 0}
        {#if making.isPaused}<button class="act" onclick={() => making.resume()}>Resume</button>
        {:else}<button class="act" onclick={() => making.pause()}>Pause</button>{/if}
        <button class="act" onclick={() => making.cancel()}>Cancel</button>
        {#if mayAsk}<button class="act" onclick={askToNotify}>Notify me when done</button>{/if}
      {/if}
      {#if failures.length > 0}
        <button class="act" onclick={retry}>Retry {counted(failures.length, 'file')}</button>
        <button class="act" onclick={() => making.forgetFailures()}
          >Clear {counted(failures.length, 'failure')}</button
        >
      {/if}
    </span>
  </div>
  <ul>
    {#each running as job (job.key)}
      <li>
        <b>{job.title}</b>
        <span class="quiet">{recipeWords(job.recipe)}</span>
        <span class="state">
          <Ladder done={job.heard} total={job.seconds} label="Making {job.title}" />
          {percent(job.heard, job.seconds)}
        </span>
      </li>
    {/each}
    {#each failed as job (job.key)}
      <li>
        <b>{job.title}</b>
        <span class="quiet">{recipeWords(job.recipe)}</span>
        {#if job.failure}<span class="wrong">{convertFailure(job.failure)}</span>{/if}
      </li>
    {/each}
    {#each queued as job (job.key)}
      <li>
        <b>{job.title}</b>
        <span class="quiet">{recipeWords(job.recipe)}</span>
        <span class="quiet">queued</span>
      </li>
    {/each}
  </ul>
  {#if more > 0}<p class="quiet">and {more.toLocaleString('en')} more</p>{/if}
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
