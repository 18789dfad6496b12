<script lang="ts">
  import Files from '@lucide/svelte/icons/files';
  import Folder from '@lucide/svelte/icons/folder';
  import Ship from '@lucide/svelte/icons/ship';
  import { page } from '$app/state';
  import { STATIONS } from '../frame/stations';
  import type { PanelName } from './panels';

  /** What an empty library offers: where to begin, and in one look what each station is for. */
  let {
    onfolder,
    onfiles,
    ondemo,
    onpanel,
  }: {
    onfolder: () => void;
    onfiles: () => void;
    ondemo: () => void;
    onpanel: (name: PanelName) => void;
  } = $props();

  const DOES: Readonly<Record<(typeof STATIONS)[number]['board'], { does: string; shows: string }>> = {
    intake: {
      does: 'Take files in and confirm what kind each one is.',
      shows: 'Every guess comes with its evidence, every broken file with the reason.',
    },
    identify: {
      does: 'Compare files with a reference, entry by entry.',
      shows: 'Lengths to scale, swapped tracks as crossings; untitled songs recognised by sound.',
    },
    describe: {
      does: 'Fill in what players read: titles, artists, dates, artwork.',
      shows: 'See which items would split off from their release, and the values that cause it.',
    },
    prepare: {
      does: 'Convert what a player cannot play.',
      shows: 'What plays where, and why not; twins are made and checked here, originals stay unchanged.',
    },
    lists: {
      does: 'Make playlists by hand or by rule.',
      shows: 'See what each list contains, and why an item is in it or not.',
    },
    players: {
      does: 'Bring every player up to date and keep it that way.',
      shows: 'See what each would show before anything is written. Every run can be taken back.',
    },
  };
</script>

<section class="empty">
  <div class="begin">
    <h1>Take in your files</h1>
    <p>
      Drop a folder here, or choose one. Lectorum reads every file, suggests what kind it is and says why.
      Your files stay as they are.
    </p>
    <div class="starts">
      <button class="btn btn-primary" onclick={onfolder}><Folder size={16} /> Choose a folder</button>
      <button class="btn" onclick={onfiles}><Files size={16} /> Choose files</button>
      <button class="btn" onclick={ondemo}><Ship size={16} /> Load the demo</button>
    </div>
    <p>
      Or start from
      <button class="act" onclick={() => onpanel('disc')}>a disc</button>,
      <button class="act" onclick={() => onpanel('feeds')}>a podcast feed</button>,
      <button class="act" onclick={() => onpanel('shelf')}>a remote shelf</button> or
      <button class="act" onclick={() => onpanel('watched')}>a watched folder</button>.
    </p>
    <p class="quiet">
      The demo is the household of Skerry House, in a library of its own: a playback server, a kitchen
      jukebox, and a phone whose files have since been changed by hand.
    </p>
  </div>
  <ol aria-label="The stations">
    {#each STATIONS as { board, name }, index (board)}
      <li>
        <a href="/{page.params.library}/{board}"><span class="number">{index + 1}</span>{name}</a>
        <p>{DOES[board].does}</p>
        <p class="quiet">{DOES[board].shows}</p>
      </li>
    {/each}
  </ol>
</section>

<style>
  .empty {
    display: grid;
    grid-template-columns: minmax(300px, 5fr) minmax(280px, 4fr);
    gap: 56px;
    align-items: start;
    padding: 48px;
    overflow-y: auto;
    font-size: var(--t-sub);
  }
  .begin {
    display: grid;
    gap: 16px;
  }
  h1 {
    font-size: 24px;
  }
  .starts {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
  }
  ol {
    display: grid;
    border-left: 2px solid var(--rule-strong);
  }
  li {
    position: relative;
    padding: 0 0 22px 24px;
  }
  li:last-child {
    padding-bottom: 0;
  }
  /* A mark on the line for each station, as along a coast. */
  li::before {
    content: '';
    position: absolute;
    left: -7px;
    top: 5px;
    width: 12px;
    height: 12px;
    border: 2px solid var(--primary);
    background: var(--base);
  }
  li a {
    font: 600 var(--t-title) var(--font-head);
  }
  li a:hover {
    text-decoration: underline;
    text-underline-offset: 3px;
  }
  .number {
    margin-right: 8px;
    color: var(--ink-3);
    font-weight: 400;
  }
  li .quiet {
    font-size: var(--t-read);
  }
</style>
