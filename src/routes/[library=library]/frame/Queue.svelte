<script lang="ts">
  import List from '@lucide/svelte/icons/list-ordered';
  import { getSession } from '$lib/state/session.svelte';
  import Flyout from '$lib/ui/Flyout.svelte';

  /** Opens what is played one after the other. */
  const { playback } = getSession();
</script>

<Flyout
  label="What is played"
  title={playback.at >= 0 ? `${playback.at + 1} of ${playback.entries.length}` : 'What is played'}
  look="icon"
>
  {#snippet button()}<List size={15} />{/snippet}
  {#await import('./QueueSheet.svelte') then { default: QueueSheet }}
    <QueueSheet />
  {/await}
</Flyout>
