<script lang="ts">
  import { fieldsOf, type Item } from '$lib/core/items';
  import { getSession } from '$lib/state/session.svelte';

  /** How loud the selected items are, as far as that is known, and the act that measures it. */
  let { items }: { items: readonly Item[] } = $props();
  const { library, loudness } = getSession();

  /** Files that are measured at once. */
  const MOST = 5000;
  const sounding = $derived(
    items.length > MOST
      ? []
      : items.filter(({ facts }) => facts.streams.some(({ type }) => type === 'sound')),
  );
  const one = $derived(items.length === 1 ? (items[0] as Item) : null);
  const fields = $derived(one && fieldsOf(one));
  const measured = $derived(sounding.filter((item) => fieldsOf(item).trackGain !== null).length);
  const decibels = (gain: number) => `${gain > 0 ? '+' : ''}${gain.toFixed(2)} dB`;
</script>

{#if sounding.length > 0}
  <section>
    <h3>How loud {one ? 'is it' : 'are they'}?</h3>
    {#if fields && fields.trackGain !== null}
      <p>
        Players add {decibels(fields.trackGain)}{fields.albumGain === null
          ? ''
          : `, or ${decibels(fields.albumGain)} within its album`}.
      </p>
    {:else if !one && measured > 0}
      <p>{measured} of {sounding.length} have a gain for players.</p>
    {:else}
      <p class="quiet">Not measured. The result is written as gain tags; the sound itself stays unchanged.</p>
    {/if}
    {#if sounding.length > 1}
      <p class="quiet">Album gain covers the selected tracks of each album, once all of them are measured.</p>
    {/if}
    <div class="acts">
      <button
        class="btn"
        disabled={!library.mayWrite || loudness.busy}
        onclick={() => void loudness.measure(sounding)}>Measure loudness</button
      >
    </div>
  </section>
{/if}

<style>
  .acts {
    margin-top: 6px;
  }
</style>
