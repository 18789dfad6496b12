<script lang="ts">
  import { page } from '$app/state';
  import type { ColumnKey, GroupRow } from '$lib/core/browse';
  import { FIELDS, fieldsOf, kindOf, releaseKey, type Item, type ItemId } from '$lib/core/items';
  import type { PlayerId } from '$lib/core/library';
  import { shelvedKinds, type Finding } from '$lib/core/plan';
  import { getSession } from '$lib/state/session.svelte';
  import Choice from '$lib/ui/Choice.svelte';
  import ColumnSheet from './ColumnSheet.svelte';
  import FieldLedger from './FieldLedger.svelte';
  import ReleaseLedger from './ReleaseLedger.svelte';
  import SplitMatrix from './SplitMatrix.svelte';

  const session = getSession();
  const { library, scope, selection } = session;
  const isText = (key: ColumnKey) => FIELDS.some(({ name, type }) => name === key && /^texts?$/.test(type));
  const panel = $derived(session.surface);
  const close = () => (session.surface = null);
  /** What words and chapters are about: one of them at a time. */
  const one = $derived(selection.items.length === 1 ? (selection.items[0] as Item) : null);

  const splits = $derived(session.desk.rehearsal.plan?.splits.first ?? []);
  const splitOf = $derived(
    new Map<ItemId, Finding>(splits.flatMap((finding) => finding.items.map((id) => [id, finding] as const))),
  );
  /** The split that the selection is about, if any. */
  const shownSplit = $derived.by(() => {
    if (splits.length === 0) return null;
    const byAlbum = new Map(splits.toReversed().map((split) => [split.words.album, split]));
    for (const item of selection.items) {
      const split = splitOf.get(item.id) ?? byAlbum.get(fieldsOf(item).album?.trim());
      if (split) return split;
    }
    return null;
  });

  function splitIn(items: readonly Item[]): Finding | null {
    if (splitOf.size === 0) return null;
    for (const { id } of items) {
      const finding = splitOf.get(id);
      if (finding) return finding;
    }
    return null;
  }

  const shelved = $derived(shelvedKinds(session.desk.rulebook));
  /** Items of a group that are looked at: one that the player has is mostly the first. */
  const LOOKED_AT = 50;
  /**
   * Whether the player has something to hold together of a group: nothing that it cannot take as it is, of no kind that
   * stands for itself, nor of no album.
   */
  function isShelved(row: GroupRow): boolean {
    if (!session.desk.rehearsal.plan) return false;
    const { items } = row;
    const first = row.level === 'release' ? items[0] : undefined;
    if (first && releaseKey(first.path, fieldsOf(first)) === null) return false;
    return items.slice(0, LOOKED_AT).some((item) => {
      const kind = kindOf(item);
      return kind !== null && shelved.has(kind) && session.desk.takes(item);
    });
  }
</script>

<svelte:head><title>Describe · Lectorum</title></svelte:head>

{#if library.items.length === 0}
  <section class="empty">
    <h1>Nothing to describe yet</h1>
    <p>
      This is where you fill in what players read: title, artist, album, year, artwork. Take some files in
      first.
    </p>
    <p><a class="btn btn-primary" href="/{page.params.library}/intake">Go to Intake</a></p>
  </section>
{:else if panel === 'values'}
  {#await import('./ValuesPanel.svelte') then { default: ValuesPanel }}
    <ValuesPanel onclose={close} />
  {/await}
{:else if panel === 'many'}
  {#await import('./ManyPanel.svelte') then { default: ManyPanel }}
    <ManyPanel onclose={close} />
  {/await}
{:else if panel === 'editions'}
  {#await import('./EditionsPanel.svelte') then { default: EditionsPanel }}
    <EditionsPanel onclose={close} />
  {/await}
{:else if panel === 'originals'}
  {#await import('./OriginalsPanel.svelte') then { default: OriginalsPanel }}
    <OriginalsPanel onclose={close} />
  {/await}
{:else if panel === 'words' && one}
  {#await import('./WordsPanel.svelte') then { default: WordsPanel }}
    {#key one.id}<WordsPanel item={one} onclose={close} />{/key}
  {/await}
{:else if panel === 'pictures' && selection.items.length > 0}
  {#await import('./PicturesPanel.svelte') then { default: PicturesPanel }}
    {#key selection.ids}<PicturesPanel items={selection.items} onclose={close} />{/key}
  {/await}
{:else if panel === 'chapters' && one}
  {#await import('./ChaptersPanel.svelte') then { default: ChaptersPanel }}
    {#key one.id}<ChaptersPanel item={one} onclose={close} />{/key}
  {/await}
{:else}
  <div class="title">
    <!-- The row of choices beside it says the same to whoever sees it. -->
    <h1 class="sr-only">{scope.onReleases ? 'Releases' : 'Items'}</h1>
    <Choice
      label="What the rows are"
      options={[
        { value: 'releases', name: 'Releases', disabled: scope.levels.describe.length === 0 },
        { value: 'items', name: 'Items' },
      ]}
      value={scope.onReleases ? 'releases' : 'items'}
      onchoose={(shape) => scope.setShape(shape)}
    />
    {#if scope.onReleases}
      <span class="legend quiet" aria-hidden="true">
        <i class="filled"></i> filled <i class="partly"></i> partly <i class="missing"></i> empty
        <span>– not needed</span>
      </span>
    {:else if scope.sorting.by !== null && isText(scope.sorting.by)}
      <label
        ><input
          type="checkbox"
          checked={scope.sorting.withoutArticles}
          onchange={(event) => scope.sort({ ...scope.sorting, withoutArticles: event.currentTarget.checked })}
        /> sort without “The”, “Der”, “La” …</label
      >
    {/if}
    <span class="tools">
      <label
        >as on
        <select
          value={session.desk.id}
          onchange={(event) => session.choosePlayer(event.currentTarget.value as PlayerId)}
        >
          {#each session.players.list as { id, name } (id)}<option value={id}>{name}</option>{/each}
        </select></label
      >
      {#if !scope.onReleases}<ColumnSheet />{/if}
      <button class="btn" onclick={() => (session.surface = 'many')}>Change many</button>
      <button class="btn" onclick={() => (session.surface = 'values')}>Values</button>
      <button class="btn" onclick={() => (session.surface = 'editions')}>Editions</button>
      <button class="btn" onclick={() => (session.surface = 'originals')}>Originals</button>
    </span>
  </div>
  {#if scope.onReleases}<ReleaseLedger {splitIn} {isShelved} />
  {:else}<FieldLedger {splitIn} {isShelved} isApart={({ id }) => splitOf.has(id)} />{/if}
  {#if shownSplit}<SplitMatrix finding={shownSplit} />{/if}
{/if}

<style>
  .empty {
    padding: 64px 48px;
    display: grid;
    gap: 16px;
    font-size: var(--t-sub);
    max-width: 620px;
  }
  h1 {
    font-size: var(--t-title);
  }
  .title {
    display: flex;
    align-items: center;
    gap: 10px;
    height: 40px;
    flex: none;
    padding: 0 16px;
    white-space: nowrap;
  }
  .legend {
    display: flex;
    align-items: center;
    gap: 5px;
    min-width: 0;
    overflow: hidden;
  }
  .legend i {
    flex: none;
    width: 14px;
    height: 11px;
    margin-left: 2px;
    border: 1px solid var(--attention-ink);
    background: linear-gradient(90deg, var(--strip) 45%, var(--raised) 45%);
  }
  .legend i.filled {
    border-color: transparent;
    background: var(--strip);
  }
  .legend i.missing {
    background: var(--attention-tint);
  }
  .legend span {
    margin-left: 2px;
    white-space: nowrap;
  }
  .tools {
    display: flex;
    align-items: center;
    gap: 8px;
    margin-left: auto;
  }
  .title .btn {
    height: 28px;
    flex: none;
  }
</style>
