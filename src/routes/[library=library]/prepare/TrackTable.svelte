<script lang="ts">
  import ArrowDown from '@lucide/svelte/icons/arrow-down';
  import ArrowUp from '@lucide/svelte/icons/arrow-up';
  import {
    allTracksOf,
    editContent,
    languageTag,
    newTrackId,
    putBack,
    titleOf,
    type Cue,
    type EditedTrack,
    type Item,
    type TrackEdit,
  } from '$lib/core/items';
  import { languageIn } from '$lib/core/beside';
  import { SubtitleFileError, readSubtitles, secondsOf, timeText } from '$lib/core/timing';
  import { tagMapOf } from '$lib/formats';
  import { getSession } from '$lib/state/session.svelte';
  import FileButton from '$lib/ui/FileButton.svelte';
  import { bytes } from '$lib/ui/words/amounts';
  import {
    FLAG_WORDS,
    TRACK_TYPES,
    savedWords,
    streamWords,
    trackCount,
    tracksWords,
  } from '$lib/ui/words/track-words';
  import TrackFlags from './TrackFlags.svelte';

  /** The tracks of one file: what stays, what each is called and for, and what it sounds like or says. */
  let { item }: { item: Item } = $props();
  const session = getSession();
  const { library, listening } = session;

  /** Seconds of a track that are played at a time. */
  const HEARD = 20;
  const SHOWN = 5;
  /** Bytes of a file of subtitles: those of a long film are a tenth of that. */
  const MOST_FILE = 4_000_000;

  let trouble = $state<string | null>(null);
  let from = $state('0:00');
  /** What a track says: its first texts, a sound that plays, or why there is neither. */
  let shown = $state.raw<{
    readonly id: number;
    readonly texts?: readonly Cue[];
    readonly sound?: string;
    readonly wrong?: string;
  } | null>(null);

  const tracks = $derived(allTracksOf(item));
  const kept = $derived(tracks.filter(({ isLeftOut }) => !isLeftOut));
  const own = $derived(
    new Map((item.file.tracks ?? []).map(({ id }, index) => [id, item.facts.streams[index]])),
  );
  const isHeld = $derived(tagMapOf(item)?.tracks !== null);
  const saved = $derived(
    tracks.reduce<number | null>((sum, { id, isLeftOut }) => {
      const size = own.get(id)?.bytes;
      return !isLeftOut || sum === null ? sum : size === undefined ? null : sum + size;
    }, 0),
  );
  const total = $derived([...own.values()].reduce((sum, stream) => sum + (stream?.bytes ?? 0), 0));

  $effect(() => {
    const sound = shown?.sound;
    return () => sound && URL.revokeObjectURL(sound);
  });

  function say(edits: readonly TrackEdit[], what: string) {
    trouble = null;
    library.act(what, [item], (one) => editContent(one, { tracks: edits }));
  }

  function sayLanguage(input: HTMLInputElement, { id, language: before }: EditedTrack) {
    const typed = input.value.trim();
    const language = typed === '' ? null : languageTag(typed);
    if (typed === '' || language !== null) return say([{ id, language }], `Language of track ${id}`);
    trouble = `“${typed}” is not a language. Use a code such as en, nb or pt-BR.`;
    input.value = before ?? '';
  }

  function move(index: number, by: -1 | 1) {
    const order = tracks.map(({ id }) => id);
    const [id] = order.splice(index, 1);
    if (id === undefined) return;
    order.splice(index + by, 0, id);
    say(
      order.map((one, place) => ({ id: one, place })),
      `Move track ${id}`,
    );
  }

  async function addSubtitles(file: File) {
    trouble = null;
    if (file.size > MOST_FILE) {
      trouble = `${file.name} is too large for subtitles.`;
      return;
    }
    try {
      const added = readSubtitles(await file.text());
      const said = languageIn(file.name);
      const id = newTrackId(tracks);
      say([{ id, added, language: said ? languageTag(said) : null }], `Add ${file.name}`);
    } catch (error) {
      if (!(error instanceof SubtitleFileError)) throw error;
      trouble = `${file.name}, line ${error.row}: ${error.message}. Choose a SubRip (.srt) or WebVTT (.vtt) file.`;
    }
  }

  async function show({ id, type, added }: EditedTrack) {
    if (shown?.id === id) {
      shown = null;
      return;
    }
    shown = { id };
    try {
      const found = added
        ? { id, texts: added.slice(0, SHOWN) }
        : type === 'subtitle'
          ? { id, texts: await listening.texts(item, id, SHOWN) }
          : {
              id,
              sound: URL.createObjectURL(await listening.excerpt(item, id, secondsOf(from) ?? 0, HEARD)),
            };
      if (shown?.id === id) shown = found;
    } catch (error) {
      if (shown?.id === id) shown = { id, wrong: error instanceof Error ? error.message : String(error) };
    }
  }

  const share = (size: number | undefined) =>
    size === undefined
      ? ''
      : total > 0
        ? `${bytes(size)}, ${Math.round((100 * size) / total)}%`
        : bytes(size);
</script>

<section class="one" aria-label="Tracks of {titleOf(item)}">
  <header>
    <h2>{titleOf(item)}</h2>
    <p class="quiet">
      {kept.length === tracks.length
        ? tracksWords(tracks)
        : `${trackCount(tracks.length)} become ${tracksWords(kept)}`}{#if savedWords(saved)}; {savedWords(
          saved,
        )}{/if}
    </p>
    <span class="acts">
      <label class="quiet"
        >listen from <input
          type="text"
          class="from"
          bind:value={from}
          maxlength="12"
          aria-label="Listen from"
        /></label
      >
      <FileButton
        label="Add subtitles"
        accept=".srt,.vtt,text/vtt"
        disabled={!library.mayWrite || !isHeld}
        onfile={(file) => void addSubtitles(file)}
      />
      <button
        class="btn"
        disabled={!library.mayWrite || !item.edits.tracks}
        onclick={() => library.act('Put tracks back', [item], (one) => putBack(one, { tracks: true }))}
        >Put tracks back</button
      >
    </span>
  </header>
  {#if trouble}<p class="wrong" role="alert">{trouble}</p>{/if}
  {#if !isHeld}<p class="odd">Files of this format hold one track: these edits stay in the library.</p>{/if}
  <table>
    <thead>
      <tr>
        <th>Keep</th><th>Track</th><th>Inside</th><th>Language</th><th>Name</th><th>For</th><th>Share</th><th
          ><span class="sr-only">Order</span></th
        ><th><span class="sr-only">Try it</span></th>
      </tr>
    </thead>
    <tbody>
      {#each tracks as track, index (track.id)}
        {@const stream = own.get(track.id)}
        <tr class:gone={track.isLeftOut}>
          <td
            ><input
              type="checkbox"
              class="checkbox"
              aria-label="Keep track {track.id}"
              disabled={!library.mayWrite || (kept.length === 1 && !track.isLeftOut)}
              bind:checked={
                () => !track.isLeftOut,
                (keeps) =>
                  say(
                    [{ id: track.id, isLeftOut: !keeps }],
                    `${keeps ? 'Keep' : 'Leave out'} track ${track.id}`,
                  )
              }
            /></td
          >
          <td>{track.id} {TRACK_TYPES[track.type]}</td>
          <td>{stream ? streamWords(stream) : 'added'}</td>
          <td
            ><input
              type="text"
              class="language"
              value={track.language ?? ''}
              maxlength="60"
              aria-label="Language of track {track.id}"
              disabled={!library.mayWrite}
              onchange={(event) => sayLanguage(event.currentTarget, track)}
            /></td
          >
          <td
            ><input
              type="text"
              value={track.name}
              maxlength="1000"
              aria-label="Name of track {track.id}"
              disabled={!library.mayWrite}
              onchange={(event) =>
                say([{ id: track.id, name: event.currentTarget.value }], `Name of track ${track.id}`)}
            /></td
          >
          <td>
            <TrackFlags
              {track}
              disabled={!library.mayWrite}
              onset={(flag, isSet) =>
                say([{ id: track.id, [flag]: isSet }], `Track ${track.id}: ${FLAG_WORDS[flag]}`)}
            />
          </td>
          <td class="quiet">{share(stream?.bytes)}</td>
          <td class="order">
            <button
              aria-label="Move track {track.id} up"
              disabled={!library.mayWrite || index === 0}
              onclick={() => move(index, -1)}><ArrowUp size={14} /></button
            ><button
              aria-label="Move track {track.id} down"
              disabled={!library.mayWrite || index === tracks.length - 1}
              onclick={() => move(index, 1)}><ArrowDown size={14} /></button
            >
          </td>
          <td>
            {#if track.type !== 'picture'}
              <button
                class="act"
                aria-expanded={shown?.id === track.id}
                aria-label="{track.type === 'sound' ? 'Listen to' : 'Read'} track {track.id}"
                onclick={() => void show(track)}>{track.type === 'sound' ? 'Listen' : 'Read'}</button
              >
            {/if}
          </td>
        </tr>
        {#if shown?.id === track.id}
          <tr class="shown"
            ><td colspan="9">
              {#if shown.wrong}<p class="wrong" role="alert">{shown.wrong}</p>
              {:else if shown.sound}<audio controls autoplay src={shown.sound} aria-label="Track {track.id}"
                ></audio>
              {:else if shown.texts}
                {#each shown.texts as { startSeconds, text }, at (at)}
                  <p><span class="quiet">{timeText(startSeconds, 0)}</span> {text}</p>
                {:else}<p class="quiet">Nothing is shown in what was looked through.</p>{/each}
              {:else}<p class="quiet" role="status">Reading track {track.id}</p>{/if}
            </td></tr
          >
        {/if}
      {/each}
    </tbody>
  </table>
  <p class="quiet foot">
    Copies get these tracks without converting anything; the original stays as it is until you write to it.
  </p>
</section>

<style>
  .one {
    flex: 1;
    min-height: 0;
    overflow: auto;
    padding: 8px 16px;
  }
  header {
    display: flex;
    flex-wrap: wrap;
    align-items: baseline;
    gap: 4px 12px;
    margin-bottom: 6px;
  }
  h2 {
    font-size: var(--t-sub);
  }
  .acts {
    display: flex;
    align-items: center;
    gap: 8px;
    margin-left: auto;
  }
  .from {
    width: 56px;
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
    padding: 2px 8px 2px 0;
    border-bottom: 1px solid var(--rule);
    vertical-align: middle;
  }
  td input[type='text'] {
    width: 100%;
    min-width: 60px;
  }
  td input.language {
    width: 62px;
  }
  .gone td:nth-child(n + 2):nth-child(-n + 7) {
    color: var(--ink-3);
    text-decoration: line-through;
  }
  .order {
    white-space: nowrap;
  }
  .order button {
    padding: 4px;
  }
  .order button:disabled {
    color: var(--ink-3);
  }
  .shown td {
    padding: 6px 0 8px 40px;
    background: var(--base);
  }
  .shown p {
    white-space: pre-line;
  }
  audio {
    height: 32px;
  }
  .wrong {
    color: var(--blocks-ink);
  }
  .odd {
    color: var(--attention-ink);
  }
  .foot {
    margin-top: 8px;
  }
</style>
