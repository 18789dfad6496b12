<script lang="ts">
  import { onMount } from 'svelte';
  import type { Crop } from '$lib/core/items';

  /** A picture with the part of it that is taken: drawn, moved and sized by hand. The same part stands in numbers beside it. */
  let {
    url,
    width,
    height,
    crop,
    isSquare,
    oncrop,
  }: {
    url: string;
    /** Pixels of the picture. */
    width: number;
    height: number;
    crop: Crop;
    isSquare: boolean;
    /** Told in the picture's own pixels, not yet whole ones. */
    oncrop: (crop: Crop) => void;
  } = $props();

  interface Selection extends HTMLElement {
    readonly x: number;
    readonly y: number;
    readonly width: number;
    readonly height: number;
    aspectRatio: number;
    $change(x: number, y: number, width: number, height: number): this;
  }
  type Drawn = Pick<Selection, 'x' | 'y' | 'width' | 'height'>;

  let stage = $state<HTMLElement>();
  let selection = $state<Selection>();
  let room = $state({ width: 0, height: 0 });
  let isReady = $state(false);
  /** A hand is at it: what the tool does of itself, such as rounding, is not told back. */
  let isByHand = false;

  /** Where the whole picture lies on the stage, and how large. */
  const shown = $derived.by(() => {
    const scale = Math.min(room.width / width, room.height / height) || 0;
    return {
      scale,
      left: (room.width - width * scale) / 2,
      top: (room.height - height * scale) / 2,
    };
  });

  onMount(async () => {
    await import('cropperjs');
    isReady = true;
  });

  $effect(() => {
    if (!selection || shown.scale === 0) return;
    const { left, top, scale } = shown;
    selection.aspectRatio = isSquare ? 1 : NaN;
    selection.$change(
      left + crop.left * scale,
      top + crop.top * scale,
      crop.width * scale,
      crop.height * scale,
    );
  });

  $effect(() => {
    if (!selection) return;
    const own = selection;
    const change = (event: Event) => {
      const { x, y, width: wide, height: high } = (event as CustomEvent<Drawn>).detail;
      const { left, top, scale } = shown;
      if (!isByHand || scale === 0) return;
      // It counts in whole pixels of the screen.
      const near = 2;
      const isIn =
        x >= left - near &&
        y >= top - near &&
        x + wide <= left + width * scale + near &&
        y + high <= top + height * scale + near;
      // A part of what is not there is none.
      if (!isIn || wide < 4 || high < 4) return event.preventDefault();
      oncrop({ left: (x - left) / scale, top: (y - top) / scale, width: wide / scale, height: high / scale });
    };
    const canvas = own.parentElement;
    const begin = () => (isByHand = true);
    const end = () => (isByHand = false);
    own.addEventListener('change', change);
    canvas?.addEventListener('actionstart', begin);
    canvas?.addEventListener('actionend', end);
    return () => {
      own.removeEventListener('change', change);
      canvas?.removeEventListener('actionstart', begin);
      canvas?.removeEventListener('actionend', end);
    };
  });
</script>

<div
  class="stage"
  bind:this={stage}
  bind:clientWidth={room.width}
  bind:clientHeight={room.height}
  role="img"
  aria-label="The picture, {width} by {height} pixels, with the part of it that is taken"
>
  <img
    src={url}
    alt=""
    style:left="{shown.left}px"
    style:top="{shown.top}px"
    style:width="{width * shown.scale}px"
    style:height="{height * shown.scale}px"
  />
  {#if isReady}
    <cropper-canvas>
      <cropper-shade theme-color="rgba(0, 0, 0, 0.6)"></cropper-shade>
      <cropper-handle action="select" plain></cropper-handle>
      <cropper-selection bind:this={selection} movable resizable outlined>
        <cropper-handle action="move" theme-color="rgba(255, 255, 255, 0)"></cropper-handle>
        {#each ['n-resize', 'e-resize', 's-resize', 'w-resize', 'ne-resize', 'nw-resize', 'se-resize', 'sw-resize'] as action (action)}
          <cropper-handle {action}></cropper-handle>
        {/each}
      </cropper-selection>
    </cropper-canvas>
  {/if}
</div>

<style>
  .stage {
    position: relative;
    flex: 1;
    min-height: 200px;
    overflow: hidden;
    background: var(--sunk);
    border: 1px solid var(--rule);
  }
  img {
    position: absolute;
    max-width: none;
    pointer-events: none;
  }
  cropper-canvas {
    position: absolute;
    inset: 0;
    height: 100%;
  }
</style>
