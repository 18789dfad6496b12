<script lang="ts">
  /** A player's initial: tinted with a foot bar plays it, a dot cannot. */
  let { initial, name, plays }: { initial: string; name: string; plays: boolean } = $props();

  const said = $derived(plays ? `${name} plays it as it is` : `${name} cannot take it`);
</script>

<span class="mark" class:plays role="img" aria-label={said} title={said}>{plays ? initial : '·'}</span>

<style>
  .mark {
    display: inline-grid;
    place-items: center;
    width: 17px;
    height: 17px;
    font-size: var(--t-small);
    color: var(--ink-3);
  }
  .plays {
    background: var(--primary-tint);
    border-bottom: 2px solid var(--primary);
    color: var(--primary-ink);
    font-weight: 700;
  }
</style>
