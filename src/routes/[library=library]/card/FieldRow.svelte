<script lang="ts">
  import Undo from '@lucide/svelte/icons/rotate-ccw';
  import type { FieldSummary } from '$lib/core/browse';
  import {
    editItem,
    editsOf,
    fieldText,
    fieldsOf,
    kindOf,
    parseFieldText,
    putBack,
    requireField,
    toTexts,
    type FieldName,
    type FieldValue,
    type Item,
  } from '$lib/core/items';
  import { findPlace } from '$lib/core/rulebooks';
  import { holdsValue, tagMapOf } from '$lib/formats';
  import { getSession } from '$lib/state/session.svelte';
  import Agreement from './Agreement.svelte';
  import { offersFor, withOffer, type FieldOffer } from './field-offers';
  import { SORTED, sortName } from './sort-names';
  import Stars from './Stars.svelte';
  import Tokens from './Tokens.svelte';

  /** One field of the selection. Only what is typed is changed; Enter takes it, Escape leaves it. */
  let { name, items, summary }: { name: FieldName; items: readonly Item[]; summary: FieldSummary } = $props();
  const session = getSession();
  const uid = $props.id();

  /** Items whose names are looked at for a proposal. */
  const MOST_PROPOSED = 500;

  /** Letters of a text that are shown at once, and of its beginning where it has more. */
  const MOST_SHOWN = 2000;
  const EXCERPT = 280;
  /** The text that is shown whole though it is long. */
  let whole = $state.raw<string | null>(null);
  let typed = $state<string | null>(null);
  let wrong = $state<string | null>(null);
  let input = $state<HTMLElement>();
  let isOpen = $state(false);
  let at = $state(-1);

  /** A date that is complete. */
  const DAY = /^\d{4}-\d{2}-\d{2}$/;

  const facts = $derived(requireField(name));
  const { shared, edited, unheld } = $derived(summary);
  const standing = $derived(shared.type === 'same' ? fieldText(shared.value) : '');
  const isWhole = $derived(whole === standing);
  const isDirty = $derived(typed !== null && typed !== standing);
  /** What is usual depends on the kind; a large selection is judged by its beginning. */
  const kinds = $derived(new Set(items.slice(0, MOST_PROPOSED).map(kindOf)));
  const offers = $derived(
    isOpen && typed !== null
      ? offersFor(name, typed, session.values, kinds).filter(({ text }) => text !== typed)
      : [],
  );
  const rating = $derived(shared.type === 'same' && typeof shared.value === 'number' ? shared.value : null);
  /** Several values that all of them share: their order can be changed. */
  const tokens = $derived(
    shared.type === 'same' && typeof shared.value === 'object' && (shared.value?.length ?? 0) > 1
      ? shared.value
      : null,
  );

  /** What a value that is typed would do to the others. */
  const effect = $derived.by(() => {
    if (items.length === 1) return '';
    const what: string[] = [];
    if (shared.type === 'differs') {
      const told = shared.values.map(({ value, count }) => `${fieldText(value)} ${count}`).join(', ');
      if (told !== '') what.push(`replaces ${told}`);
      if (shared.empty > 0) what.push(`fills ${shared.empty}`);
    } else if (standing !== '') what.push(`replaces ${standing}`);
    return `All ${items.length}: ${what.join('; ') || 'Enter to set'}`;
  });

  /** What the tags of the copies cannot hold, of this field or of the value that is typed. */
  const limit = $derived.by(() => {
    if (unheld > 0) {
      const whose =
        unheld === items.length
          ? unheld === 1
            ? 'Its format has'
            : 'Their formats have'
          : `${unheld} of them have`;
      return `${whose} no field for it: it stays in Lectorum`;
    }
    const parsed = isDirty ? parseFieldText(name, typed ?? '') : null;
    if (parsed?.type !== 'value') return '';
    const count = items.slice(0, 200).filter((item) => {
      const map = tagMapOf(item);
      return map !== null && !holdsValue(map, name, parsed.value);
    }).length;
    if (count === 0) return '';
    return `${items.length === 1 ? 'Its format' : 'The format of ' + count} cannot store this value`;
  });

  /** Players that show only the beginning of the text, with how much that is. */
  const shownBy = $derived.by(() => {
    const length = [...(typed ?? standing)].length;
    if (length === 0) return '';
    return session.players.list
      .flatMap(({ name: player, rulebook }) => {
        const shows = rulebook.texts.find(({ field }) => field === name);
        const isFor = [...kinds].some((kind) => findPlace(rulebook, kind) !== null);
        return shows && isFor && shows.letters < length
          ? [`${player} shows the first ${shows.letters} of its ${length} letters`]
          : [];
      })
      .join('; ');
  });

  function take() {
    if (typed === null) return;
    if (typed === standing || (typed === '' && shared.type === 'differs')) return leave();
    const parsed = parseFieldText(name, typed);
    if (parsed.type === 'wrong') {
      wrong = parsed.reason;
      return;
    }
    set(parsed.value);
    leave();
  }

  function set(value: FieldValue) {
    session.library.edit(`${facts.label} of ${items.length}`, items, { [name]: value });
  }

  function leave() {
    typed = null;
    wrong = null;
    isOpen = false;
    at = -1;
  }

  /** The field below, as on paper. */
  function goOn() {
    const all = [...(input?.closest('.questions')?.querySelectorAll<HTMLElement>('[data-field]') ?? [])];
    all[all.indexOf(input as HTMLElement) + 1]?.focus();
  }

  function takeOffer(offer: FieldOffer) {
    typed = withOffer(name, typed ?? '', offer);
    isOpen = false;
    at = -1;
    input?.focus();
  }

  function onkeydown(event: KeyboardEvent) {
    const count = offers.length;
    const offer = offers[at];
    if ((event.key === 'ArrowDown' || event.key === 'ArrowUp') && facts.type !== 'lines') {
      event.preventDefault();
      const by = event.key === 'ArrowDown' ? 1 : -1;
      if (!isOpen) isOpen = true;
      else if (count > 0) at = at < 0 && by < 0 ? count - 1 : (at + by + count) % count;
    } else if (event.key === 'Enter') {
      if (facts.type === 'lines' && !event.ctrlKey && !event.metaKey) return;
      event.preventDefault();
      if (offer) typed = withOffer(name, typed ?? '', offer);
      take();
      if (wrong === null) goOn();
    } else if (event.key === 'Tab' && offer) typed = withOffer(name, typed ?? '', offer);
    else if (event.key === 'Escape') {
      if (isOpen && count > 0) {
        isOpen = false;
        event.stopPropagation();
      } else {
        leave();
        (event.currentTarget as HTMLElement).blur();
      }
    } else if (event.key === 'Delete' && event.shiftKey && facts.type !== 'lines') empty();
  }

  /** A sort name is proposed where there is none, never set by itself. */
  const proposal = $derived.by(() => {
    const of = SORTED[name];
    if (!of || standing !== '' || shared.type === 'differs' || items.length > MOST_PROPOSED) return null;
    const texts = new Set(items.map((item) => fieldText(fieldsOf(item)[of])));
    const [text = ''] = texts;
    const sorted = texts.size === 1 ? sortName(of, text) : text;
    return sorted === text ? null : sorted;
  });

  const oninput = (event: { currentTarget: HTMLInputElement | HTMLTextAreaElement }) => {
    typed = event.currentTarget.value;
    wrong = null;
    isOpen = true;
    at = -1;
  };
  const onblur = () => {
    take();
    isOpen = false;
    at = -1;
    if (!wrong) typed = null;
  };
  const isPicked = $derived(['text', 'texts', 'language'].includes(facts.type) && name !== 'title');
  const hint = $derived(
    shared.type === 'same'
      ? ''
      : shared.isOwn
        ? 'all different'
        : `${fieldText(shared.usual)} (${shared.usualCount})`,
  );

  function restore() {
    const own = items.filter((item) => name in editsOf(item));
    session.library.act(`Restore ${facts.label} of ${own.length}`, own, (item) =>
      putBack(item, { fields: [name] }),
    );
  }

  function empty() {
    session.library.act(`Empty ${facts.label} of ${items.length}`, items, (item) =>
      editItem(item, { [name]: null }),
    );
  }
</script>

<div class="field" class:edited={edited > 0}>
  <label for={uid}>{facts.label}</label>
  {#if facts.type === 'yesno'}
    <select
      id={uid}
      bind:this={input}
      data-field={name}
      value={shared.type === 'same' ? (shared.value ? 'yes' : 'no') : ''}
      onchange={(event) => set(event.currentTarget.value === 'yes' ? true : null)}
    >
      {#if shared.type === 'differs'}<option value="" disabled>differs</option>{/if}
      <option value="no">no</option><option value="yes">yes</option>
    </select>
  {:else if facts.type === 'lines' && typed === null && standing.length > MOST_SHOWN && !isWhole}
    <!-- A text of many letters without a blank takes the browser seconds to lay out. -->
    <div class="excerpt">
      <p>{standing.slice(0, EXCERPT)} …</p>
      <button class="act" id={uid} data-field={name} onclick={() => (whole = standing)}
        >Show all {standing.length.toLocaleString('en')} characters</button
      >
    </div>
  {:else if facts.type === 'lines'}
    <textarea
      id={uid}
      bind:this={input}
      data-field={name}
      rows={typed === null ? 2 : 6}
      value={typed ?? standing}
      placeholder={hint}
      aria-invalid={wrong !== null}
      aria-describedby="{uid}-note"
      onfocus={() => (typed = standing)}
      {oninput}
      {onkeydown}
      {onblur}></textarea>
  {:else}
    <div class="combo">
      <input
        id={uid}
        bind:this={input}
        data-field={name}
        role={isPicked ? 'combobox' : undefined}
        value={typed ?? standing}
        placeholder={hint}
        inputmode={facts.type === 'number' ? 'numeric' : undefined}
        aria-autocomplete={isPicked ? 'list' : undefined}
        aria-expanded={isPicked ? offers.length > 0 : undefined}
        aria-controls={isPicked ? `${uid}-offers` : undefined}
        aria-activedescendant={at >= 0 ? `${uid}-offer-${at}` : undefined}
        autocomplete="off"
        aria-invalid={wrong !== null}
        aria-describedby="{uid}-note"
        onfocus={() => (typed = standing)}
        {oninput}
        {onkeydown}
        {onblur}
      />
      {#if offers.length > 0}
        <ul id="{uid}-offers" role="listbox" aria-label="Values of {facts.label}">
          {#each offers as offer, index (offer.text)}
            <!-- A list box is worked by keyboard from its field. -->
            <!-- svelte-ignore a11y_click_events_have_key_events -->
            <li
              id="{uid}-offer-{index}"
              role="option"
              aria-selected={index === at}
              onmousedown={(event) => event.preventDefault()}
              onclick={() => takeOffer(offer)}
            >
              <span>{offer.text}</span><span class="quiet">{offer.means}</span>
            </li>
          {/each}
        </ul>
      {/if}
    </div>
  {/if}
  <span class="note">
    {#if items.length > 1}<Agreement {shared} total={items.length} />{/if}
    {#if edited > 0}
      <button onclick={restore} aria-label="Restore {facts.label} from the file" title="Restore from the file"
        ><Undo size={13} /></button
      >
    {/if}
  </span>
  {#if name === 'rating'}
    <span class="beside"><Stars value={rating} label={facts.label} onchange={set} /></span>
  {:else if facts.type === 'date'}
    <span class="beside">
      <input
        class="day"
        type="date"
        tabindex="-1"
        aria-label="Choose the {facts.label}"
        value={DAY.test(standing) ? standing : ''}
        onchange={(event) => event.currentTarget.value !== '' && set(event.currentTarget.value)}
      />
    </span>
  {/if}
  {#if tokens}<Tokens label={facts.label} values={tokens} onchange={(values) => set(toTexts(values))} />{/if}
  <span id="{uid}-note" class="below" class:wrong={wrong !== null}>
    {#if wrong}{facts.label} {wrong}
    {:else}
      {#if isDirty && items.length > 1}{effect}{/if}
      {#if limit !== '' && (typed !== null || edited > 0)}<span class="limit">{limit}</span>{/if}
      {#if shownBy !== ''}<span class="quiet">{shownBy}</span>{/if}
      {#if proposal}<button class="act" onclick={() => set(proposal)}>{proposal}</button> is proposed{/if}
    {/if}
  </span>
</div>

<style>
  .field {
    display: grid;
    grid-template-columns: 92px 1fr auto;
    align-items: center;
    column-gap: 8px;
    border-bottom: 1px solid var(--rule);
    min-height: 26px;
  }
  .excerpt {
    min-width: 0;
    padding: 2px 0;
  }
  .excerpt p {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .combo {
    position: relative;
    grid-area: 1 / 2;
    min-width: 0;
  }
  .combo ul {
    position: absolute;
    z-index: 20;
    top: 100%;
    left: 0;
    right: 0;
    border: 1px solid var(--rule-strong);
    background: var(--raised);
  }
  .combo li {
    display: flex;
    justify-content: space-between;
    gap: 12px;
    padding: 3px 8px;
    cursor: pointer;
  }
  .combo li:hover,
  .combo li[aria-selected='true'] {
    background: var(--select);
  }
  .combo li span {
    overflow: hidden;
    text-overflow: ellipsis;
    white-space: nowrap;
  }
  .limit {
    color: var(--attention-ink);
  }
  .field:last-child {
    border-bottom: none;
  }
  label {
    color: var(--ink-2);
  }
  .edited label {
    color: var(--primary-ink);
    font-weight: 600;
  }
  textarea {
    padding: 2px 6px;
    resize: vertical;
    line-height: 1.35;
  }
  input,
  select {
    height: 24px;
  }
  input,
  textarea,
  select {
    width: 100%;
    padding: 0 6px;
    background: none;
    border: 1px solid transparent;
    text-overflow: ellipsis;
  }
  input:hover,
  textarea:hover,
  select:hover {
    border-color: var(--rule-strong);
  }
  input:focus,
  textarea:focus {
    background: var(--raised);
    border-color: var(--ink-2);
  }
  input[aria-invalid='true'] {
    border-color: var(--blocks);
  }
  input::placeholder {
    color: var(--ink-3);
    opacity: 1;
  }
  .beside {
    grid-area: 1 / 2;
    justify-self: end;
    display: flex;
  }
  input.day {
    width: 26px;
    padding: 0;
    color: transparent;
  }
  input.day::-webkit-datetime-edit {
    display: none;
  }
  .note {
    grid-area: 1 / 3;
    display: flex;
    align-items: center;
    gap: 4px;
    font-size: var(--t-small);
    color: var(--attention-ink);
  }
  .below {
    grid-column: 2 / -1;
    padding-left: 6px;
    font-size: var(--t-small);
    color: var(--ink-2);
  }
  .below:empty {
    display: none;
  }
  .wrong {
    color: var(--blocks-ink);
  }
</style>
