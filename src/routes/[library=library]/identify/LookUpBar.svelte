<script lang="ts">
  import { onMount } from 'svelte';
  import { page } from '$app/state';
  import type { LookUpWay } from '$lib/state/identify/look-ups.svelte';
  import { getSession } from '$lib/state/session.svelte';

  /** Asks the reference again: by words, lengths, sound or number. Or compares with a list of one's own. */
  let { onlist }: { onlist: () => void } = $props();
  const session = getSession();
  const { identify } = session;

  const WAYS: readonly (readonly [LookUpWay, string])[] = [
    ['all', 'text and lengths'],
    ['words', 'words'],
    ['lengths', 'lengths'],
    ['sound', 'sound'],
    ['number', 'its number'],
  ];
  let manners = $state.raw<readonly string[]>([]);

  let manner = $state('prompt');
  let way = $state<LookUpWay>('all');
  let typed = $state<string | null>(null);
  const text = $derived(typed ?? identify.sets.gathering?.words ?? '');
  const asking = $derived(identify.lookUps.lookUp?.phase === 'asking');

  onMount(async () => {
    if (page.params.library !== 'demo') return;
    const answer = await fetch('/reference/manner');
    if (!answer.ok) return;
    const said = (await answer.json()) as { manner: string; manners: string[] };
    manners = said.manners;
    manner = said.manner;
  });

  async function setManner(wanted: string) {
    manner = wanted;
    await fetch('/reference/manner', {
      method: 'PUT',
      body: JSON.stringify({ manner: wanted }),
      headers: { 'content-type': 'application/json' },
    });
  }
</script>

<form
  aria-label="Look up"
  onsubmit={(event) => {
    event.preventDefault();
    void identify.lookUps.ask(way, text);
  }}
>
  <label>
    Look up by
    <select bind:value={way}>
      {#each WAYS as [value, name] (value)}<option {value}>{name}</option>{/each}
    </select>
  </label>
  {#if way !== 'lengths' && way !== 'sound'}
    <input
      class="words"
      aria-label={way === 'number' ? 'Number of the release' : 'Words to look up'}
      value={text}
      oninput={(event) => (typed = event.currentTarget.value)}
    />
  {/if}
  <button class="btn" disabled={asking}>{asking ? 'Asking' : 'Ask'}</button>
  <button class="btn" type="button" onclick={onlist}>Paste a track list</button>
  {#if manners.length > 0}
    <label class="end quiet">
      the stand-in reference is
      <select value={manner} onchange={(event) => void setManner(event.currentTarget.value)}>
        {#each manners as name (name)}<option value={name}>{name}</option>{/each}
      </select>
    </label>
  {/if}
</form>

<style>
  form {
    display: flex;
    align-items: center;
    gap: 8px;
    height: 40px;
    flex: none;
    padding: 0 16px;
    border-top: 1px solid var(--rule-strong);
  }
  label {
    display: flex;
    align-items: center;
    gap: 6px;
    white-space: nowrap;
  }
  select,
  .words {
    height: 26px;
    padding: 0 6px;
    border: 1px solid var(--rule-strong);
    background: var(--raised);
    color: var(--ink);
  }
  .words {
    flex: 1;
    min-width: 80px;
    max-width: 260px;
  }
  .end {
    margin-left: auto;
  }
</style>
