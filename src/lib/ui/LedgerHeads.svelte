<script lang="ts" module>
  /** The name of a column. Where it is not shown, it is there for those who hear the page. */
  export interface Head {
    readonly name: string;
    readonly isShown?: boolean;
  }
</script>

<script lang="ts">
  /** One line of names above a ledger's columns. */
  let { heads }: { heads: readonly Head[] } = $props();
</script>

<div class="cols">
  {#each heads as { name, isShown = true } (name)}
    <span role="columnheader"><span class:sr-only={!isShown}>{name}</span></span>
  {/each}
</div>
