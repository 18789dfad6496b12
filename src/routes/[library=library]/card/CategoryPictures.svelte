<script lang="ts">
  import { fieldsOf, titleOf } from '$lib/core/items';
  import { folderOf, nameOf } from '$lib/core/paths';
  import type { CategoryPicture } from '$lib/core/plan';
  import type { PlayerDesk } from '$lib/state/player-desk.svelte';
  import { getSession } from '$lib/state/session.svelte';
  import { counted } from '$lib/ui/words/amounts';
  import Thumbnail from './Thumbnail.svelte';

  /** The picture of each category: from its albums, or the curator's own. */
  let { desk }: { desk: PlayerDesk } = $props();
  const session = getSession();

  const MOST = 40;
  let categories = $state.raw<readonly CategoryPicture[]>([]);
  let trouble = $state<string | null>(null);
  let picker = $state<HTMLInputElement>();
  let wanted = '';

  // The plan stays in its worker, which tells of these when it was made anew.
  $effect(() => {
    void desk.plannedAt;
    let isOver = false;
    void desk.categories().then((told) => {
      if (!isOver) categories = told;
    });
    return () => (isOver = true);
  });

  const locked = $derived(desk.running || !session.library.mayWrite);
  const categoryOf = (path: string) => nameOf(folderOf(path)) || desk.name;

  const itemOf = ({ from }: CategoryPicture) => (from ? (session.library.findAll([from])[0] ?? null) : null);

  function fromWhere(category: CategoryPicture): string {
    const { picture } = category;
    if (!picture) return 'none yet';
    if (picture.chosen && isOwn(picture.chosen)) return 'chosen for it';
    const item = itemOf(category);
    return item ? `from ${fieldsOf(item).album ?? titleOf(item)}` : 'from its albums';
  }

  const isOwn = (id: string) => desk.target.choices.pictures.some(({ picture }) => picture.id === id);

  function ask(path: string) {
    wanted = path;
    picker?.click();
  }

  async function set(file: File | undefined) {
    if (!file) return;
    trouble = null;
    const path = wanted;
    try {
      const picture = await session.pictures.keep(file, null);
      desk.decisions.setPicture(path, picture, `Picture of ${categoryOf(path)}`);
    } catch (error) {
      trouble = `${file.name}: ${error instanceof Error ? error.message : String(error)}. Choose a JPEG or PNG.`;
    }
  }
</script>

{#if categories.length > 0}
  <section>
    <h3>
      What do its categories look like?<small>{counted(categories.length, 'category', 'categories')}</small>
    </h3>
    {#if trouble}<p role="alert" class="wrong">{trouble}</p>{/if}
    <ul>
      {#each categories.slice(0, MOST) as category (category.path)}
        {@const name = categoryOf(category.path)}
        <li>
          {#if category.picture}
            <Thumbnail item={itemOf(category)} picture={category.picture} alt="Picture of {name}" />
          {:else}<span></span>{/if}
          <div class="who">
            <b>{name}</b>
            <span class="quiet">{fromWhere(category)}</span>
          </div>
          <div class="acts">
            <button
              class="act"
              disabled={locked}
              aria-label="Choose a picture for {name}"
              onclick={() => ask(category.path)}>Choose</button
            >
            {#if category.picture?.chosen && isOwn(category.picture.chosen)}
              <button
                class="act"
                disabled={locked}
                aria-label="Take the picture of {name} from its albums"
                onclick={() => desk.decisions.setPicture(category.path, null, `Picture of ${name}`)}
                >From albums</button
              >
            {/if}
          </div>
        </li>
      {/each}
    </ul>
    {#if categories.length > MOST}<p class="quiet">and {categories.length - MOST} more</p>{/if}
    <input
      bind:this={picker}
      type="file"
      accept="image/*"
      hidden
      aria-label="Picture file of a category"
      onchange={(event) => {
        void set(event.currentTarget.files?.[0]);
        event.currentTarget.value = '';
      }}
    />
  </section>
{/if}

<style>
  li {
    --size: 36px;
    display: grid;
    grid-template-columns: 40px 1fr auto;
    align-items: center;
    gap: 8px;
    min-height: 46px;
  }
  .who {
    display: grid;
    min-width: 0;
  }
  .who > * {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .acts {
    display: grid;
    justify-items: end;
  }
  .wrong {
    color: var(--blocks-ink);
  }
</style>
