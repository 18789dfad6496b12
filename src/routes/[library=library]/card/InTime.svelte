<script lang="ts">
  import { clock, counted } from '$lib/ui/words/amounts';

  let { said }: { said: readonly { readonly startSeconds: number; readonly text: string }[] } = $props();

  const MOST = 40;
</script>

<ol>
  {#each said.slice(0, MOST) as { startSeconds, text }, index (index)}
    <li><span class="path quiet">{clock(startSeconds)}</span> {text}</li>
  {/each}
</ol>
{#if said.length > MOST}<p class="quiet">and {counted(said.length - MOST, 'more', 'more')}</p>{/if}
