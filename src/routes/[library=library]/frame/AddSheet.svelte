<script lang="ts">
  import { fieldsOf } from '$lib/core/items';
  import { countEntries, type HandList } from '$lib/core/lists';
  import { sameName } from '$lib/core/query';
  import { getSession } from '$lib/state/session.svelte';
  import Sheet from '$lib/ui/Sheet.svelte';
  import { counted } from '$lib/ui/words/amounts';
  import { addedWords } from '$lib/ui/words/list-words';

  /** Adds what is selected to a list, by its name: one that is there, or a new one. */
  let { onclose }: { onclose: () => void } = $props();
  const session = getSession();
  const { lists, library, scope, selection, work } = session;

  const items = scope.inRowOrder(selection.items);
  const album = (() => {
    const albums = new Set(items.map((item) => fieldsOf(item).album));
    const [only] = albums;
    return albums.size === 1 ? (only ?? '') : '';
  })();

  const MOST = 8;
  let typed = $state('');
  let at = $state(0);
  let asSuite = $state(items.length > 1 && album !== '');
  let suiteName = $state(album);

  const hands = $derived(library.lists.filter((list): list is HandList => list.type === 'hand'));
  const matching = $derived(
    hands
      .filter(({ name }) => name.toLowerCase().includes(typed.trim().toLowerCase()))
      .slice(0, MOST)
      .map((list) => ({ name: list.name, count: countEntries(list) })),
  );
  const isNew = $derived(typed.trim() !== '' && !hands.some(({ name }) => sameName(name, typed)));
  const offered = $derived([
    ...matching.map((one) => ({ ...one, isNew: false })),
    ...(isNew ? [{ name: typed.trim(), count: 0, isNew: true }] : []),
  ]);
  let trouble = $state<string | null>(null);

  function add(name: string) {
    const ids = items.map(({ id }) => id);
    const { list, put } = lists.add(name, ids, asSuite ? { name: suiteName.trim() || null } : null);
    if (!put) {
      trouble = `${list.name} ${list.type === 'rule' ? 'is filled by its rule' : 'mirrors its folder'}: items cannot be added by hand. Choose another name.`;
      return;
    }
    work.say(addedWords(put, list.name));
    onclose();
  }

  function onkeydown(event: KeyboardEvent) {
    const count = offered.length;
    if ((event.key === 'ArrowDown' || event.key === 'ArrowUp') && count > 0) {
      event.preventDefault();
      at = (at + (event.key === 'ArrowDown' ? 1 : -1) + count) % count;
    } else if (event.key === 'Enter') {
      event.preventDefault();
      const chosen = offered[at];
      if (chosen) add(chosen.name);
    }
  }
</script>

<Sheet title="Add {counted(items.length, 'item')} to a list" {onclose}>
  {#if items.length === 0}
    <p>Nothing is selected. Select items on any board first.</p>
  {:else}
    <input
      class="input"
      role="combobox"
      aria-label="List"
      placeholder={hands.length > 0 ? 'Name of a list, or of a new one' : 'Name of a new list'}
      aria-expanded={offered.length > 0}
      aria-controls="lists-offered"
      aria-activedescendant={offered.length > 0 ? `offered-${at}` : undefined}
      autocomplete="off"
      spellcheck="false"
      bind:value={typed}
      oninput={() => {
        at = 0;
        trouble = null;
      }}
      {onkeydown}
    />
    {#if offered.length > 0}
      <ul id="lists-offered" role="listbox" aria-label="Lists">
        {#each offered as one, index (one.name)}
          <!-- The list box is operated from its field. -->
          <!-- svelte-ignore a11y_click_events_have_key_events -->
          <li
            id="offered-{index}"
            role="option"
            aria-selected={index === at}
            onmousedown={(event) => event.preventDefault()}
            onclick={() => add(one.name)}
          >
            {#if one.isNew}New list “{one.name}”{:else}<b>{one.name}</b>
              <span class="quiet">{counted(one.count, 'entry', 'entries')}</span>{/if}
          </li>
        {/each}
      </ul>
    {/if}
    {#if trouble}<p class="trouble" role="alert">{trouble}</p>{/if}
    {#if items.length > 1}<div class="how">
        <label><input type="checkbox" class="checkbox" bind:checked={asSuite} /> as one suite</label>
        <input
          class="input"
          aria-label="Name of the suite"
          placeholder="without a name"
          disabled={!asSuite}
          bind:value={suiteName}
        />
      </div>{/if}
    <p class="quiet hint">
      {items.length > 1 ? 'Items in a suite stay together. ' : ''}<span class="key">Enter</span> adds to the selected
      list.
    </p>
  {/if}
</Sheet>

<style>
  .hint {
    margin-top: 12px;
  }
  .input {
    width: 100%;
    margin-top: 12px;
    font-size: var(--t-read);
  }
  ul {
    border: 1px solid var(--rule-strong);
    border-top: none;
  }
  li {
    display: flex;
    justify-content: space-between;
    gap: 16px;
    padding: 4px 10px;
    font-size: var(--t-read);
    cursor: pointer;
  }
  li[aria-selected='true'],
  li:hover {
    background: var(--select);
  }
  .how {
    display: flex;
    align-items: center;
    gap: 12px;
    margin: 12px 0;
  }
  .how label {
    display: flex;
    gap: 6px;
    white-space: nowrap;
  }
  .how .input {
    margin: 0;
  }
</style>
