<script lang="ts">
  import {
    ASPECTS,
    fullnessOf,
    lacks,
    type Aspect,
    type GroupRow,
    type GroupSortKey,
  } from '$lib/core/browse';
  import { kindOf, titleOf, type Item } from '$lib/core/items';
  import type { Kind } from '$lib/core/kinds';
  import type { Finding } from '$lib/core/plan';
  import { getSession } from '$lib/state/session.svelte';
  import SpineLabel from '$lib/ui/SpineLabel.svelte';
  import { clock, counted } from '$lib/ui/words/amounts';
  import { ASPECT_WORDS, columnText } from '$lib/ui/words/column-words';
  import ItemLedger from '../frame/ItemLedger.svelte';
  import GroupToggle from '../frame/GroupToggle.svelte';
  import type { Head } from '../frame/heads';

  /** Releases by what players show of them: filled, partly or empty. What is empty is one click from the card. */
  let {
    splitIn,
    isShelved,
  }: {
    splitIn: (items: readonly Item[]) => Finding | null;
    /** Whether the player has something to hold together of a group. */
    isShelved: (row: GroupRow) => boolean;
  } = $props();
  const session = getSession();
  const { scope, selection } = session;

  const order = (by: GroupSortKey): Head['order'] => ({
    is: scope.groupSorting.by === by ? (scope.groupSorting.down ? 'descending' : 'ascending') : null,
    by: () => scope.sortGroupsBy(by),
  });
  const heads = $derived<readonly Head[]>([
    { name: '' },
    { name: 'Release', order: order('name') },
    { name: 'Items', order: order('items'), right: true },
    ...ASPECTS.map((aspect): Head => ({ name: ASPECT_WORDS[aspect], order: order(aspect), isTight: true })),
    { name: 'Full', order: order('full'), right: true },
    { name: `On ${session.desk.name}` },
  ]);

  /** The kind that most of them are. */
  function mainKind({ counts }: GroupRow): Kind | null {
    const [first] = [...counts.kinds].sort((a, b) => b[1] - a[1]);
    return first && first[0] !== 'open' ? first[0] : null;
  }

  /** How many are of that kind, and how many others there are. */
  function amounts({ counts }: GroupRow): string {
    const most = Math.max(...counts.kinds.values());
    return most === counts.items ? String(most) : `${most} + ${counts.items - most}`;
  }

  const percent = (share: number) => `${Math.floor(share * 100)}%`;

  /** Puts those on the card that lack something. */
  function pickLacking(row: GroupRow, aspect: Aspect) {
    selection.set(
      row.items.filter((item) => lacks(item, aspect)).map(({ id }) => id),
      row.key,
    );
  }
</script>

<ItemLedger
  label="Releases by what they lack"
  columns="52px minmax(150px, 1fr) 64px repeat({ASPECTS.length}, 44px) 50px 88px"
  {heads}
  rowHeight={28}
  selectsGroups
>
  {#snippet group(row)}
    <b>{row.label}</b><span class="quiet">{row.note}</span>
    {#if row.apart}<span class="quiet cut" title={row.apart}>{row.apart}</span>{/if}
    <span class="quiet">{counted(row.counts.items, 'item')}</span>
  {/snippet}
  {#snippet release(row)}
    {@const split = splitIn(row.items)}
    <div class="cols">
      <span class="mark" role="gridcell">
        <GroupToggle {row} />
        <SpineLabel kind={mainKind(row)} height={22} />
      </span>
      <span class="cut" role="gridcell" title={[row.label, row.note, row.apart].filter(Boolean).join(', ')}
        ><b>{row.label}</b> <span class="quiet">{row.apart || row.note}</span></span
      >
      <span class="right" role="gridcell">{amounts(row)}</span>
      {#each ASPECTS as aspect, index (aspect)}
        {@const asked = row.fullness?.asked[index] ?? 0}
        {@const filled = row.fullness?.filled[index] ?? 0}
        <span class="cell" role="gridcell">
          {#if asked === 0}<span class="none" aria-label="{ASPECT_WORDS[aspect]}: not needed">–</span>
          {:else if filled === asked}<span
              class="bar filled"
              role="img"
              aria-label="{ASPECT_WORDS[aspect]}: all of them"
            ></span>
          {:else}<button
              class="bar"
              class:empty={filled === 0}
              tabindex="-1"
              aria-label="{ASPECT_WORDS[aspect]}: {filled} of {asked}; select the {asked - filled} without"
              title="{ASPECT_WORDS[aspect]}: {filled} of {asked}"
              style:--share="{(filled / asked) * 100}%"
              onclick={() => pickLacking(row, aspect)}
            ></button>
          {/if}
        </span>
      {/each}
      <span class="right" role="gridcell">{percent(row.fullness?.share() ?? 1)}</span>
      <span class="on" role="gridcell">
        {#if split}<span class="splits">splits</span> in {split.words.groups}{:else if isShelved(row)}<span
            class="quiet">holds</span
          >{/if}
      </span>
    </div>
  {/snippet}
  {#snippet item(item)}
    {@const { asked, filled } = fullnessOf(item)}
    <div class="cols">
      <span class="mark inner" role="gridcell"
        ><SpineLabel
          kind={kindOf(item)}
          certainty={item.settled ? 'sure' : item.guess.certainty}
          height={20}
        /></span
      >
      <span class="cut" role="gridcell"
        ><span class="number">{columnText(item, 'track')}</span>{titleOf(item)}</span
      >
      <span class="right quiet" role="gridcell"
        >{item.facts.durationSeconds === null ? '' : clock(item.facts.durationSeconds)}</span
      >
      {#each ASPECTS as aspect, index (aspect)}
        <span class="cell" role="gridcell">
          {#if !((asked >> index) & 1)}<span class="none" aria-label="{ASPECT_WORDS[aspect]}: not asked"
              >–</span
            >{:else}{@const has = (filled >> index) & 1}<span
              class={['bar', has ? 'filled' : 'empty']}
              role="img"
              aria-label="{ASPECT_WORDS[aspect]}: {has ? 'there' : 'empty'}"
            ></span>{/if}
        </span>
      {/each}
      <span role="gridcell"></span><span role="gridcell"></span>
    </div>
  {/snippet}
</ItemLedger>

<style>
  .mark {
    display: flex;
    align-items: center;
    gap: 4px;
  }
  .mark.inner {
    padding-left: 24px;
  }
  .right {
    padding-right: 10px;
    text-align: right;
    font-variant-numeric: tabular-nums;
  }
  .number {
    display: inline-block;
    min-width: 26px;
    color: var(--ink-2);
    font-variant-numeric: tabular-nums;
  }
  .cell {
    display: block;
    padding-right: 4px;
    line-height: 0;
  }
  .none {
    display: block;
    width: 40px;
    line-height: 1;
    text-align: center;
    color: var(--ink-2);
  }
  /* Filled is a plain tint, what is missing has an edge: the two are told apart without their colours. */
  .bar {
    display: block;
    width: 40px;
    height: 13px;
    border: 1px solid var(--attention-ink);
    background: linear-gradient(90deg, var(--strip) var(--share), var(--raised) var(--share));
  }
  .bar.filled {
    border-color: transparent;
    background: var(--strip);
  }
  .bar.empty {
    background: var(--attention-tint);
  }
  .on {
    padding-left: 4px;
  }
  .splits {
    color: var(--blocks-ink);
    font-weight: 600;
  }
</style>
