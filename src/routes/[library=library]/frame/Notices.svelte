<script lang="ts">
  import { getSession } from '$lib/state/session.svelte';

  const session = getSession();
</script>

{#if session.lock.state === 'looking' || (session.phase === 'open' && !session.library.works)}
  <div class="notice" role="status">
    <b>Another tab works on this library.</b> Here it can be looked at; edits would not be kept.
    <button class="act" onclick={() => session.takeOver()}>Work here instead</button>
  </div>
{/if}
{#if session.folders.shut.length > 0}
  <div class="notice" role="status">
    <b>{session.folders.shut.map(({ label }) => label).join(', ')}</b> may not be read since the page was
    loaded anew.
    <button class="act" onclick={() => session.folders.reopen()}>Open again</button>
  </div>
{/if}
{#if session.library.isStorageLost}
  <div class="notice bad" role="alert">
    <b>What the browser kept of this library was deleted while it was open.</b>
    Items, edits, lists and players are kept anew. Permissions for folders, pictures set by hand and the journals
    of runs are gone: choose folders again, and export the library now.
    <button class="act" onclick={() => (session.library.isStorageLost = false)}>Close</button>
  </div>
{/if}
{#if session.library.keepFailure}
  <div class="notice bad" role="alert">
    <b>The browser could not keep the last changes:</b>
    {session.library.keepFailure}. Make room on the disk, or export the library now. Lectorum tries again
    every few seconds.
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
