<script lang="ts">
  import { TWIN_CODECS, type TwinCodec, type TwinWishes } from '$lib/core/rulebooks';
  import { codecFacts, plainWishes } from '$lib/core/twins';
  import { CODEC_LABELS } from '$lib/ui/words/twin-words';

  /** What a recipe wishes of sound. */
  let { wishes, onchange }: { wishes: TwinWishes; onchange: (wishes: TwinWishes) => void } = $props();

  const RATES = [22_050, 32_000, 44_100, 48_000, 88_200, 96_000];
  const facts = $derived(codecFacts(wishes.codec));
  const kilobits = (value: number) => `${value / 1000} kbit/s`;
  const wish = (change: Partial<TwinWishes>) => onchange({ ...wishes, ...change });
</script>

<label
  ><span>format</span>
  <select
    value={wishes.codec}
    onchange={(event) =>
      // Rates of one codec are none of another's.
      onchange({ ...plainWishes(event.currentTarget.value as TwinCodec), mono: wishes.mono })}
  >
    {#each TWIN_CODECS as codec (codec)}<option value={codec}>{CODEC_LABELS[codec]}</option>{/each}
  </select></label
>
{#if facts.bitrates.length > 0}
  {#each ['music', 'speech'] as const as what (what)}
    <label
      ><span>{what}</span>
      <select
        value={String(wishes[what] ?? '')}
        onchange={(event) => wish({ [what]: Number(event.currentTarget.value) || null })}
      >
        <option value="">standard ({kilobits(facts.good[what])})</option>
        {#each facts.bitrates as bitrate (bitrate)}<option value={String(bitrate)}>{kilobits(bitrate)}</option
          >{/each}
      </select></label
    >
  {/each}
{:else}
  <label
    ><span>bit depth</span>
    <select
      value={String(wishes.mostBits ?? '')}
      onchange={(event) => wish({ mostBits: event.currentTarget.value === '16' ? 16 : null })}
    >
      <option value="">as in the original, up to 24 bits</option>
      <option value="16">at most 16 bits</option>
    </select></label
  >
{/if}
{#if facts.varies}
  <label
    ><span>bit rate</span>
    <select
      value={wishes.variable ? 'variable' : 'fixed'}
      onchange={(event) => wish({ variable: event.currentTarget.value === 'variable' })}
    >
      <option value="fixed">fixed bit rate</option>
      <option value="variable">variable bit rate, about as large</option>
    </select></label
  >
{/if}
<label
  ><span>sample rate</span>
  <select
    value={String(wishes.mostRate ?? '')}
    onchange={(event) => wish({ mostRate: Number(event.currentTarget.value) || null })}
  >
    <option value="">as in the original</option>
    {#each RATES as rate (rate)}<option value={String(rate)}>at most {rate / 1000} kHz</option>{/each}
  </select></label
>
<label
  ><span>mono</span>
  <select
    value={wishes.mono}
    onchange={(event) => wish({ mono: event.currentTarget.value as TwinWishes['mono'] })}
  >
    <option value="never">never</option>
    <option value="speech">speech only</option>
    <option value="always">always</option>
  </select></label
>
