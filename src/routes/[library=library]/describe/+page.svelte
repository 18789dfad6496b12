<script lang="ts">
  import Check from '@lucide/svelte/icons/check';
  import { page } from '$app/state';
  import {
    editsOf,
    fieldText,
    fieldsOf,
    kindOf,
    requireField,
    yearOf,
    type FieldName,
    type Item,
    type ItemId,
  } from '$lib/core/items';
  import { nameOf } from '$lib/core/paths';
  import { findPlace, missingAsks } from '$lib/core/rulebooks';
  import { frontPicture, type Finding } from '$lib/core/plan';
  import { getSession } from '$lib/state/session.svelte';
  import SpineLabel from '$lib/ui/SpineLabel.svelte';
  import { counted } from '$lib/ui/words/amounts';
  import ItemLedger from '../frame/ItemLedger.svelte';
  import SplitMatrix from './SplitMatrix.svelte';
  import ValuesPanel from './ValuesPanel.svelte';

  const session = getSession();
  const { library, scope, selection } = session;
  const isText = (name: FieldName) => ['text', 'texts'].includes(requireField(name).type);
  let isOnValues = $state(false);
  const COLUMNS: readonly FieldName[] = ['artist', 'albumArtist', 'album', 'date', 'genre'];

  const splits = $derived(session.desk.plan?.splits.first ?? []);
  const splitOf = $derived(
    new Map<ItemId, Finding>(splits.flatMap((finding) => finding.items.map((id) => [id, finding] as const))),
  );
  /** The split that the selection is about, if any. */
  const shownSplit = $derived(
    selection.items
      .map(
        (item) =>
          splitOf.get(item.id) ?? splits.find(({ words }) => words.album === fieldsOf(item).album?.trim()),
      )
      .find(Boolean) ?? null,
  );

  function missing(item: Item) {
    const place = findPlace(session.desk.rulebook, kindOf(item));
    return place ? missingAsks(place, fieldsOf(item)) : [];
  }

  function splitIn(items: readonly Item[]): Finding | null {
    if (splitOf.size === 0) return null;
    for (const { id } of items) {
      const finding = splitOf.get(id);
      if (finding) return finding;
    }
    return null;
  }
</script>

<svelte:head><title>Describe · Lectorum</title></svelte:head>

{#if library.items.length === 0}
  <section class="empty">
    <h1>Nothing to describe yet</h1>
    <p>
      Here the fields that players read are filled in: title, artist, album, year, picture. Take something in
      first.
    </p>
    <p><a class="btn btn-primary" href="/{page.params.library}/intake">Go to Intake</a></p>
  </section>
{:else if isOnValues}
  <ValuesPanel onclose={() => (isOnValues = false)} />
{:else}
  <div class="title">
    <h1>Releases</h1>
    <span class="quiet"
      >select one or several; what is typed on the card is written to outgoing copies only</span
    >
    {#if scope.sorting.by !== null && isText(scope.sorting.by)}
      <label
        ><input
          type="checkbox"
          checked={scope.sorting.withoutArticles}
          onchange={(event) => scope.sort({ ...scope.sorting, withoutArticles: event.currentTarget.checked })}
        /> in order without “The” and the like</label
      >
    {/if}
    <button class="btn" onclick={() => (isOnValues = true)}>Values of a field</button>
  </div>
  <ItemLedger
    label="Items by release"
    columns="33px 38px minmax(100px, 1.5fr) minmax(80px, 1.2fr) minmax(80px, 1.2fr) minmax(80px, 1.1fr) 52px minmax(50px, 0.6fr) 26px"
    names={['', 'no.', 'title', 'artist', 'album artist', 'album', 'year', 'genre', 'pic.']}
    sorts={[null, 'track', 'title', 'artist', 'albumArtist', 'album', 'date', 'genre', null]}
    rowHeight={28}
    selectsGroups
  >
    {#snippet group(row)}
      {@const { gaps } = row.counts}
      {@const split = splitIn(row.items)}
      <b>{row.label}</b><span class="quiet">{row.note}</span>
      <span class="quiet">{counted(row.counts.items, 'item')}</span>
      <span class="end">
        {#if gaps > 0}<span class="gap">{counted(gaps, 'gap')}</span>{/if}
        {#if split}<span class="splits">splits in {split.words.groups} on {session.desk.name}</span>
        {:else if row.counts.kinds.has('song')}<span class="quiet">holds</span>{/if}
      </span>
    {/snippet}
    {#snippet item(item)}
      {@const fields = fieldsOf(item)}
      <div class="cols" class:apart={splitOf.has(item.id)}>
        <span role="gridcell"
          ><SpineLabel kind={kindOf(item)} certainty={item.settled ? 'sure' : item.guess.certainty} /></span
        >
        <span class="number" role="gridcell"
          >{fields.disc && (fields.discs ?? 1) > 1 ? `${fields.disc}-` : ''}{fields.track ?? ''}</span
        >
        <span class="cut" role="gridcell" class:changed={'title' in editsOf(item)}>
          {#if fields.title}{fields.title}{:else}<span class="path quiet">{nameOf(item.path)}</span>{/if}
        </span>
        {#each COLUMNS as column (column)}
          <span class="cut" role="gridcell" class:changed={column in editsOf(item)}>
            {#if fields[column] !== null}{column === 'date' ? yearOf(fields) : fieldText(fields[column])}
            {:else if column === 'albumArtist' && fields.compilation}<span class="quiet">compilation</span>
            {:else if missing(item).some(({ field }) => field === column)}<span class="gap">empty</span>{/if}
          </span>
        {/each}
        <span role="gridcell" class="quiet">
          {#if frontPicture(item)}<Check size={13} aria-label="has a picture" />{/if}
        </span>
      </div>
    {/snippet}
  </ItemLedger>
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
    gap: 12px;
    height: 40px;
    flex: none;
    padding: 0 16px;
    white-space: nowrap;
    overflow: hidden;
  }
  .title > :nth-child(3) {
    margin-left: auto;
  }
  .title .quiet {
    overflow: hidden;
    text-overflow: ellipsis;
  }
  .title .btn {
    height: 28px;
    flex: none;
  }
  .cols.apart {
    border-left-color: var(--blocks);
  }
  .number {
    text-align: right;
    padding-right: 10px;
    color: var(--ink-2);
  }
  .changed {
    text-decoration: underline;
    text-decoration-color: var(--primary);
    text-decoration-thickness: 2px;
    text-underline-offset: 4px;
  }
  .gap {
    color: var(--attention-ink);
  }
  .splits {
    color: var(--blocks-ink);
    font-weight: 600;
  }
</style>
