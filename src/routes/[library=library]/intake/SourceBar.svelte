<script lang="ts">
  import Cloud from '@lucide/svelte/icons/cloud';
  import Disc from '@lucide/svelte/icons/disc-3';
  import Eye from '@lucide/svelte/icons/eye';
  import Files from '@lucide/svelte/icons/files';
  import Folder from '@lucide/svelte/icons/folder';
  import Rss from '@lucide/svelte/icons/rss';
  import { newEpisodes } from '$lib/core/feeds';
  import { getSession } from '$lib/state/session.svelte';
  import { counted } from '$lib/ui/words/amounts';
  import { chooseFolder } from '../frame/take-in';
  import type { PanelName } from './panels';

  /** Every way in, and the files that did not come through. */
  let {
    open,
    unreadCount,
    asideCount,
    unreadShown,
    onopen,
    onfiles,
    onunread,
  }: {
    open: PanelName | null;
    unreadCount: number;
    asideCount: number;
    unreadShown: boolean;
    onopen: (panel: PanelName) => void;
    onfiles: () => void;
    onunread: () => void;
  } = $props();
  const session = getSession();
  const newOnes = $derived(session.library.feeds.reduce((sum, feed) => sum + newEpisodes(feed).length, 0));
</script>

<div class="sources" role="toolbar" aria-label="Take in from">
  <b>Take in from</b>
  <button onclick={() => chooseFolder(session)} disabled={session.intake.busy}>
    <Folder size={16} /><span><b>Folder</b><small>or drop here</small></span>
  </button>
  <button onclick={onfiles} disabled={session.intake.busy}>
    <Files size={16} /><span><b>Files</b><small>one or more</small></span>
  </button>
  <button aria-pressed={open === 'disc'} onclick={() => onopen('disc')}>
    <Disc size={16} /><span><b>Disc</b><small>in the drive</small></span>
  </button>
  <button aria-pressed={open === 'feeds'} onclick={() => onopen('feeds')}>
    <Rss size={16} /><span
      ><b>Feeds</b><small
        >{session.library.feeds.length === 0
          ? 'podcasts'
          : `${session.library.feeds.length} kept, ${newOnes} new`}</small
      ></span
    >
  </button>
  <button aria-pressed={open === 'shelf'} onclick={() => onopen('shelf')}>
    <Cloud size={16} /><span><b>Remote shelf</b><small>by address</small></span>
  </button>
  <button aria-pressed={open === 'watched'} onclick={() => onopen('watched')}>
    <Eye size={16} /><span
      ><b>Watched folder</b><small
        >{session.library.watched.length === 0
          ? 'none yet'
          : counted(session.library.watched.length, 'tree')}</small
      ></span
    >
  </button>
  {#if unreadCount + asideCount > 0}
    <button class={unreadCount > 0 ? 'bad' : 'aside'} aria-expanded={unreadShown} onclick={onunread}>
      <span
        ><b
          >{unreadCount > 0
            ? `${counted(unreadCount, 'file')} not read`
            : `${counted(asideCount, 'file')} set aside`}</b
        ><small>{unreadShown ? 'close the list' : unreadCount > 0 ? 'see why' : 'see which'}</small></span
      >
    </button>
  {/if}
</div>

<style>
  .sources {
    display: flex;
    align-items: stretch;
    height: 44px;
    flex: none;
    background: var(--base);
    border-bottom: 1px solid var(--rule);
  }
  .sources > b {
    align-self: center;
    width: 78px;
    flex: none;
    padding-left: 16px;
    line-height: 1.2;
    font-family: var(--font-head);
  }
  .sources button {
    display: flex;
    align-items: center;
    gap: 6px;
    padding: 0 9px;
    white-space: nowrap;
    border-left: 1px solid var(--rule);
    text-align: left;
    line-height: 1.25;
  }
  .sources button:hover:not(:disabled) {
    background: var(--select);
  }
  .sources button span {
    display: grid;
  }
  .sources small {
    font-size: var(--t-small);
    color: var(--ink-2);
  }
  .sources button[aria-pressed='true'] {
    background: var(--primary-tint);
    box-shadow: inset 0 -3px 0 var(--primary);
  }
  .sources .bad {
    margin-left: auto;
  }
  .bad b {
    color: var(--blocks-ink);
  }
  @media (max-width: 760px) {
    .sources {
      overflow-x: auto;
    }
    .sources > * {
      flex: none;
    }
  }
</style>
