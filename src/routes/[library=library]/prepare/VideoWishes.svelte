<script lang="ts">
  import type { VideoWishes, PictureCodec } from '$lib/core/rulebooks';
  import { pictureCodecName, picturesIn } from '$lib/core/twins';

  /** What a recipe wishes of moving pictures. */
  let { wishes, onchange }: { wishes: VideoWishes; onchange: (wishes: VideoWishes) => void } = $props();

  const HEIGHTS = [2160, 1440, 1080, 720, 576, 480, 360];
  const RATES = [500, 1000, 1500, 2000, 3000, 5000, 8000, 12_000, 20_000];
  const wish = (change: Partial<VideoWishes>) => onchange({ ...wishes, ...change });
</script>

<label
  ><span>video codec</span>
  <select
    value={wishes.codec}
    onchange={(event) => wish({ codec: event.currentTarget.value as PictureCodec })}
  >
    {#each picturesIn(wishes.container) as codec (codec)}<option value={codec}
        >{pictureCodecName(codec)}</option
      >{/each}
  </select></label
>
<label
  ><span>height</span>
  <select
    value={String(wishes.mostHeight ?? '')}
    onchange={(event) => wish({ mostHeight: Number(event.currentTarget.value) || null })}
  >
    <option value="">as in the original</option>
    {#each HEIGHTS as height (height)}<option value={String(height)}>at most {height} pixels</option>{/each}
  </select></label
>
<label
  ><span>bit rate</span>
  <select
    value={String(wishes.mostBitrate ?? '')}
    onchange={(event) => wish({ mostBitrate: Number(event.currentTarget.value) || null })}
  >
    <option value="">standard for its size</option>
    {#each RATES as rate (rate)}<option value={String(rate * 1000)}
        >at most {rate.toLocaleString('en')} kbit/s</option
      >{/each}
  </select></label
>
