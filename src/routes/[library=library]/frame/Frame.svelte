<script lang="ts">
  import { onMount, untrack, type Snippet } from 'svelte';
  import { page } from '$app/state';
  import { provideSession, Session } from '$lib/state/session.svelte';
  import type { Board } from '$lib/state/scope.svelte';
  import Card from '../card/Card.svelte';
  import Dock from './Dock.svelte';
  import ScopeBar from './ScopeBar.svelte';
  import Notices from './Notices.svelte';
  import StageStrip from './StageStrip.svelte';
  import { FieldUndo } from './field-undo';
  import { frameKeys } from './frame-keys';

  const PHONE = '(max-width: 760px)';

  let { library, children }: { library: string; children: Snippet } = $props();

  // The layout makes this component anew for each library.
  // svelte-ignore state_referenced_locally
  const session = provideSession(new Session(library));
  const undo = new FieldUndo();
  /** On a phone the card is a sheet over the board, opened when it is wanted. */
  let folded = $state(matchMedia(PHONE).matches);
  let finding = $state(false);
  let helping = $state(false);
  let adding = $state(false);
  const board = $derived((page.url.pathname.split('/')[2] ?? 'intake') as Board);

  onMount(() => {
    void session.open().then(startWatching);
    const narrow = matchMedia('(max-width: 1200px)');
    folded = narrow.matches;
    const follow = () => (folded = narrow.matches);
    narrow.addEventListener('change', follow);
    return () => {
      narrow.removeEventListener('change', follow);
      session.close();
    };
  });

  /** Watched folders are looked at once the library is there; what they need loads only then. */
  async function startWatching() {
    if (session.phase !== 'open' || session.library.watched.length === 0 || !session.library.mayWrite) return;
    const { watchDesk } = await import('./watching');
    await watchDesk(session).start();
  }

  $effect(() => {
    const shown = board;
    untrack(() => session.scope.show(shown));
  });

  // What a query asks of lists, players and arrivals changes without any item.
  $effect(() => {
    void session.lists.world;
    untrack(() => session.followWorld());
  });

  // What a player asks for changes what counts as a gap.
  $effect(() => {
    void session.desk.rulebook;
    untrack(() => session.followRulebook());
  });

  // A list that changes changes what its players get, though no item does.
  $effect(() => {
    void session.library.lists;
    untrack(() => {
      const isOnPlayers = session.players.list.some(({ player }) => player.selection.lists !== undefined);
      if (session.phase === 'open' && isOnPlayers) session.players.planSoon();
    });
  });

  // A list may be limited by what is free on a player.
  $effect(() => {
    void session.lists.free;
    untrack(() => session.lists.lookSoon());
  });

  // The plan and the gatherings follow every edit; they are made in workers, once edits have settled.
  $effect(() => {
    void session.library.items;
    void session.library.players;
    if (session.phase !== 'open' || session.intake.busy || session.library.reading) return;
    untrack(() => session.followEdits());
  });

  // Somebody may look at players before there is anything to plan for them.
  $effect(() => {
    void session.scope.board;
    if (session.phase === 'open') untrack(() => void session.openPlayers());
  });
</script>

<svelte:window
  onkeydown={(event) => {
    undo.pressed(event);
    const open = {
      find: () => (finding = true),
      help: () => (helping = true),
      add: () => (adding = true),
    };
    frameKeys(event, session, open, undo.isTyping(event.target));
  }}
  onfocusin={(event) => undo.entered(event)}
  onchange={(event) => undo.took(event)}
  onbeforeinput={(event) => undo.before(event)}
/>

<div class="frame" class:folded={folded || session.aside}>
  <StageStrip {board} onfind={() => (finding = true)} onadd={() => (adding = true)} />
  <Notices />
  <ScopeBar />
  <div class="middle">
    <main class="board" aria-label="{board} board">
      {#if session.phase === 'open' || session.library.reading}
        {@render children()}
      {:else if session.phase === 'failed'}
        <div class="state" role="alert">
          <h1>The library could not be opened</h1>
          <p>{session.trouble}. Nothing was changed. Reload the page with the newest version of Lectorum.</p>
        </div>
      {:else}
        <p class="state quiet">Opening the library</p>
      {/if}
    </main>
    <Card folded={folded || session.aside} {board} onfold={() => (folded = !folded)} />
  </div>
  <Dock />
</div>

{#if finding}
  {#await import('./Finder.svelte') then { default: Finder }}
    <Finder onclose={() => (finding = false)} onhelp={() => (helping = true)} onadd={() => (adding = true)} />
  {/await}
{/if}
{#if adding}
  {#await import('./AddSheet.svelte') then { default: AddSheet }}
    <AddSheet onclose={() => (adding = false)} />
  {/await}
{/if}
{#if helping}
  {#await import('./KeyHelp.svelte') then { default: KeyHelp }}
    <KeyHelp onclose={() => (helping = false)} />
  {/await}
{/if}

<style>
  .frame {
    display: flex;
    flex-direction: column;
    height: 100vh;
    min-width: 1024px;
    overflow: hidden;
  }
  .middle {
    display: grid;
    grid-template-columns: minmax(0, 1fr) var(--w-card);
    flex: 1;
    min-height: 0;
  }
  .folded .middle {
    grid-template-columns: minmax(0, 1fr) 40px;
  }
  .board {
    display: flex;
    flex-direction: column;
    min-height: 0;
    min-width: 0;
    background: var(--raised);
  }
  @media (max-width: 760px) {
    .frame {
      height: 100dvh;
      min-width: 0;
    }
    .middle,
    .folded .middle {
      position: relative;
      grid-template: minmax(0, 1fr) / minmax(0, 1fr);
    }
    .folded .middle {
      grid-template-rows: minmax(0, 1fr) 44px;
    }
    /* What needs width scrolls in itself. */
    .board {
      overflow-x: auto;
    }
  }
  .state {
    padding: 48px 32px;
    max-width: 560px;
  }
</style>
