<script lang="ts">
  import { FORMAT_NAMES, codecName, type FormatId, type Item, type Stream } from '$lib/core/items';
  import { bytes, clock, counted } from '$lib/ui/words/amounts';

  let { items }: { items: readonly Item[] } = $props();

  const TAG_NAMES: Readonly<Record<string, string>> = { vorbis: 'Vorbis comments' };

  const one = $derived(items.length === 1 ? (items[0] as Item) : null);
  const formats = $derived.by(() => {
    const counts = new Map<FormatId, number>();
    for (const { format } of items) counts.set(format, (counts.get(format) ?? 0) + 1);
    return [...counts].map(([format, count]) => `${count} ${FORMAT_NAMES[format]}`).join(', ');
  });

  function streamWords({ type, codec: code, channels, sampleRate, bits, width, height }: Stream): string {
    const codec = codecName(code ?? '');
    if (type === 'picture') return `picture ${codec} ${width ?? '?'}×${height ?? '?'}`;
    if (type === 'subtitle') return `subtitles ${codec}`;
    const rate = sampleRate ? `${(sampleRate / 1000).toFixed(1).replace('.0', '')} kHz` : '';
    return [
      'sound',
      codec,
      rate,
      bits ? `${bits} bits` : '',
      channels === 1 ? 'mono' : channels === 2 ? 'stereo' : channels ? `${channels} channels` : '',
    ]
      .filter(Boolean)
      .join(' ');
  }
</script>

<section>
  <h3>
    What is inside the {one ? 'file' : 'files'}?<small
      >{bytes(items.reduce((sum, { size }) => sum + size, 0))}</small
    >
  </h3>
  {#if one}
    <p>
      {FORMAT_NAMES[one.format]}, {one.facts.isAbout ? 'about ' : ''}{clock(one.facts.durationSeconds)}; {one.facts.streams
        .map(streamWords)
        .join('; ')}
    </p>
    {#if one.facts.isCut}<p class="cut">
        The end of the file is missing; the readable part was taken in.
      </p>{/if}
    <p class="quiet">
      {one.facts.tagFormats.map((format) => TAG_NAMES[format] ?? format).join(', ') ||
        'no tags'}{#if one.file.pictures.length > 0}; {counted(one.file.pictures.length, 'picture')}{/if}
    </p>
    {#if one.file.tracks}
      {#await import('./Tracks.svelte') then { default: Tracks }}{#key one.id}<Tracks
            item={one}
          />{/key}{/await}
    {/if}
    {#await import('./CheckLine.svelte') then { default: CheckLine }}<CheckLine item={one} />{/await}
    {#if one.native.length > 0}
      <details>
        <summary>{counted(one.native.length, 'tag')} as stored in the file</summary>
        <dl>
          {#each one.native as tag, index (index)}
            <dt class="path">{tag.id}</dt>
            <dd class="path">{tag.value}</dd>
          {/each}
        </dl>
      </details>
    {/if}
  {:else}
    <p>{formats}</p>
  {/if}
</section>

<style>
  .cut {
    color: var(--attention-ink);
  }
  p {
    overflow-wrap: anywhere;
  }
  summary {
    margin-top: 4px;
    color: var(--primary-ink);
    font-weight: 600;
    cursor: pointer;
  }
  dl {
    display: grid;
    grid-template-columns: 92px 1fr;
    gap: 1px 8px;
    margin-top: 4px;
  }
  dt {
    color: var(--ink-3);
    overflow: hidden;
    text-overflow: ellipsis;
  }
  dd {
    overflow-wrap: anywhere;
    max-height: 5em;
    overflow: hidden;
  }
</style>
