<script lang="ts">
  import Menu from '@lucide/svelte/icons/menu';
  import Moon from '@lucide/svelte/icons/moon';
  import Search from '@lucide/svelte/icons/search';
  import Sun from '@lucide/svelte/icons/sun';
  import Undo from '@lucide/svelte/icons/undo-2';
  import { page } from '$app/state';
  import { getSession } from '$lib/state/session.svelte';
  import { theme } from '$lib/state/theme.svelte';
  import type { Board } from '$lib/state/scope.svelte';
  import { counted } from '$lib/ui/words/amounts';
  import { STATIONS } from './stations';

  let { board, onfind, onadd }: { board: Board; onfind: () => void; onadd: () => void } = $props();
  const session = getSession();

  interface Waiting {
    readonly count: number;
    readonly word: string;
    /** Said when nothing waits. */
    readonly none: string;
  }
  /** Entries of lists that no item stands for, as far as lists were looked at. */
  const openEntries = $derived([...session.lists.digests.values()].reduce((sum, { open }) => sum + open, 0));
  const waits = $derived<Record<Board, Waiting>>({
    intake: {
      count: session.counts.waiting,
      word: 'to confirm',
      none: 'all confirmed',
    },
    identify: {
      count: session.identify.sets.unmatched,
      word: 'unmatched',
      none: 'all identified',
    },
    describe: {
      count: session.counts.gaps + session.splits,
      word: `${session.counts.gaps === 1 ? 'gap' : 'gaps'}${session.splits > 0 ? `, ${counted(session.splits, 'split')}` : ''}`,
      none: 'no gaps',
    },
    prepare: { count: session.toMake, word: 'to make', none: 'all playable' },
    lists: {
      count: session.library.lists.length,
      word: `${session.library.lists.length === 1 ? 'list' : 'lists'}${openEntries > 0 ? `, ${openEntries} open` : ''}`,
      none: 'no lists',
    },
    players: { count: session.players.behind, word: 'out of date', none: 'up to date' },
  });
  const last = $derived(session.library.history.done.at(-1));
  /** On a phone the stages are a menu. */
  let isOpen = $state(false);
  const undoes = $derived(
    last ? `Undo ${last.label.charAt(0).toLowerCase()}${last.label.slice(1)}` : 'Nothing to undo',
  );
</script>

<svelte:window onkeydown={(event) => event.key === 'Escape' && (isOpen = false)} />
<header>
  <a class="mark" href="/{page.params.library}/intake">Lectorum</a>
  <button class="menu" aria-expanded={isOpen} aria-controls="stages" onclick={() => (isOpen = !isOpen)}>
    <Menu size={16} />{STATIONS.find((one) => one.board === board)?.name ?? ''}
  </button>
  <nav id="stages" aria-label="Stages" class:open={isOpen}>
    {#each STATIONS as { board: own, name }, index (own)}
      <a
        href="/{page.params.library}/{own}"
        aria-current={own === board ? 'page' : undefined}
        aria-keyshortcuts={String(index + 1)}
        onclick={() => (isOpen = false)}
        class:takes={own === 'lists' && session.dragging}
        ondragover={(event) => own === 'lists' && session.dragging && event.preventDefault()}
        ondrop={(event) => {
          if (own !== 'lists' || !session.dragging) return;
          event.preventDefault();
          session.dragging = false;
          onadd();
        }}
      >
        <b>{name}</b>
        <span>
          {#if waits[own].count > 0}
            <strong
              >{(own === 'describe' ? session.counts.gaps : waits[own].count).toLocaleString('en')}</strong
            >
            <span class="word">{waits[own].word}</span>
          {:else if session.library.items.length === 0 && own !== 'lists'}nothing yet{:else}{waits[own]
              .none}{/if}
        </span>
      </a>
    {/each}
  </nav>
  <div class="tools">
    {#if page.params.library === 'demo'}<span class="demo">demo of Skerry House</span>{/if}
    <button class="find" onclick={onfind}
      ><Search size={15} /> Find or do <span class="key">Ctrl K</span></button
    >
    <button
      class="tool"
      disabled={!last}
      title={undoes}
      onclick={() => session.undo()}
      aria-keyshortcuts="Control+Z"
    >
      <Undo size={15} /><span>{undoes}</span>
    </button>
    <button
      class="tool"
      onclick={() => theme.toggle()}
      aria-label={theme.dark ? 'Use the light theme' : 'Use the dark theme'}
    >
      {#if theme.dark}<Sun size={16} />{:else}<Moon size={16} />{/if}
    </button>
  </div>
</header>

<style>
  header {
    display: flex;
    align-items: stretch;
    height: var(--h-stage);
    flex: none;
    border-bottom: 1px solid var(--rule-strong);
  }
  .mark {
    display: flex;
    align-items: center;
    width: 132px;
    padding-left: 16px;
    font: 600 var(--t-mark) / 1 var(--font-head);
  }
  nav {
    display: flex;
  }
  nav a {
    position: relative;
    display: flex;
    flex-direction: column;
    justify-content: center;
    min-width: 92px;
    padding: 0 10px;
    white-space: nowrap;
    border-left: 1px solid var(--rule);
    font-size: var(--t-small);
    border-bottom: 4px solid var(--rule);
  }
  nav a:last-child {
    border-right: 1px solid var(--rule);
  }
  nav a:hover,
  nav a.takes {
    background: var(--select);
  }
  nav a.takes {
    outline: 2px dashed var(--primary);
    outline-offset: -3px;
  }
  nav b {
    font: 600 var(--t-sub) / 1.3 var(--font-head);
  }
  nav a[aria-current] {
    border-bottom-color: var(--primary);
  }
  nav a[aria-current] b {
    color: var(--primary-ink);
  }
  nav a[aria-current]::after {
    content: '';
    position: absolute;
    left: 50%;
    bottom: -10px;
    border: 6px solid transparent;
    border-top-color: var(--primary);
    border-bottom: 0;
    translate: -50% 0;
  }
  .tools {
    display: flex;
    align-items: center;
    gap: 10px;
    margin-left: auto;
    padding: 0 16px 0 10px;
    min-width: 0;
  }
  .demo {
    font-size: var(--t-small);
    color: var(--ink-3);
    white-space: nowrap;
  }
  .find {
    display: flex;
    align-items: center;
    gap: 8px;
    height: 28px;
    padding: 0 8px;
    border: 1px solid var(--rule-strong);
    background: var(--raised);
    color: var(--ink-2);
    white-space: nowrap;
  }
  .tool {
    display: flex;
    align-items: center;
    gap: 6px;
    height: 28px;
    max-width: 150px;
  }
  .tool :global(svg) {
    flex: none;
  }
  .tool span {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .tool:disabled {
    color: var(--ink-3);
  }
  .menu {
    display: none;
  }
  @media (max-width: 1200px) {
    nav a {
      min-width: 84px;
    }
    .word {
      display: none;
    }
    .demo {
      display: none;
    }
  }
  @media (max-width: 760px) {
    .mark {
      width: auto;
      padding: 0 10px 0 12px;
      font-size: var(--t-sub);
    }
    .menu {
      display: flex;
      align-items: center;
      gap: 6px;
      padding: 0 10px;
      border-inline: 1px solid var(--rule);
      font: 600 var(--t-sub) var(--font-head);
    }
    nav {
      display: none;
    }
    nav.open {
      position: absolute;
      inset: var(--h-stage) 0 auto;
      z-index: 8;
      display: grid;
      border-bottom: 1px solid var(--rule-strong);
      background: var(--base);
    }
    nav a {
      flex-direction: row;
      justify-content: space-between;
      align-items: center;
      min-height: 44px;
      padding: 0 16px;
      border: 0;
      border-left: 4px solid transparent;
    }
    nav a[aria-current] {
      border-left-color: var(--primary);
    }
    nav a[aria-current]::after {
      display: none;
    }
    .word {
      display: inline;
    }
    .tools {
      gap: 12px;
      padding-right: 12px;
    }
    .find {
      width: 32px;
      overflow: hidden;
    }
    .find :global(svg) {
      flex: none;
    }
    .tool span {
      display: none;
    }
  }
</style>
