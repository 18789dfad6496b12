<script lang="ts">
  import {
    FORMAT_NAMES,
    editItem,
    fieldText,
    fieldsOf,
    kindOf,
    requireField,
    titleOf,
    type Edits,
    type FieldName,
    type FieldValue,
    type Item,
    type ItemId,
  } from '$lib/core/items';
  import { drawnPieces, unseenBetween, type Unseen } from '$lib/core/browse';
  import type { Finding } from '$lib/core/plan';
  import { findPlace, type GroupPart } from '$lib/core/rulebooks';
  import { tagMapOf } from '$lib/formats';
  import { getSession } from '$lib/state/session.svelte';
  import { counted } from '$lib/ui/words/amounts';
  import { findingWords } from '$lib/ui/words/finding-words';

  /** Why items stand apart: rows are items, columns the fields the player groups by; the cells that break stand out. */
  let { finding }: { finding: Finding } = $props();
  const session = getSession();
  const player = $derived(session.desk.name);

  const words = $derived(findingWords(finding, player));
  const edits = $derived(
    new Map<ItemId, Edits>(
      finding.remedy?.type === 'edit'
        ? finding.remedy.changes.map((change) => [change.item, change.edits])
        : [],
    ),
  );
  const columns = $derived([
    ...new Set([...edits.values()].flatMap((own) => Object.keys(own) as FieldName[])),
  ]);
  /** Rows before one asks for more. */
  const FIRST = 6;
  let shown = $state(FIRST);
  const apart = $derived(session.library.findAll(finding.items));
  const items = $derived(apart.slice(0, shown));
  /** What binds the others, as the remedy says it. */
  const wanted = $derived(
    new Map(
      columns.map((column) => [column, [...edits.values()].find((own) => column in own)?.[column] ?? null]),
    ),
  );
  /** Those that stand on the shelf already. */
  const onShelf = $derived(Number(finding.words.rest ?? 0));

  const PART_WORDS: Readonly<Record<GroupPart, string>> = {
    album: 'album',
    maker: 'album artist or compilation',
    year: 'year',
    show: 'show',
    season: 'season',
    folder1: 'the first folder',
    folder2: 'the folder in it',
  };
  const UNSEEN_WORDS: Readonly<Record<Unseen, string>> = {
    blanks: 'other spaces',
    form: 'another Unicode form',
    alike: 'look-alike letters',
    case: 'other letter case',
  };
  /** What the player keeps on one shelf, as its rulebook says. */
  const rule = $derived.by(() => {
    const first = apart[0];
    const place = first && findPlace(session.desk.rulebook, kindOf(first));
    const parts = place?.groups.flat().map((part) => PART_WORDS[part]) ?? [];
    return parts.length < 2 ? parts.join('') : `${parts.slice(0, -1).join(', ')} and ${parts.at(-1)}`;
  });

  function mendCell(item: Item, column: FieldName, value: FieldValue) {
    session.library.edit(`${requireField(column).label} of ${titleOf(item)}`, [item], { [column]: value });
  }

  /** Mends one field of all that stand apart. */
  function mendColumn(column: FieldName) {
    const own = apart.filter((item) => edits.get(item.id)?.[column] !== undefined);
    session.library.act(`${requireField(column).label} of ${own.length}`, own, (item) =>
      editItem(item, { [column]: edits.get(item.id)?.[column] ?? null }),
    );
  }

  const countIn = (column: FieldName) => [...edits.values()].filter((own) => column in own).length;
</script>

<section aria-label="Why {finding.words.album} splits">
  <header>
    <h2>Why {finding.words.album} splits on {player}</h2>
    <span class="quiet">{player} keeps items on one shelf if {rule} match, according to its rulebook</span>
  </header>
  <table>
    <thead>
      <tr>
        <th scope="col">items that differ</th>
        {#each columns as column (column)}
          <th scope="col"
            >{requireField(column).label}
            {#if countIn(column) > 1}<button class="act" onclick={() => mendColumn(column)}
                >fix all {countIn(column)}</button
              >{/if}</th
          >
        {/each}
      </tr>
    </thead>
    <tbody>
      <tr>
        <th scope="row">the shelf{onShelf > 0 ? `, ${counted(onShelf, 'item')}` : ''}</th>
        {#each columns as column (column)}<td class="path"
            >{fieldText(wanted.get(column) ?? null) || 'empty'}</td
          >{/each}
      </tr>
      {#each items as item (item.id)}
        <tr>
          <th scope="row">{titleOf(item)}</th>
          {#if !edits.has(item.id)}
            <td class="quiet" colspan={Math.max(1, columns.length)}
              >{#if tagMapOf(item) === null}stays apart: tags of {FORMAT_NAMES[item.format]} cannot be written here,
                so {player} reads the file’s own{:else}another {finding.words.fields}: {finding.words.found};
                as many say one thing as another, or another file has the name that it would get{/if}</td
            >
          {/if}
          {#each edits.has(item.id) ? columns : [] as column (column)}
            {@const wanted = edits.get(item.id)?.[column]}
            {#if wanted === undefined}
              <td class="quiet">same</td>
            {:else}
              {@const own = fieldText(fieldsOf(item)[column])}
              {@const unseen = unseenBetween(own, fieldText(wanted))}
              <td class="breaks">
                <b class="path"
                  >{#each drawnPieces(own, fieldText(wanted)) as { text, marked }, index (index)}{#if marked}<mark
                        >{text}</mark
                      >{:else}{text}{/if}{:else}empty{/each}</b
                >
                {#if unseen.length > 0}<span class="unseen"
                    >{unseen.map((one) => UNSEEN_WORDS[one]).join(', ')}</span
                  >{/if}
                <button class="act" onclick={() => mendCell(item, column, wanted)}>
                  → {fieldText(wanted) || 'empty it'}
                </button>
              </td>
            {/if}
          {/each}
        </tr>
      {/each}
    </tbody>
  </table>
  {#if apart.length > shown}
    <button class="act" onclick={() => (shown += 50)}>{counted(apart.length - shown, 'more item')}</button>
  {/if}
  {#if edits.size > 0}<footer>
      <button
        class="btn btn-primary"
        onclick={() => finding.remedy && session.mend(finding.remedy, `Join ${finding.words.album}`)}
      >
        {words.remedy}
      </button>
      <span class="quiet"
        >then {player} shows one shelf: {finding.words.album}{onShelf > 0
          ? `, ${counted(onShelf + edits.size, 'item')}`
          : ''}</span
      >
    </footer>{:else}<p class="quiet">Choose the right one on the card.</p>{/if}
</section>

<style>
  section {
    flex: none;
    max-height: 45%;
    overflow: auto;
    padding: 10px 16px;
    border-top: 1px solid var(--rule-strong);
  }
  header,
  footer {
    display: flex;
    align-items: baseline;
    gap: 12px;
  }
  footer {
    align-items: center;
    margin-top: 10px;
  }
  h2 {
    font-size: var(--t-sub);
  }
  table {
    margin-top: 6px;
    border-collapse: collapse;
    min-width: 60%;
  }
  th,
  td {
    padding: 4px 12px 4px 8px;
    text-align: left;
    vertical-align: top;
    border-bottom: 1px solid var(--rule);
    border-left: 1px solid var(--rule);
    font-weight: 400;
  }
  thead th {
    font-size: var(--t-small);
    color: var(--ink-2);
  }
  tbody th {
    font-weight: 600;
  }
  .breaks {
    background: var(--blocks-tint);
    border-left: 3px solid var(--blocks);
  }
  .unseen {
    display: block;
    font-size: var(--t-small);
    color: var(--blocks-ink);
  }
  mark {
    background: var(--attention-tint);
    color: inherit;
    text-decoration: underline 2px var(--attention);
  }
  .breaks b {
    color: var(--blocks-ink);
    display: block;
  }
</style>
