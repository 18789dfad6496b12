<script lang="ts">
  import { format } from 'date-fns/format';
  import type { PastRun } from '$lib/core/library';
  import type { Journal } from '$lib/core/run';
  import { counted } from '$lib/ui/words/amounts';
  import { STEP_WORDS, failureWords } from '$lib/ui/words/run-words';

  /** Runs before the last one, each with what it did as long as that is kept. */
  let {
    runs,
    load,
  }: {
    runs: readonly PastRun[];
    load: (id: string) => Promise<Journal | null>;
  } = $props();

  /** Steps of a run that are listed; the others are counted. */
  const MOST = 200;
  let open = $state<string | null>(null);

  const words = ({ takenBack, done, failed }: PastRun): string =>
    takenBack ? 'taken back' : `${done.toLocaleString('en')} done, ${failed.toLocaleString('en')} failed`;
</script>

<details>
  <summary>{counted(runs.length, 'earlier run')}</summary>
  <ul>
    {#each runs as run (run.id)}
      <li>
        {#if run.isKept}
          <button
            class="act"
            aria-expanded={open === run.id}
            onclick={() => (open = open === run.id ? null : run.id)}
            >{format(run.startedAt, 'd MMM yyyy HH:mm')}</button
          >: {words(run)}
        {:else}
          {format(run.startedAt, 'd MMM yyyy HH:mm')}: {words(run)}
        {/if}
        {#if open === run.id}
          {#await load(run.id)}
            <p class="quiet">Loading</p>
          {:then journal}
            {#if journal}
              <ol aria-label="What the run did">
                {#each journal.steps.slice(0, MOST) as step, index (index)}
                  {@const outcome = journal.outcomes[index]}
                  <li>
                    <span class="quiet">{STEP_WORDS[step.type]}</span>
                    <span class="path">{step.path}</span>
                    {#if outcome?.type === 'failed'}<b>{failureWords(outcome.code, outcome.detail).why}</b
                      >{:else if outcome?.type === 'undone'}<b>taken back</b
                      >{:else if outcome?.type !== 'done'}<b>not done</b>{/if}
                  </li>
                {/each}
              </ol>
              {#if journal.steps.length > MOST}
                <p class="quiet">and {counted(journal.steps.length - MOST, 'more step')}</p>
              {/if}
            {/if}
          {:catch error}
            <p role="alert">It could not be read: {error.message}</p>
          {/await}
        {/if}
      </li>
    {/each}
  </ul>
</details>

<style>
  details {
    margin-top: 8px;
  }
  summary {
    color: var(--ink-2);
    cursor: pointer;
  }
  li {
    padding: 4px 0;
    border-bottom: 1px solid var(--rule);
    overflow-wrap: anywhere;
  }
  ol {
    margin: 4px 0 0 8px;
    font-size: var(--t-small);
  }
</style>
