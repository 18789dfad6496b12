<script lang="ts">
  /** How items play on a player, as a piece of a bar: told apart by edge and hatching, not by colour alone. */
  let { is, share }: { is: 'plays' | 'ready' | 'make' | 'cannot'; share?: number } = $props();
</script>

<i class={is} style:flex={share}></i>

<style>
  i {
    width: 18px;
    height: 10px;
    border: 1px solid transparent;
    background: var(--strip);
  }
  .ready {
    border-color: var(--ink);
  }
  .make {
    border-color: var(--primary-ink);
    background: repeating-linear-gradient(135deg, var(--primary-ink) 0 2px, var(--raised) 2px 5px);
  }
  .cannot {
    border-color: var(--blocks-ink);
    background: var(--blocks-tint);
  }
</style>
