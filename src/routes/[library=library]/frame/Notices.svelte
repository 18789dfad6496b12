<script lang="ts">
  import { getSession } from '$lib/state/session.svelte';

  const session = getSession();
</script>

{#if session.lock.state === 'looking' || (session.phase === 'open' && !session.library.works)}
  <div class="notice" role="status">
    <b>Another tab works on this library.</b> You can look around here, but edits are not saved.
    <button class="act" onclick={() => session.takeOver()}>Work here instead</button>
  </div>
{/if}
{#if session.folders.shut.length > 0}
  <div class="notice" role="status">
    <b>{session.folders.shut.map(({ label }) => label).join(', ')}</b> needs permission again since the page
    was reloaded.
    <button class="act" onclick={() => session.folders.reopen()}>Open again</button>
  </div>
{/if}
{#if session.library.isStorageLost}
  <div class="notice bad" role="alert">
    <b>This library’s browser data was deleted while it was open.</b>
    Items, edits, lists and players were saved again. Folder permissions, pictures you chose and run journals are
    lost: choose the folders again, and export the library now.
    <button class="act" onclick={() => (session.library.isStorageLost = false)}>Close</button>
  </div>
{/if}
{#if session.library.keepFailure}
  <div class="notice bad" role="alert">
    <b>The browser could not save the last changes:</b>
    {session.library.keepFailure}. Free some disk space, or export the library now. Lectorum retries every few
    seconds.
  </div>
{/if}

<style>
  .notice {
    padding: 6px 16px;
    font-size: var(--t-read);
    background: var(--attention-tint);
    border-bottom: 1px solid var(--attention);
  }
  .bad {
    background: var(--blocks-tint);
    border-color: var(--blocks);
  }
</style>
