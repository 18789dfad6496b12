<script lang="ts">
  import Check from '@lucide/svelte/icons/check';
  import type { ColumnKey, GroupRow } from '$lib/core/browse';
  import { editsOf, fieldsOf, frontPicture, kindOf, type FieldName, type Item } from '$lib/core/items';
  import { nameOf } from '$lib/core/paths';
  import type { Finding } from '$lib/core/plan';
  import { findPlace, missingAsks } from '$lib/core/rulebooks';
  import { columns } from '$lib/state/columns.svelte';
  import { getSession } from '$lib/state/session.svelte';
  import SpineLabel from '$lib/ui/SpineLabel.svelte';
  import { counted } from '$lib/ui/words/amounts';
  import { columnName, columnText, isRight } from '$lib/ui/words/column-words';
  import ItemLedger from '../frame/ItemLedger.svelte';
  import type { Head } from '../frame/heads';

  /** Items with the columns that the curator chose. */
  let {
    splitIn,
    isShelved,
    isApart,
  }: {
    splitIn: (items: readonly Item[]) => Finding | null;
    /** Whether the player has something to hold together of a group. */
    isShelved: (row: GroupRow) => boolean;
    isApart: (item: Item) => boolean;
  } = $props();
  const session = getSession();
  const { scope } = session;

  const heads = $derived<readonly Head[]>([
    { name: '' },
    ...columns.list.map(({ key, width }, index): Head => {
      const { by, down } = scope.sorting;
      return {
        name: columnName(key),
        right: isRight(key),
        order: {
          is: by === key ? (down ? 'descending' : 'ascending') : null,
          by: () => scope.sortBy(key),
        },
        ...(index < columns.list.length - 1 && {
          widen: { width, by: (pixels) => columns.widen(index, pixels) },
        }),
      };
    }),
  ]);
  const widths = $derived(columns.list.map(({ width }) => `minmax(24px, ${width}fr)`).join(' '));

  function missing(item: Item): ReadonlySet<ColumnKey> {
    const place = findPlace(session.desk.rulebook, kindOf(item));
    return new Set(place ? missingAsks(place, fieldsOf(item)).map(({ field }) => field) : []);
  }
</script>

<ItemLedger label="Items by release" columns="33px {widths}" {heads} rowHeight={28} selectsGroups>
  {#snippet group(row)}
    {@const { gaps } = row.counts}
    {@const split = splitIn(row.items)}
    <b>{row.label}</b><span class="quiet">{row.note}</span>
    {#if row.apart}<span class="quiet cut" title={row.apart}>{row.apart}</span>{/if}
    <span class="quiet">{counted(row.counts.items, 'item')}</span>
    <span class="end">
      {#if gaps > 0}<span class="gap">{counted(gaps, 'gap')}</span>{/if}
      {#if split}<span class="splits">splits in {split.words.groups} on {session.desk.name}</span>
      {:else if isShelved(row)}<span class="quiet">holds</span>{/if}
    </span>
  {/snippet}
  {#snippet item(item)}
    {@const gaps = missing(item)}
    {@const edits = editsOf(item)}
    <div class="cols" class:apart={isApart(item)}>
      <span role="gridcell"
        ><SpineLabel kind={kindOf(item)} certainty={item.settled ? 'sure' : item.guess.certainty} /></span
      >
      {#each columns.list as { key } (key)}
        {@const text = columnText(item, key)}
        <span
          class="cut"
          class:right={isRight(key)}
          class:path={key === 'path'}
          class:changed={(key as FieldName) in edits}
          role="gridcell"
        >
          {#if key === 'picture'}
            {#if frontPicture(item)}<Check size={13} aria-label="has a picture" />{/if}
          {:else if key === 'title' && fieldsOf(item).title === null}
            <span class="path quiet">{nameOf(item.path)}</span>
          {:else if text !== ''}{text}
          {:else if key === 'albumArtist' && fieldsOf(item).compilation}<span class="quiet">compilation</span>
          {:else if gaps.has(key)}<span class="gap">empty</span>{/if}
        </span>
      {/each}
    </div>
  {/snippet}
</ItemLedger>

<style>
  .cols.apart {
    border-left-color: var(--blocks);
  }
  .right {
    text-align: right;
    font-variant-numeric: tabular-nums;
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
