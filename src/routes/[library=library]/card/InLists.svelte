<script lang="ts">
  import { format } from 'date-fns/format';
  import { goto } from '$app/navigation';
  import { page } from '$app/state';
  import type { Item } from '$lib/core/items';
  import type { PlayList, WhyListed } from '$lib/core/lists';
  import { getSession } from '$lib/state/session.svelte';
  import { counted } from '$lib/ui/words/amounts';
  import { LIST_TYPES, addedWords, timesWords, whyWords } from '$lib/ui/words/list-words';

  /** Which lists an item is in and why; a field that adds the selected items to a list. */
  let { items }: { items: readonly Item[] } = $props();
  const session = getSession();
  const { lists, library, work } = session;

  const one = $derived(items.length === 1 ? (items[0] ?? null) : null);
  let typed = $state('');
  let trouble = $state<string | null>(null);

  interface Told {
    readonly list: PlayList;
    readonly words: string;
    readonly isIn: boolean;
  }
  /** What was told, and of which item. */
  let told = $state.raw<{ readonly of: Item; readonly lines: readonly Told[] } | null>(null);
  $effect(() => {
    void library.lists;
    const of = one;
    if (!of || library.lists.length === 0) return;
    let stale = false;
    void tell(of).then(
      (lines) => {
        if (!stale) told = { of, lines };
      },
      // The list desk tells why lists could not be looked at, on their own board.
      () => {},
    );
    return () => (stale = true);
  });

  async function tell(item: Item): Promise<readonly Told[]> {
    const standing = new Set((await lists.listsOf(item.id)).map(({ id }) => id));
    const lines: Told[] = [];
    for (const list of library.lists) {
      const isIn = standing.has(list.id);
      // Lists that fill themselves say why an item is not in them: of the one that is looked at.
      if (!isIn && !(list.type === 'rule' && list.id === lists.chosenId)) continue;
      const why: WhyListed | null = list.type === 'rule' ? await lists.why(list.id, item.id) : null;
      const words =
        why && list.type === 'rule' ? whyWords(why, list.query) : LIST_TYPES[list.type].toLowerCase();
      lines.push({ list, words, isIn });
    }
    return lines;
  }

  function add() {
    const name = typed.trim();
    if (name === '') return;
    const ids = items.map(({ id }) => id);
    const { list, put } = lists.add(name, ids, ids.length > 1 ? { name: null } : null);
    trouble = put ? null : `Nothing can be added to ${list.name} by hand.`;
    if (!put) return;
    work.say(addedWords(put, list.name));
    typed = '';
  }

  async function open(list: PlayList) {
    lists.choose(list.id);
    await goto(`/${page.params.library}/lists`);
  }

  /** How often they were played to the end, and when last. */
  const played = $derived.by(() => {
    const { playsOf } = lists.world;
    const sum = { count: 0, at: 0 };
    for (const { id } of items) {
      const play = playsOf(id);
      if (!play) continue;
      sum.count += play.count;
      sum.at = Math.max(sum.at, play.at);
    }
    return sum;
  });

  function forget() {
    const ids = new Set(items.map(({ id }) => id));
    library.forgetPlays(ids, `Forget how often ${counted(ids.size, 'item was', 'items were')} played`);
  }

  const uid = $props.id();
  const hands = $derived(library.lists.filter(({ type }) => type === 'hand'));
</script>

<section>
  <h3>Which lists {one ? 'is it' : 'are they'} in?</h3>
  {#if one && told?.of.id === one.id}
    {#each told.lines as { list, words, isIn } (list.id)}
      <p class="line">
        <button class="act" onclick={() => open(list)}>{isIn ? '' : 'not in '}{list.name}</button>
        <span class="quiet">{words}</span>
      </p>
    {:else}<p class="quiet">In no list.</p>{/each}
  {:else if one && library.lists.length === 0}<p class="quiet">There are no lists yet.</p>{/if}
  {#if played.count > 0}
    <p>
      Played to the end {timesWords(played.count)}, last on {format(played.at, 'd MMMM yyyy')}.
      <button class="act" disabled={!library.mayWrite} onclick={forget}>Forget this</button>
    </p>
  {/if}
  <form
    onsubmit={(event) => {
      event.preventDefault();
      add();
    }}
  >
    <input
      class="input"
      aria-label="Add to a list"
      placeholder="Add to a list, or begin one"
      list="{uid}-lists"
      autocomplete="off"
      bind:value={typed}
    />
    <datalist id="{uid}-lists"
      >{#each hands as { id, name } (id)}<option value={name}></option>{/each}</datalist
    >
    <button class="btn" disabled={typed.trim() === '' || !library.mayWrite}>Add</button>
  </form>
  {#if trouble}<p class="trouble" role="alert">{trouble}</p>{/if}
</section>

<style>
  .line {
    display: grid;
    grid-template-columns: minmax(0, 130px) minmax(0, 1fr);
    gap: 10px;
  }
  form {
    display: flex;
    gap: 8px;
    margin-top: 8px;
  }
  .input {
    flex: 1;
    font-size: inherit;
  }
</style>
