<script lang="ts">
  import Frame from './frame/Frame.svelte';

  let { data, children } = $props();
</script>

{#key data.library}
  <Frame library={data.library} {children} />
{/key}
