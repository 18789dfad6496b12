<script lang="ts">
  import { allTracksOf, editContent, keptTracks, titleOf, type Item } from '$lib/core/items';
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
  let { items, onclose }: { items: readonly Item[]; onclose: () => void } = $props();
  const session = getSession();
  const { library } = session;

  let rule = $state.raw<TrackRule>(ALL_TRACKS);
  let cursor = $state<string | null>(null);
  /** Those with the most tracks first: there is most to choose from. */
  const rows = $derived(
    items
      .flatMap((item) => (item.file.tracks ? [{ key: item.id as string, item }] : []))
      .sort((a, b) => (b.item.file.tracks?.length ?? 0) - (a.item.file.tracks?.length ?? 0)),
  );
  const open = $derived(rows.find(({ key }) => key === cursor) ?? rows[0] ?? null);
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

  const isLeftOut = (tracks: readonly { readonly id: number; readonly isLeftOut?: boolean }[]) =>
    tracks.flatMap((track) => (track.isLeftOut ? track.id : [])).join();
  /** What the rule makes otherwise than it is. */
  const changing = $derived(
    rows.filter(({ item }) => isLeftOut(ruledTracks(item.file, rule)) !== isLeftOut(item.edits.tracks ?? [])),
  );

  function apply() {
    library.act(
      `Tracks of ${counted(changing.length, 'file')}`,
      changing.map(({ item }) => item),
      (item) => editContent(item, { tracks: ruledTracks(item.file, rule) }),
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
    <TrackRuleBar
      bind:rule
      count={changing.length}
      disabled={!library.mayWrite || changing.length === 0}
      onapply={apply}
    />
    {#if rows.length > 1}
      <div class="files">
        <Ledger
          {rows}
          cursor={open?.key ?? null}
          label="Files with several tracks"
          {columns}
          rowHeight={29}
          isSelected={({ key }) => key === open?.key}
          onpick={({ key }) => (cursor = key)}
        >
          {#snippet head()}<LedgerHeads
              heads={[{ name: 'File' }, { name: 'Now' }, { name: 'By the rule' }, { name: 'Saves' }]}
            />{/snippet}
          {#snippet row({ item })}
            {@const after = isRuling ? ruled(item) : null}
            <div class="cols">
              <span class="cut" role="gridcell"><b>{titleOf(item)}</b></span>
              <span class="cut" role="gridcell">{nowWords(item)}</span>
              <span class="cut" role="gridcell">{after ? tracksWords(after.kept) : ''}</span>
              <span role="gridcell">{after?.saved ? bytes(after.saved) : ''}</span>
            </div>
          {/snippet}
        </Ledger>
      </div>
    {/if}
    {#if open}{#key open.key}<TrackTable item={open.item} />{/key}{/if}
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
