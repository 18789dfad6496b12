<script lang="ts">
  import { RELEASE_TYPES, type Gathering } from '$lib/core/identify';
  import {
    readTrackList,
    releaseOfOwn,
    textOfEntries,
    type ListedEntry,
    type OwnReference,
  } from '$lib/core/track-lists';
  import { fieldsOf } from '$lib/core/items';
  import { newId } from '$lib/io/new-id';
  import { getSession } from '$lib/state/session.svelte';
  import FileButton from '$lib/ui/FileButton.svelte';
  import Panel from '$lib/ui/Panel.svelte';
  import { clock, counted } from '$lib/ui/words/amounts';
  import { tableOfHtml } from './pasted-table';

  /** Track and episode lists of the curator's own, for what no service knows. They are kept with the library. */
  let { set, onclose }: { set: Gathering; onclose: () => void } = $props();
  const session = getSession();
  const { identify, library } = session;

  const MOST_SHOWN = 300;
  const placeholder =
    'Paste or type one per line:\n1. Low Water 4:12\nS01E02 Ballast\nSeason 2\n\nA table with a head row works too.';
  const MOST_BYTES = 1_000_000;

  const begin = (): OwnReference => ({
    id: newId(),
    type: set.type,
    title: set.label,
    maker: null,
    year: null,
    text: '',
  });
  let draft = $state.raw<OwnReference>(begin());
  let trouble = $state<string | null>(null);
  const kept = $derived(library.references.filter(({ type }) => type === draft.type));
  const isKept = $derived(library.references.some(({ id }) => id === draft.id));
  const release = $derived(releaseOfOwn(draft));
  const lengths = $derived(release.entries.filter(({ lengthSeconds }) => lengthSeconds !== null).length);
  const others = $derived(
    identify.sets.gatherings.filter(({ key, items }) => key !== set.key && items.length > 1),
  );

  const change = (part: Partial<OwnReference>) => (draft = { ...draft, ...part });
  const wordOf = (text: string) => (text.trim() === '' ? null : text.trim());

  /** Takes a text, and what it says of the release as a whole. */
  function take(text: string) {
    const { title, maker, year } = readTrackList(text);
    trouble = null;
    change({ text, title: title ?? draft.title, maker: maker ?? draft.maker, year: year ?? draft.year });
  }

  function paste(event: ClipboardEvent) {
    const html = event.clipboardData?.getData('text/html') ?? '';
    const table = html.length > 0 && html.length < 10 * MOST_BYTES ? tableOfHtml(html) : null;
    const area = event.currentTarget as HTMLTextAreaElement;
    if (table === null || area.value.trim() !== '') return;
    event.preventDefault();
    take(table);
  }

  async function readFile(file: File) {
    if (file.size > MOST_BYTES)
      trouble = `${file.name} is too large for a track list. Choose a text file of at most 1 MB.`;
    else take(await file.text());
  }

  /** The files of another set as a list. */
  function fromSet(key: string) {
    const other = others.find((one) => one.key === key);
    if (!other) return;
    const items = library.findAll(other.items);
    const listed = items.map((item): ListedEntry => {
      const { title, track, episode, disc, season, artist } = fieldsOf(item);
      const [place, part] = [episode ?? track, season ?? disc];
      return {
        ...(place !== null && { number: place }),
        ...(part !== null && { disc: part }),
        ...(title !== null && { title }),
        ...(other.type === 'album' && artist !== null && { artist: artist.join(', ') }),
        ...(item.facts.durationSeconds !== null && { lengthSeconds: item.facts.durationSeconds }),
      };
    });
    change({ text: textOfEntries(listed), title: other.label });
  }

  /** The episodes of a feed as a list, the oldest first. */
  function fromFeed(id: string) {
    const feed = library.feeds.find((one) => one.id === id);
    if (!feed) return;
    const listed = [...feed.episodes]
      .reverse()
      .map(({ title, number: place, season, date }): ListedEntry => ({
        title,
        ...(place !== null && { number: place }),
        ...(season !== null && { disc: season }),
        ...(date !== null && { date }),
      }));
    change({ text: textOfEntries(listed), title: feed.title, maker: feed.maker });
  }

  async function compare() {
    library.keepReference(draft);
    await identify.lookUps.compareWithOwn();
    const own = identify.lookUps.lookUp?.candidates.find((one) => one.release.id === draft.id);
    if (own) identify.pairing.choose(own.key);
    onclose();
  }

  function forget() {
    library.forgetReference(draft);
    void identify.lookUps.compareWithOwn();
    draft = begin();
  }
</script>

<Panel title="Track list" fits>
  {#snippet tools()}
    <select
      class="pick"
      aria-label="Saved track lists"
      value={isKept ? draft.id : ''}
      onchange={(event) => {
        const { value } = event.currentTarget;
        draft = kept.find(({ id }) => id === value) ?? begin();
      }}
    >
      <option value="">new list</option>
      {#each kept as one (one.id)}<option value={one.id}>{one.title}</option>{/each}
    </select>
    <span class="end">
      {#if isKept}<button class="btn" onclick={forget}>Delete list</button>{/if}
      <button class="btn" onclick={onclose}>Back to the set</button>
      <button
        class="btn btn-primary"
        disabled={release.entries.length === 0 || draft.title.trim() === ''}
        onclick={() => void compare()}>Compare with it</button
      >
    </span>
  {/snippet}
  <div class="facts">
    <label class="wide"
      >title <input
        value={draft.title}
        oninput={(event) => change({ title: event.currentTarget.value })}
      /></label
    >
    <label class="wide"
      >artist, author or host <input
        value={draft.maker ?? ''}
        oninput={(event) => change({ maker: wordOf(event.currentTarget.value) })}
      /></label
    >
    <label
      >year <input
        class="year"
        inputmode="numeric"
        value={draft.year ?? ''}
        oninput={(event) => change({ year: Number(/^\d{4}$/.exec(event.currentTarget.value)?.[0]) || null })}
      /></label
    >
    <label
      >type <select
        value={draft.type}
        onchange={(event) => {
          const type = RELEASE_TYPES.find((one) => one === event.currentTarget.value);
          if (type) change({ type });
        }}
      >
        {#each RELEASE_TYPES as type (type)}<option value={type}>{type}</option>{/each}
      </select></label
    >
  </div>
  <div class="two">
    <section aria-label="Text of the list">
      <div class="sources">
        <FileButton
          label="Read a file"
          accept=".txt,.cue,.csv,.tsv,.json,text/plain"
          onfile={(file) => void readFile(file)}
        />
        {#if others.length > 0}
          <select
            aria-label="Copy from another set"
            value=""
            onchange={(event) => fromSet(event.currentTarget.value)}
          >
            <option value="">copy from another set</option>
            {#each others as { key, label, items } (key)}<option value={key}>{label}, {items.length}</option
              >{/each}
          </select>
        {/if}
        {#if library.feeds.length > 0}
          <select
            aria-label="Copy from a feed"
            value=""
            onchange={(event) => fromFeed(event.currentTarget.value)}
          >
            <option value="">copy from a feed</option>
            {#each library.feeds as { id, title } (id)}<option value={id}>{title}</option>{/each}
          </select>
        {/if}
      </div>
      {#if trouble}<p class="trouble" role="alert">{trouble}</p>{/if}
      <textarea
        aria-label="Tracks or episodes"
        {placeholder}
        value={draft.text}
        onpaste={paste}
        oninput={(event) => change({ text: event.currentTarget.value })}
        spellcheck="false"></textarea>
    </section>
    <section aria-label="Entries of the list">
      <p class="quiet" role="status">
        {counted(release.entries.length, 'entry', 'entries')}{#if release.entries.length > 0}, {lengths} with a
          length{/if}{#each release.orders as { name } (name)}, {name} order{/each}
      </p>
      <div class="entries">
        <table>
          <thead><tr><th>Disc</th><th>No.</th><th>Title</th><th>Length</th></tr></thead>
          <tbody>
            {#each release.entries.slice(0, MOST_SHOWN) as entry (entry.id)}
              <tr>
                <td>{entry.disc ?? ''}</td><td>{entry.number}</td>
                <td
                  >{entry.title}{#if entry.artist}<span class="quiet">, {entry.artist}</span>{/if}</td
                >
                <td>{entry.lengthSeconds === null ? '' : clock(entry.lengthSeconds)}</td>
              </tr>
            {/each}
          </tbody>
        </table>
        {#if release.entries.length > MOST_SHOWN}<p class="quiet">
            and {release.entries.length - MOST_SHOWN} more
          </p>{/if}
      </div>
    </section>
  </div>
</Panel>

<style>
  .facts label {
    display: flex;
    align-items: center;
    gap: 6px;
    white-space: nowrap;
    color: var(--ink-2);
  }
  .pick {
    max-width: 200px;
  }
  .facts {
    display: flex;
    flex-wrap: wrap;
    gap: 6px 16px;
    flex: none;
    padding: 0 16px 10px;
  }
  .wide {
    flex: 1 1 220px;
  }
  .wide input {
    flex: 1;
    min-width: 0;
  }
  .year {
    width: 56px;
  }
  .two {
    display: grid;
    grid-template-columns: repeat(auto-fit, minmax(300px, 1fr));
    flex: 1;
    min-height: 0;
    border-top: 1px solid var(--rule);
  }
  section {
    display: flex;
    flex-direction: column;
    gap: 8px;
    min-height: 0;
    padding: 10px 16px;
  }
  section + section {
    border-left: 1px solid var(--rule);
  }
  .sources {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
  }
  .sources select {
    max-width: 190px;
  }
  textarea {
    flex: 1;
    min-height: 120px;
    padding: 8px;
    resize: none;
    border: 1px solid var(--rule-strong);
    background: var(--raised);
    font: var(--t-small) var(--font-mono);
    white-space: pre;
    overflow: auto;
    tab-size: 8;
  }
  .entries {
    flex: 1;
    min-height: 0;
    overflow-y: auto;
  }
  table {
    width: 100%;
    border-collapse: collapse;
  }
  th {
    text-align: left;
    font-weight: 400;
    font-size: var(--t-small);
    color: var(--ink-2);
  }
  th,
  td {
    padding: 4px 8px 4px 0;
    border-bottom: 1px solid var(--rule);
    vertical-align: top;
  }
</style>
