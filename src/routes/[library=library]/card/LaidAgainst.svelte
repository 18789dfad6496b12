<script lang="ts">
  import { sumPoints, weighPair, type PairEvidence, type ReferenceEntry } from '$lib/core/identify';
  import type { Item, ItemId } from '$lib/core/items';
  import { nameOf } from '$lib/core/paths';
  import { getSession } from '$lib/state/session.svelte';
  import { EVIDENCE_ROWS, evidenceCell } from '$lib/ui/words/identify-words';

  /** Where one file of the open set belongs: its entry beside the next best, and every way to decide otherwise. */
  let { item }: { item: Item } = $props();
  const session = getSession();
  const { identify } = session;

  /** Sets and files of each that the list offers; the scope bar narrows further. */
  const MOST_SETS = 60;
  const MOST_FILES = 40;
  const CODES = Object.keys(EVIDENCE_ROWS) as PairEvidence['code'][];
  const file = $derived(identify.lookUps.files.find(({ id }) => id === item.id) ?? null);
  const lineUp = $derived(identify.pairing.lineUp);
  const pair = $derived(lineUp?.pairs.find((one) => one.file === item.id) ?? null);
  const own = $derived(identify.pairing.entries.find(({ id }) => id === pair?.entry) ?? null);
  const release = $derived(
    identify.pairing.chosen.find(({ release: one }) => one.entries.some(({ id }) => id === own?.id)),
  );
  const isOut = $derived(lineUp !== null && !pair && !lineUp.openFiles.includes(item.id) && file !== null);
  const columns = $derived.by(() => {
    if (!file || !lineUp) return [];
    const weighed = identify.pairing.entries.map((entry) => {
      const evidence = weighPair(file, entry, lineUp.numbers);
      return { entry, evidence, points: sumPoints(evidence) };
    });
    const best = weighed.filter(({ entry }) => entry.id !== own?.id).sort((a, b) => b.points - a.points)[0];
    return weighed.filter((one) => one.entry.id === own?.id || one === best).slice(0, 2);
  });
  const others = $derived(
    identify.sets.gatherings.filter(
      ({ key, type }) => key !== identify.sets.openKey && type === identify.sets.gathering?.type,
    ),
  );

  const cell = (evidence: readonly PairEvidence[], code: PairEvidence['code']) =>
    evidence.find((piece) => piece.code === code) ?? null;
  const named = (entry: ReferenceEntry) => `${entry.number} ${entry.title}`;
</script>

<section>
  <h3>Where does it belong?</h3>
  <p>
    {#if own && pair}
      <span class="guess {pair.certainty}">{release?.release.title}, number {own.number}</span>
      <small class="quiet">{pair.locked ? 'fixed by you' : ''}</small>
    {:else if isOut}Left out of this comparison.
    {:else}No entry matches it.{/if}
  </p>
  {#if own?.description}<p class="quiet">{own.description}</p>{/if}
  {#if columns.length > 0}
    <table>
      <thead>
        <tr
          ><td></td>
          {#each columns as { entry } (entry.id)}<th scope="col">as {entry.number}</th>{/each}</tr
        >
      </thead>
      <tbody>
        {#each CODES as code (code)}
          {#if columns.some(({ evidence }) => cell(evidence, code))}
            <tr>
              <th scope="row">{EVIDENCE_ROWS[code]}</th>
              {#each columns as { entry, evidence } (entry.id)}
                {@const piece = cell(evidence, code)}
                <td class:for={piece && piece.points > 0}>{piece ? evidenceCell(piece) : 'no value'}</td>
              {/each}
            </tr>
          {/if}
        {/each}
        <tr class="sum">
          <th scope="row">points</th>
          {#each columns as { entry, points } (entry.id)}<td>{Math.round(points)}</td>{/each}
        </tr>
      </tbody>
    </table>
  {/if}
  <div class="acts">
    <select
      aria-label="Lay it against another entry"
      value={pair?.entry ?? ''}
      onchange={(event) => identify.pairing.lock(item.id, event.currentTarget.value || null)}
    >
      <option value="">no entry</option>
      {#each identify.pairing.entries as entry (entry.id)}<option value={entry.id}>{named(entry)}</option
        >{/each}
    </select>
    {#if pair && !pair.locked}
      <button class="btn" onclick={() => identify.pairing.lock(item.id, pair.entry)}>Fix this pair</button>
    {:else if item.id in identify.pairing.choice.decisions.locked}
      <button class="btn" onclick={() => identify.pairing.free(item.id)}>Release it</button>
    {/if}
    {#if isOut}
      <button class="btn" onclick={() => identify.pairing.free(item.id)}>Include it again</button>
    {:else}
      <button class="btn" onclick={() => identify.pairing.leaveOut(item.id)}>Leave it out</button>
    {/if}
    <button class="btn" onclick={() => identify.sets.split(session.selection.items.map(({ id }) => id))}
      >Split off</button
    >
    {#if others.length > 0}
      <select
        aria-label="Pull in files of another set"
        onchange={(event) => {
          const [set, file] = event.currentTarget.value.split('\u0000');
          const from = others.find(({ key }) => key === set);
          event.currentTarget.value = '';
          if (from) identify.sets.join(file ? [file as ItemId] : from.items);
        }}
      >
        <option value="">Pull in from another set</option>
        {#each others.slice(0, MOST_SETS) as other (other.key)}
          <optgroup label={other.label}>
            <option value={other.key}>all of {other.label} ({other.items.length})</option>
            {#each session.library.findAll(other.items.slice(0, MOST_FILES)) as file (file.id)}
              <option value={`${other.key}\u0000${file.id}`}>{nameOf(file.path)}</option>
            {/each}
          </optgroup>
        {/each}
      </select>
    {/if}
  </div>
</section>

<style>
  .guess {
    border-bottom: 1.75px solid var(--ink);
  }
  .likely {
    border-bottom-style: dashed;
  }
  .guess.guess {
    border-bottom-style: dotted;
  }
  .guess.sure {
    border-bottom-style: solid;
  }
  .guess.likely {
    border-bottom-style: dashed;
  }
  table {
    width: 100%;
    margin-top: 6px;
    border-collapse: collapse;
    font-size: var(--t-body);
  }
  th,
  td {
    padding: 3px 0;
    text-align: left;
    font-weight: 400;
    border-bottom: 1px solid var(--rule);
  }
  thead th {
    font-weight: 600;
  }
  .for {
    color: var(--primary-ink);
    font-weight: 600;
  }
  .sum {
    color: var(--ink-2);
  }
  .acts {
    display: flex;
    flex-wrap: wrap;
    gap: 6px;
    margin-top: 8px;
  }
  select {
    height: 28px;
    max-width: 100%;
    padding: 0 6px;
    border: 1px solid var(--rule-strong);
    background: var(--raised);
    color: var(--ink);
  }
</style>
