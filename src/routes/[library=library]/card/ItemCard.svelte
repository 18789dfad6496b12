<script lang="ts">
  import { goto } from '$app/navigation';
  import { page } from '$app/state';
  import { summarize, summarySteps, type Summary } from '$lib/core/browse';
  import {
    chaptersOf,
    fieldsOf,
    isEdited,
    timedOf,
    titleOf,
    type FieldName,
    type Item,
    type ItemId,
  } from '$lib/core/items';
  import { KINDS, KIND_FACTS, kindOfFolder, type Kind } from '$lib/core/kinds';
  import { placesOf } from '$lib/formats';
  import { inSlices } from '$lib/state/in-slices';
  import { getSession } from '$lib/state/session.svelte';
  import { fieldsOnCard, type CardSection } from '$lib/ui/card-fields';
  import EvidenceBars from '$lib/ui/EvidenceBars.svelte';
  import SpineLabel from '$lib/ui/SpineLabel.svelte';
  import { bytes, clock, counted } from '$lib/ui/words/amounts';
  import { countedKind } from '$lib/ui/words/kind-words';
  import FieldRow from './FieldRow.svelte';
  import InLists from './InLists.svelte';
  import FoundBeside from './FoundBeside.svelte';
  import InTime from './InTime.svelte';
  import InsideFile from './InsideFile.svelte';
  import LaidAgainst from './LaidAgainst.svelte';
  import Pictures from './Pictures.svelte';
  import Questions from './Questions.svelte';
  import WhereItPlays from './WhereItPlays.svelte';

  let { items }: { items: readonly Item[] } = $props();
  const session = getSession();

  /** Questions of which all fields are shown. */
  let opened = $state.raw<ReadonlySet<CardSection>>(new Set());

  const one = $derived(items.length === 1 ? (items[0] as Item) : null);
  /** Items that are summed up at once; more of them in slices, while the card says what it said before. */
  const FEW = 1500;
  /** Files that are handed out at once; more belong on a player. */
  const MOST_HANDED = 500;
  const soon = $derived(items.length <= FEW ? summarize(items, placesOf) : null);
  let late = $state.raw<{ readonly of: ReadonlySet<ItemId>; readonly summary: Summary } | null>(null);
  $effect(() => {
    if (soon) return;
    const of = session.selection.ids;
    return inSlices(summarySteps(items, placesOf), (made) => (late = { of, summary: made }), 'later');
  });
  const summary = $derived(soon ?? (late?.of === session.selection.ids ? late.summary : null));
  const kinds = $derived([...(summary?.kinds.keys() ?? [])]);
  const isVideo = $derived(one?.facts.streams.some(({ type }) => type === 'picture') ?? false);
  const likeliest = $derived(one?.guess.kind ?? null);
  const others = $derived.by(() => {
    const next = one?.guess.next;
    return [likeliest, next && next !== likeliest ? next : null].filter(
      (kind): kind is Kind => kind !== null && kind !== undefined,
    );
  });
  const certainty = $derived(one ? (one.settled ? 'settled' : one.guess.certainty) : '');
  const lead: Record<string, string> = {
    settled: 'Settled:',
    sure: 'Surely',
    likely: 'Likely',
    guess: 'Perhaps',
    open: 'Open',
  };
  const chapters = $derived(one ? chaptersOf(one) : []);
  const timed = $derived(one ? timedOf(one) : []);
  const inTime = $derived(
    [
      chapters.length > 0 ? counted(chapters.length, 'chapter') : null,
      timed.length > 0 ? counted(timed.length, 'timed line') : null,
    ].filter((text) => text !== null),
  );
  /** Fields that hardly matter to a kind show where they say something, and where all are wanted. */
  const saysAny = (name: FieldName) => {
    const value = summary?.fields.get(name)?.shared;
    return value?.type === 'differs' || (value?.value ?? null) !== null;
  };
  const shownOf = (section: CardSection) => {
    const { main, others } = fieldsOnCard(kinds, section);
    const isOpen = opened.has(section);
    const more = others.filter((name) => isOpen || saysAny(name));
    return { names: [...main, ...more], hidden: isOpen ? 0 : others.length - more.length, isOpen };
  };

  const edited = $derived(
    items.length > FEW ? 0 : items.reduce((count, item) => count + Number(isEdited(item)), 0),
  );

  function putAllBack() {
    const own = items.filter(isEdited);
    session.library.act(`Restore ${own.length} from their files`, own, (item) => ({ ...item, edits: {} }));
  }

  /** Words and chapters are worked on where there is room for them. */
  async function openSurface(surface: 'words' | 'chapters' | 'pictures') {
    session.surface = surface;
    if (session.scope.board !== 'describe') await goto(`/${page.params.library}/describe`);
  }

  function toggle(section: CardSection) {
    const next = new Set(opened);
    if (!next.delete(section)) next.add(section);
    opened = next;
  }

  const laidOut = $derived(
    session.scope.board === 'identify' &&
      one &&
      session.identify.lookUps.files.some(({ id }) => id === one.id)
      ? one
      : null,
  );
  /** There it is the first question. */
  const onLists = $derived(session.scope.board === 'lists');
  const folderRule = $derived(
    one ? kindOfFolder(session.library.folderKinds, 'rule', one.source, one.path) : null,
  );
  const matched = $derived(one?.identity?.type === 'matched' ? one.identity : null);
</script>

{#snippet fields(section: CardSection)}
  {@const { names, hidden, isOpen } = shownOf(section)}
  {#each names as name (name)}
    {@const own = summary?.fields.get(name)}
    {#if own}<FieldRow {name} {items} summary={own} />{/if}
  {/each}
  {#if hidden > 0 || isOpen}
    <button class="act more" aria-expanded={isOpen} onclick={() => toggle(section)}
      >{isOpen ? 'Fewer fields' : `${counted(hidden, 'more field')}`}</button
    >
  {/if}
{/snippet}

<header>
  {#each kinds.slice(0, 3) as kind (kind)}
    <SpineLabel {kind} certainty={one && !one.settled ? one.guess.certainty : 'sure'} height={36} />
  {/each}
  <div>
    <h2>{one ? titleOf(one) : counted(items.length, 'item')}</h2>
    <p class="path quiet">
      {one ? one.path : summary ? `${clock(summary.seconds)}, ${bytes(summary.bytes)}` : 'counting'}
    </p>
    {#if edited > 0}
      <button class="act" onclick={putAllBack}
        >Restore {one ? 'all fields' : counted(edited, 'edited item')} from the {one
          ? 'file'
          : 'files'}</button
      >
    {/if}
  </div>
</header>
<Questions>
  {#if onLists}<InLists {items} />{/if}
  <section>
    <h3>
      What {one ? 'is it' : 'are they'}?
      {#if one && !one.settled}<small
          >{one.guess.points} points{#if one.guess.next}, next best {one.guess.nextPoints}{/if}</small
        >{/if}
    </h3>
    {#if one}
      <p>
        {lead[certainty]}
        {#if certainty !== 'open'}<span class="guess {certainty}"
            >{KIND_FACTS[one.settled ?? (one.guess.kind as Kind)].one}</span
          >{/if}
      </p>
      {#if one.guess.evidence.length > 0}<EvidenceBars evidence={one.guess.evidence.slice(0, 7)} />{/if}
    {:else}
      <p>
        {kinds.map((kind) => countedKind(summary?.kinds.get(kind) ?? 0, kind)).join(', ')}
      </p>
    {/if}
    <div class="kinds">
      {#each others as kind, index (kind)}
        <button
          class="btn"
          class:btn-primary={index === 0 && !one?.settled}
          onclick={() => session.kinds.settle(items, kind)}
        >
          {KIND_FACTS[kind].one}{#if index === 0 && !one?.settled && session.scope.board === 'intake'}<span
              class="key">Enter</span
            >{/if}
        </button>
      {/each}
      <select
        class="other"
        aria-label={one ? 'Another kind' : `Kind of ${items.length} items`}
        onchange={(event) => {
          const kind = event.currentTarget.value;
          event.currentTarget.value = '';
          if (kind) session.kinds.settle(items, kind as Kind);
        }}
      >
        <option value="">{one ? 'Another kind' : 'Set the kind of all'}</option>
        {#each KINDS as kind (kind)}<option value={kind}>{KIND_FACTS[kind].one}</option>{/each}
      </select>
      {#if folderRule !== null}
        <button class="act" onclick={() => session.kinds.setFolderRule(items[0] as Item, null)}
          >Remove the folder rule: {KIND_FACTS[folderRule].many}</button
        >
      {:else if one?.settled}
        <button class="act" onclick={() => session.kinds.setFolderRule(one, one.settled)}
          >Treat this folder as {KIND_FACTS[one.settled].many}</button
        >
      {/if}
    </div>
  </section>
  {#if laidOut}<LaidAgainst item={laidOut} />{/if}
  {#if one && isVideo}
    {#await import('./SeeIt.svelte') then { default: SeeIt }}<SeeIt item={one} />{/await}
  {/if}
  <section>
    <h3>
      {#if laidOut}What do its tags say?{:else}Where {one ? 'does it' : 'do they'} belong?{/if}{#if !one}<small
          >fields that you do not touch stay as they are</small
        >{/if}
    </h3>
    {#if one?.gone}<p class="gone">
        missing from its folder since {new Date(one.gone).toLocaleString('en-GB')}
      </p>{/if}
    {#if matched}<p class="quiet">
        matched to {matched.title} by {matched.source}
      </p>{:else if one?.identity?.type === 'left'}<p class="quiet">left as it is</p>{/if}
    {@render fields('belong')}
  </section>
  <section>
    <h3>Who made {one ? 'it' : 'them'}?</h3>
    {@render fields('made')}
  </section>
  <section>
    <h3>What {one ? 'does it' : 'do they'} look like?</h3>
    {#if summary}<Pictures {items} {summary} onwork={() => openSurface('pictures')} />{/if}
  </section>
  <section>
    <h3>
      What is said in {one ? 'it' : 'them'}?{#if inTime.length > 0}<small>{inTime.join(', ')}</small>{/if}
    </h3>
    {#if one}
      <p class="surfaces">
        <button class="act" onclick={() => openSurface('words')}>Words</button>
        <button class="act" onclick={() => openSurface('chapters')}>Chapters</button>
      </p>
    {/if}
    {@render fields('said')}
    {#if chapters.length > 0}
      <InTime
        label={counted(chapters.length, 'chapter')}
        said={chapters.map(({ startSeconds, title }) => ({ startSeconds, text: title }))}
      />
    {/if}
    {#if timed.length > 0}<InTime label={counted(timed.length, 'timed line')} said={timed} />{/if}
  </section>
  {#if !onLists}<InLists {items} />{/if}
  <FoundBeside {items} />
  <InsideFile {items} />
  <WhereItPlays {items} />
  {#if items.length <= MOST_HANDED}
    {#await import('./HandOut.svelte') then { default: HandOut }}<HandOut {items} />{/await}
  {/if}
  {#if one && fieldsOf(one).title === null}<p class="hint quiet">
      Without a title, players show the file name.
    </p>{/if}
</Questions>

<style>
  header {
    display: flex;
    gap: 10px;
    padding: 14px 44px 12px 16px;
    border-bottom: 1px solid var(--rule-strong);
  }
  header div {
    min-width: 0;
  }
  h2 {
    font-size: var(--t-title);
    line-height: 1.2;
    overflow-wrap: anywhere;
    display: -webkit-box;
    -webkit-line-clamp: 2;
    line-clamp: 2;
    -webkit-box-orient: vertical;
    overflow: hidden;
  }
  header p {
    overflow-wrap: anywhere;
  }
  .guess {
    border-bottom: 1.75px solid var(--ink);
  }
  .guess.likely {
    border-bottom-style: dashed;
  }
  .guess.guess {
    border-bottom-style: dotted;
  }
  .guess.sure,
  .guess.settled {
    border-bottom-style: solid;
  }
  .guess.likely {
    border-bottom-style: dashed;
  }
  .kinds {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
    margin-top: 8px;
  }
  .other {
    height: 28px;
    padding: 0 6px;
    border: 1px solid var(--rule-strong);
    background: var(--raised);
  }
  .surfaces {
    display: flex;
    gap: 16px;
    margin-bottom: 4px;
  }
  .more {
    margin-top: 4px;
    font-size: var(--t-small);
  }
  .gone {
    color: var(--attention-ink);
  }
  .hint {
    padding: 8px 16px;
  }
</style>
