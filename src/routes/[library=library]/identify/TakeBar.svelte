<script lang="ts">
  import { TAKEN_FIELDS } from '$lib/core/identify';
  import { requireField, type FieldName } from '$lib/core/items';
  import { getSession } from '$lib/state/session.svelte';

  /** Takes the line-up on show, with a choice of what is written. */
  const session = getSession();
  const { identify } = session;
  let choosing = $state(false);

  const set = $derived(identify.sets.gathering);
  const lineUp = $derived(identify.pairing.lineUp);
  const release = $derived(identify.pairing.chosen[0]?.release ?? null);
  const counts = $derived.by(() => {
    const pairs = lineUp?.pairs ?? [];
    const of = (certainty: string) => pairs.filter((pair) => pair.certainty === certainty).length;
    return {
      sure: of('sure'),
      likely: of('likely'),
      guess: of('guess'),
      open: lineUp?.openFiles.length ?? 0,
    };
  });
  const out = $derived(set && lineUp ? set.items.length - lineUp.pairs.length - lineUp.openFiles.length : 0);
  const hasLyrics = $derived(identify.pairing.entries.some((entry) => entry.hasLyrics));
  const offered = $derived(set ? TAKEN_FIELDS[set.type] : []);

  function toggle(field: FieldName) {
    const next = new Set(identify.pairing.fields);
    if (!next.delete(field)) next.add(field);
    identify.pairing.fields = next;
  }
</script>

<div class="bar">
  <button
    class="btn btn-primary"
    disabled={!lineUp || lineUp.pairs.length === 0}
    onclick={() => void identify.accept()}
  >
    Accept this line-up <span class="key">Enter</span>
  </button>
  <button class="btn" aria-expanded={choosing} disabled={!set} onclick={() => (choosing = !choosing)}>
    What will be written
  </button>
  {#if set?.state === 'waits'}
    <button class="btn" onclick={() => set && identify.sets.leaveAsTheyAre(set)}>Leave as they are</button>
  {:else if set && set.state !== 'said'}
    <button class="btn" onclick={() => set && identify.sets.reopen(set)}>Reopen</button>
  {/if}
  <span class="legend">
    <span><i class="sure"></i> {counts.sure} sure</span>
    <span><i class="likely"></i> {counts.likely} likely</span>
    <span><i class="guess"></i> {counts.guess} {counts.guess === 1 ? 'guess' : 'guesses'}</span>
    <span
      >{counts.open} open{#if out > 0}, {out} left out{/if}</span
    >
  </span>
</div>
{#if choosing}
  <fieldset class="fields">
    <legend>Accepting it writes</legend>
    {#each offered as field (field)}
      <label>
        <input type="checkbox" checked={identify.pairing.fields.has(field)} onchange={() => toggle(field)} />
        {requireField(field).label}
      </label>
    {/each}
    {#if hasLyrics}
      <label><input type="checkbox" bind:checked={identify.pairing.withLyrics} /> lyrics</label>
    {/if}
    {#if release && release.pictureSizes.length > 0}
      <label class="picture">
        picture
        <select
          value={String(identify.pairing.pictureSize ?? '')}
          onchange={(event) => (identify.pairing.pictureSize = Number(event.currentTarget.value) || null)}
        >
          <option value="">none</option>
          {#each release.pictureSizes as size (size)}<option value={String(size)}>{size} px</option>{/each}
        </select>
      </label>
    {/if}
  </fieldset>
{/if}

<style>
  .bar {
    display: flex;
    align-items: center;
    gap: 8px;
    height: 44px;
    flex: none;
    padding: 0 16px;
    white-space: nowrap;
  }
  .legend {
    display: flex;
    gap: 14px;
    margin-left: auto;
    font-size: var(--t-small);
    color: var(--ink-2);
  }
  .legend span {
    display: flex;
    align-items: center;
    gap: 6px;
  }
  i {
    width: 26px;
    border-top: 2px solid var(--ink);
  }
  i.likely {
    border-top-style: dashed;
  }
  i.guess {
    border-top-style: dotted;
  }
  .fields {
    display: flex;
    flex-wrap: wrap;
    gap: 4px 16px;
    flex: none;
    padding: 0 16px 10px;
  }
  legend {
    float: left;
    color: var(--ink-2);
  }
  label {
    display: flex;
    align-items: center;
    gap: 5px;
  }
  select {
    border: 1px solid var(--rule-strong);
    background: var(--raised);
  }
</style>
