<script lang="ts">
  import Check from '@lucide/svelte/icons/check';
  import Alert from '@lucide/svelte/icons/triangle-alert';
  import { format } from 'date-fns/format';
  import { getSession } from '$lib/state/session.svelte';
  import Ladder from '$lib/ui/Ladder.svelte';
  import { timeLeft } from '$lib/ui/words/amounts';
  import Listen from './Listen.svelte';

  const session = getSession();
  const finished = $derived(session.work.finished);
</script>

<footer>
  <Listen />
  <div class="job" aria-live="off">
    {#each session.work.jobs as job (job)}
      <div class="line">
        <b>{job.label}</b>
        <Ladder done={job.done} total={job.total} label={job.label} />
        <span>
          {job.total === null
            ? `${job.done.toLocaleString('en')} found`
            : `${job.done.toLocaleString('en')} of ${job.total.toLocaleString('en')}`}{#if job.secondsLeft !== null},
            {timeLeft(job.secondsLeft)}{/if}
        </span>
        {#if job.cancel}<button class="act" onclick={job.cancel} aria-label="Cancel {job.label}"
            >Cancel</button
          >{/if}
      </div>
    {:else}
      <span class="quiet">Idle</span>
    {/each}
  </div>
  <div class="last" class:failed={finished?.failed} role="status">
    {#if finished}
      {#if finished.failed}<Alert size={15} />{:else}<Check size={15} />{/if}
      <span>{format(finished.at, 'HH:mm')} {finished.text}</span>
    {/if}
  </div>
</footer>

<style>
  footer {
    display: flex;
    align-items: center;
    min-height: var(--h-dock);
    flex: none;
    border-top: 1px solid var(--rule-strong);
    font-size: var(--t-read);
  }
  .job {
    display: flex;
    flex-direction: column;
    justify-content: center;
    gap: 4px;
    align-self: stretch;
    padding: 4px 16px;
    border-left: 1px solid var(--rule);
    white-space: nowrap;
  }
  .line {
    display: flex;
    align-items: center;
    gap: 12px;
  }
  .line b {
    min-width: 84px;
  }
  .last {
    display: flex;
    align-items: center;
    gap: 8px;
    margin-left: auto;
    padding: 0 16px;
    color: var(--settled-ink);
    min-width: 0;
  }
  .last span {
    overflow: hidden;
    text-overflow: ellipsis;
    display: -webkit-box;
    -webkit-line-clamp: 2;
    line-clamp: 2;
    -webkit-box-orient: vertical;
    line-height: 1.2;
  }
  .failed {
    color: var(--attention-ink);
  }
  @media (max-width: 760px) {
    footer {
      flex-wrap: wrap;
      padding-block: 4px;
    }
    .job {
      flex: 1 1 100%;
      padding: 2px 12px;
      border-left: 0;
    }
    .job > .quiet {
      display: none;
    }
    .last {
      margin-left: 0;
      padding: 0 12px;
    }
  }
</style>
