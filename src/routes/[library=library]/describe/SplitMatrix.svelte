<script lang="ts">
  import {
    FORMAT_NAMES,
    fieldText,
    fieldsOf,
    requireField,
    titleOf,
    type Edits,
    type FieldName,
    type ItemId,
  } from '$lib/core/items';
  import type { Finding } from '$lib/core/plan';
  import { getSession } from '$lib/state/session.svelte';
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
  const items = $derived(session.library.findAll(finding.items).slice(0, 6));

  /** Letters that cannot be seen are drawn. */
  const drawn = (text: string) => text.replace(/^\s|\s$/g, '␣');
</script>

<section aria-label="Why {finding.words.album} splits">
  <header>
    <h2>Why {finding.words.album} splits on {player}</h2>
    <span class="quiet">one shelf when album, album artist or compilation, and year agree</span>
  </header>
  <table>
    <thead>
      <tr>
        <th scope="col">the shelf</th>
        {#each columns as column (column)}<th scope="col">{requireField(column).label}</th>{/each}
      </tr>
    </thead>
    <tbody>
      {#each items as item (item.id)}
        <tr>
          <th scope="row">{titleOf(item)}</th>
          {#if !edits.has(item.id)}
            <td class="quiet" colspan={Math.max(1, columns.length)}
              >stays apart: tags of {FORMAT_NAMES[item.format]} cannot be written here, so {player} reads the file’s
              own</td
            >
          {/if}
          {#each edits.has(item.id) ? columns : [] as column (column)}
            {@const wanted = edits.get(item.id)?.[column]}
            {#if wanted === undefined}
              <td class="quiet">same</td>
            {:else}
              <td class="breaks">
                <b class="path">{drawn(fieldText(fieldsOf(item)[column])) || 'empty'}</b>
                <button
                  class="act"
                  onclick={() =>
                    session.library.edit(`${requireField(column).label} of ${titleOf(item)}`, [item], {
                      [column]: wanted,
                    })}
                >
                  → {fieldText(wanted) || 'empty it'}
                </button>
              </td>
            {/if}
          {/each}
        </tr>
      {/each}
    </tbody>
  </table>
  <footer>
    <button
      class="btn btn-primary"
      onclick={() => finding.remedy && session.mend(finding.remedy, `Join ${finding.words.album}`)}
    >
      {words.remedy}
    </button>
    <span class="quiet">then {player} shows one shelf: {finding.words.album}</span>
  </footer>
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
  .breaks b {
    color: var(--blocks-ink);
    display: block;
  }
</style>
