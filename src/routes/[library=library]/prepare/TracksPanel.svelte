<script lang="ts">
  import { untrack } from 'svelte';
  import { allTracksOf, editContent, keptTracks, titleOf, type Item, type ItemId } from '$lib/core/items';
  import { ALL_TRACKS, ruledTracks, type TrackRule } from '$lib/core/rewrite';
  import { getSession } from '$lib/state/session.svelte';
  import Ledger from '$lib/ui/Ledger.svelte';
  import LedgerHeads from '$lib/ui/LedgerHeads.svelte';
  import Panel from '$lib/ui/Panel.svelte';
  import { bytes, counted } from '$lib/ui/words/amounts';
  import { trackCount, tracksWords } from '$lib/ui/words/track-words';
  import TrackRuleBar from './TrackRuleBar.svelte';
  import TrackTable from './TrackTable.svelte';

  /** Tracks inside files: which stay, what they are called, and one rule for many files. */
  let { onclose }: { onclose: () => void } = $props();
  const session = getSession();
  const { library, scope, selection } = session;

  interface Row {
    readonly key: ItemId;
  }

  const NO_ITEM = '' as ItemId;
  let rule = $state.raw<TrackRule>(ALL_TRACKS);
  let cursor = $state<ItemId | null>(null);
  /** Which items are looked through, and those of them that have several tracks: an edit changes neither. */
  let known: { readonly of: readonly unknown[]; readonly rows: readonly Row[] } | null = null;

  /** Of the selection, else of the scope; those with the most tracks first: there is most to choose from. */
  const rows = $derived.by(() => {
    const of = [selection.ids, scope.scope, scope.building, library.items.length];
    if (known?.of.every((one, index) => one === of[index])) return known.rows;
    const items = untrack(() => (selection.ids.size > 0 ? selection.items : scope.items));
    const found = items
      .flatMap(({ id, file }) => (file.tracks ? [{ key: id, count: file.tracks.length }] : []))
      .sort((a, b) => b.count - a.count);
    known = { of, rows: found };
    return known.rows;
  });
  const open = $derived(library.find(rows.find(({ key }) => key === cursor)?.key ?? rows[0]?.key ?? NO_ITEM));
  const isRuling = $derived(JSON.stringify(rule) !== JSON.stringify(ALL_TRACKS));
  const columns = 'minmax(160px, 1.4fr) minmax(150px, 1fr) minmax(150px, 1fr) 80px';

  /** What a rule leaves of a file, and the bytes that go; null where those are not known. */
  function ruled({ file, facts }: Item) {
    const tracks = file.tracks ?? [];
    const kept = keptTracks(tracks, ruledTracks(file, rule));
    const ids = new Set(kept.map(({ id }) => id));
    const saved = tracks.reduce<number | null>((sum, { id }, index) => {
      if (ids.has(id) || sum === null) return sum;
      const own = facts.streams[index]?.bytes;
      return own === undefined ? null : sum + own;
    }, 0);
    return { kept, saved };
  }

  function nowWords(item: Item): string {
    const all = allTracksOf(item);
    const kept = all.filter(({ isLeftOut }) => !isLeftOut);
    return kept.length === all.length
      ? tracksWords(all)
      : `${tracksWords(kept)} of ${trackCount(all.length)}`;
  }

  function apply() {
    const items = library.findAll(rows.map(({ key }) => key));
    library.act(`Tracks of ${counted(items.length, 'file')}`, items, (item) =>
      editContent(item, { tracks: ruledTracks(item.file, rule) }),
    );
  }
</script>

<Panel title="Tracks" fits>
  {#snippet tools()}
    <span class="quiet">sound, pictures and subtitles inside a file</span>
    <span class="end"><button class="btn" onclick={onclose}>Back to the board</button></span>
  {/snippet}
  {#if rows.length === 0}
    <section class="empty">
      <h2>No file here has several tracks</h2>
      <p>
        Films and episodes in Matroska, WebM or MP4 often hold several languages, commentaries and subtitles.
        Select such files on the board, or widen the scope, to choose which tracks their copies get.
      </p>
    </section>
  {:else}
    <TrackRuleBar bind:rule count={rows.length} disabled={!library.mayWrite} onapply={apply} />
    {#if rows.length > 1}
      <div class="files">
        <Ledger
          {rows}
          cursor={open?.id ?? null}
          label="Files with several tracks"
          {columns}
          rowHeight={29}
          isSelected={({ key }) => key === open?.id}
          onpick={({ key }) => (cursor = key)}
        >
          {#snippet head()}<LedgerHeads
              heads={[{ name: 'File' }, { name: 'Now' }, { name: 'By the rule' }, { name: 'Saves' }]}
            />{/snippet}
          {#snippet row({ key })}
            {@const item = library.find(key)}
            {@const after = item && isRuling ? ruled(item) : null}
            <div class="cols">
              <span class="cut" role="gridcell"><b>{item ? titleOf(item) : ''}</b></span>
              <span class="cut" role="gridcell">{item ? nowWords(item) : ''}</span>
              <span class="cut" role="gridcell">{after ? tracksWords(after.kept) : ''}</span>
              <span role="gridcell">{after?.saved ? bytes(after.saved) : ''}</span>
            </div>
          {/snippet}
        </Ledger>
      </div>
    {/if}
    {#if open}{#key open.id}<TrackTable item={open} />{/key}{/if}
  {/if}
</Panel>

<style>
  .files {
    display: flex;
    flex-direction: column;
    flex: 0 1 210px;
    min-height: 120px;
    border-bottom: 1px solid var(--rule-strong);
  }
  .empty {
    display: grid;
    gap: 12px;
    max-width: 620px;
    padding: 32px 16px;
  }
  h2 {
    font-size: var(--t-sub);
  }
</style>
