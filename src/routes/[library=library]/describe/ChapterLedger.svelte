<script lang="ts">
  import { pictureKey, type Chapter, type Item } from '$lib/core/items';
  import { secondsOf, timeText, type ChapterOddity } from '$lib/core/timing';
  import { getSession } from '$lib/state/session.svelte';
  import Ledger from '$lib/ui/Ledger.svelte';
  import LedgerHeads from '$lib/ui/LedgerHeads.svelte';
  import LoadedPicture from '$lib/ui/LoadedPicture.svelte';

  /** Chapters line by line: each is put right where it stands. */
  let {
    item,
    chapters,
    odd,
    durationSeconds,
    chosen = $bindable(),
    onchange,
    onremove,
  }: {
    item: Item;
    chapters: readonly Chapter[];
    /** What is odd about each of them. */
    odd: readonly (readonly ChapterOddity[])[];
    durationSeconds: number;
    /** Which of them is worked on. */
    chosen: number | null;
    onchange: (index: number, of: Partial<Chapter>, label: string) => void;
    onremove: (index: number) => void;
  } = $props();
  const session = getSession();
  const { library, playback } = session;

  const HEADS = [
    { name: 'Number', isShown: false },
    { name: 'Begins' },
    { name: 'Title' },
    { name: 'Link' },
    { name: 'Ends' },
    { name: 'To review', isShown: false },
    { name: 'What to do', isShown: false },
  ];
  const ODDITY_WORDS: Readonly<Record<ChapterOddity, string>> = {
    sameStart: 'starts with the one above',
    overlaps: 'ends after the next one starts',
    gap: 'ends before the next one starts',
    pastEnd: 'past the end',
    short: 'under 2 s',
    untitled: 'no title',
    lateStart: 'no chapter at the start',
  };

  const rows = $derived(chapters.map((chapter, index) => ({ key: String(index), chapter, index })));
</script>

<Ledger
  label="Chapters"
  {rows}
  rowHeight={34}
  columns="62px 116px minmax(140px, 3fr) minmax(90px, 2fr) 96px 150px 58px"
  cursor={chosen === null ? null : String(chosen)}
  isSelected={({ index }) => index === chosen}
  onpick={({ index }) => (chosen = index)}
  onkey={(event, row) => {
    if (event.key !== 'Enter' || !row) return;
    event.preventDefault();
    playback.seek(row.chapter.startSeconds);
  }}
>
  {#snippet head()}
    <LedgerHeads heads={HEADS} />
  {/snippet}
  {#snippet row({ chapter, index })}
    {@const name = chapter.title || `chapter ${index + 1}`}
    <!-- What is typed into is the chosen one. -->
    <div class="cols" onfocusin={() => (chosen = index)}>
      <span role="gridcell" class="quiet first"
        >{index + 1}{#if chapter.picture}{@const { picture } = chapter}<LoadedPicture
            id={String(pictureKey(picture))}
            load={() => session.pictures.ofChapter(item, picture)}
            alt="has a picture"
          />{/if}</span
      >
      <span role="gridcell"
        ><input
          type="text"
          class="path"
          value={timeText(chapter.startSeconds)}
          aria-label="Where {name} begins"
          disabled={!library.mayWrite}
          onchange={(event) => {
            const startSeconds = secondsOf(event.currentTarget.value);
            if (startSeconds === null) event.currentTarget.value = timeText(chapter.startSeconds);
            else onchange(index, { startSeconds }, 'Move a chapter');
          }}
        /></span
      >
      <span role="gridcell"
        ><input
          type="text"
          value={chapter.title}
          maxlength="1000"
          placeholder="no title"
          aria-label="Title of chapter {index + 1}"
          disabled={!library.mayWrite}
          onchange={(event) => onchange(index, { title: event.currentTarget.value }, 'Title of a chapter')}
        /></span
      >
      <span role="gridcell"
        ><input
          type="url"
          value={chapter.link ?? ''}
          placeholder="no link"
          aria-label="Link of {name}"
          disabled={!library.mayWrite}
          onchange={(event) =>
            onchange(index, { link: event.currentTarget.value.trim() || null }, 'Link of a chapter')}
        /></span
      >
      <span role="gridcell"
        ><input
          type="text"
          class="path"
          value={chapter.endSeconds === null ? '' : timeText(chapter.endSeconds, 1)}
          placeholder={timeText(chapters[index + 1]?.startSeconds ?? durationSeconds, 1)}
          aria-label="Where {name} ends"
          disabled={!library.mayWrite}
          onchange={(event) => {
            const typed = event.currentTarget.value.trim();
            onchange(index, { endSeconds: typed === '' ? null : secondsOf(typed) }, 'End of a chapter');
          }}
        /></span
      >
      <span role="gridcell" class="odd"
        >{(odd[index] ?? []).map((code) => ODDITY_WORDS[code]).join(', ')}</span
      >
      <span role="gridcell"
        ><button
          class="act"
          disabled={!library.mayWrite}
          aria-label="Remove {name}"
          onclick={() => onremove(index)}>remove</button
        ></span
      >
    </div>
  {/snippet}
</Ledger>

<style>
  .first {
    display: flex;
    align-items: center;
    justify-content: space-between;
    padding-right: 8px;
    --size: 26px;
  }
</style>
