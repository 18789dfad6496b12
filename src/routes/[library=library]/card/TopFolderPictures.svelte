<script lang="ts">
  import { fieldsOf, titleOf } from '$lib/core/items';
  import { folderOf, nameOf } from '$lib/core/paths';
  import type { TopFolderPicture } from '$lib/core/plan';
  import type { PlayerDesk } from '$lib/state/player/desk.svelte';
  import { getSession } from '$lib/state/session.svelte';
  import { counted } from '$lib/ui/words/amounts';
  import Thumbnail from './Thumbnail.svelte';

  /** The picture of each top folder: from its albums, or the curator's own. */
  let { desk }: { desk: PlayerDesk } = $props();
  const session = getSession();

  const MOST = 40;
  let topFolders = $state.raw<readonly TopFolderPicture[]>([]);
  let trouble = $state<string | null>(null);
  let picker = $state<HTMLInputElement>();
  let wanted = '';

  // The plan stays in its worker, which tells of these when it was made anew.
  $effect(() => {
    void desk.rehearsal.at;
    let isOver = false;
    void desk.rehearsal.topFolders().then((told) => {
      if (!isOver) topFolders = told;
    });
    return () => (isOver = true);
  });

  const locked = $derived(desk.runs.isRunning || !session.library.mayWrite);
  const topFolderOf = (path: string) => nameOf(folderOf(path)) || desk.name;

  const itemOf = ({ from }: TopFolderPicture) => (from ? (session.library.findAll([from])[0] ?? null) : null);

  function fromWhere(topFolder: TopFolderPicture): string {
    const { picture } = topFolder;
    if (!picture) return 'none yet';
    if (picture.chosen && isOwn(picture.chosen)) return 'chosen for it';
    const item = itemOf(topFolder);
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
      desk.decisions.setPicture(path, picture, `Picture of ${topFolderOf(path)}`);
    } catch (error) {
      trouble = `${file.name}: ${error instanceof Error ? error.message : String(error)}. Choose a JPEG or PNG.`;
    }
  }
</script>

{#if topFolders.length > 0}
  <section>
    <h3>
      What do its top folders look like?<small>{counted(topFolders.length, 'top folder')}</small>
    </h3>
    {#if trouble}<p role="alert" class="wrong">{trouble}</p>{/if}
    <ul>
      {#each topFolders.slice(0, MOST) as topFolder (topFolder.path)}
        {@const name = topFolderOf(topFolder.path)}
        <li>
          {#if topFolder.picture}
            <Thumbnail item={itemOf(topFolder)} picture={topFolder.picture} alt="Picture of {name}" />
          {:else}<span></span>{/if}
          <div class="who">
            <b>{name}</b>
            <span class="quiet">{fromWhere(topFolder)}</span>
          </div>
          <div class="acts">
            <button
              class="act"
              disabled={locked}
              aria-label="Choose a picture for {name}"
              onclick={() => ask(topFolder.path)}>Choose</button
            >
            {#if topFolder.picture?.chosen && isOwn(topFolder.picture.chosen)}
              <button
                class="act"
                disabled={locked}
                aria-label="Use an album picture for {name}"
                onclick={() => desk.decisions.setPicture(topFolder.path, null, `Picture of ${name}`)}
                >From albums</button
              >
            {/if}
          </div>
        </li>
      {/each}
    </ul>
    {#if topFolders.length > MOST}<p class="quiet">and {topFolders.length - MOST} more</p>{/if}
    <input
      bind:this={picker}
      type="file"
      accept="image/*"
      hidden
      aria-label="Picture file of a top folder"
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
