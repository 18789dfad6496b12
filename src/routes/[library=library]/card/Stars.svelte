<script lang="ts">
  import Star from '@lucide/svelte/icons/star';
  import { halfStars, ratingOfHalves } from '$lib/core/items';

  /** A rating as five stars with halves, beside its number. Arrows change it by half a star, 0 and Delete clear it. */
  let {
    value,
    label,
    onchange,
  }: {
    /** 0 to 100; null for no rating, or for different ones. */
    value: number | null;
    label: string;
    onchange: (value: number | null) => void;
  } = $props();

  const MOST = 10;
  const halves = $derived(halfStars(value));
  const words = $derived(halves === 0 ? 'no stars' : `${halves / 2} of 5 stars`);

  const set = (next: number) => onchange(ratingOfHalves(Math.max(0, Math.min(MOST, next))));

  function onkeydown(event: KeyboardEvent) {
    const by = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 }[event.key];
    if (by !== undefined) set(halves + by);
    else if (event.key === 'Home' || event.key === 'Delete') set(0);
    else if (event.key === 'End') set(MOST);
    else if (/^[0-5]$/.test(event.key)) set(2 * Number(event.key));
    else return;
    event.preventDefault();
    event.stopPropagation();
  }

  /** The half that was clicked; clicking the present one clears the rating. */
  function onclick(event: MouseEvent & { currentTarget: HTMLElement }) {
    const { left, width } = event.currentTarget.getBoundingClientRect();
    const clicked = Math.max(1, Math.ceil(((event.clientX - left) / width) * MOST));
    set(clicked === halves ? 0 : clicked);
  }
</script>

<div
  class="stars"
  role="slider"
  tabindex="0"
  aria-label="Stars of {label}"
  aria-valuemin="0"
  aria-valuemax="5"
  aria-valuenow={halves / 2}
  aria-valuetext={words}
  title={words}
  {onkeydown}
  {onclick}
>
  {#each [0, 1, 2, 3, 4] as index (index)}
    <span class="star">
      <Star size={15} />
      <span class="fill" style:width="{Math.max(0, Math.min(2, halves - 2 * index)) * 50}%"
        ><Star size={15} fill="currentColor" /></span
      >
    </span>
  {/each}
</div>

<style>
  .stars {
    display: flex;
    width: max-content;
    cursor: pointer;
    color: var(--ink-2);
  }
  .star {
    position: relative;
    width: 15px;
    height: 15px;
  }
  .star > :global(svg) {
    display: block;
  }
  .fill {
    position: absolute;
    inset: 0 auto 0 0;
    overflow: hidden;
    color: var(--primary);
  }
  .fill :global(svg) {
    display: block;
    max-width: none;
  }
</style>
