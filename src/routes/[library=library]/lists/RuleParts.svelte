<script lang="ts">
  import X from '@lucide/svelte/icons/x';
  import {
    QUERY_NAMES,
    parseQuery,
    partsOf,
    textOfParts,
    type QueryName,
    type QueryPart,
    type QueryParts,
    type QueryWorld,
  } from '$lib/core/query';
  import { queryProblemWords } from '$lib/ui/words/query-words';

  /** A rule as a list of conditions that are chosen: the same query that others write. */
  let {
    query,
    world,
    disabled,
    onchange,
  }: { query: string; world: QueryWorld; disabled: boolean; onchange: (query: string) => void } = $props();

  /** What a condition says of a name, as one choice: with what it compares, and whether that is denied. */
  const WAYS = {
    text: [
      ['is', false, 'is'],
      ['is', true, 'is not'],
      ['has', false, 'contains'],
      ['has', true, 'does not contain'],
      ['begins', false, 'begins with'],
      ['ends', false, 'ends with'],
    ],
    counted: [
      ['is', false, 'is'],
      ['is', true, 'is not'],
      ['over', false, 'over'],
      ['under', false, 'under'],
      ['since', false, 'since'],
      ['until', false, 'until'],
      ['from', false, 'between'],
    ],
    presence: [],
  } as const satisfies Readonly<
    Record<string, readonly (readonly [QueryPart['compare'], boolean, string])[]>
  >;
  const FILLED = [
    ['filled', false, 'is set'],
    ['filled', true, 'is missing'],
  ] as const;
  const LATELY = [['in the last', false, 'in the last']] as const;
  const waysOf = (name: QueryName | null) =>
    name === null
      ? WAYS.text.slice(2, 4)
      : [
          ...(name.type === 'date' ? LATELY : []),
          ...WAYS[name.type === 'text' || name.type === 'presence' ? name.type : 'counted'],
          ...FILLED,
        ];
  const wayOf = ({ compare, isNot }: QueryPart) => `${compare} ${isNot}`;
  const NAMES = QUERY_NAMES.toSorted((a, b) => a.name.localeCompare(b.name, 'en'));
  const UNITS: Readonly<Partial<Record<QueryName['type'], string>>> = {
    bytes: 'such as 300 kB',
    seconds: 'such as 5 min',
    date: 'such as 2026-03',
  };

  const hintFor = ({ compare, name }: QueryPart): string => {
    if (compare === 'in the last') return 'such as 2 months';
    return compare === 'from' ? 'such as 1980 to 1990' : (UNITS[name?.type ?? 'text'] ?? '');
  };

  const read = (text: string): QueryParts | null => {
    const parsed = parseQuery(text, world);
    return parsed.type === 'query' ? partsOf(parsed.query) : null;
  };
  const kept = $derived(read(query));
  /** Conditions that are not complete yet are no part of the query. */
  let drafts = $state.raw<QueryParts | null>(null);
  let problem = $state<string | null>(null);
  const shown = $derived(drafts ?? kept);
  // Another query, or an undone one, takes the place of what was begun here.
  $effect(() => {
    void query;
    drafts = null;
    problem = null;
  });

  const isWhole = ({ compare, text }: QueryPart) => compare === 'filled' || text.trim() !== '';

  function set(next: QueryParts) {
    problem = null;
    const whole = { ...next, parts: next.parts.filter(isWhole) };
    const text = textOfParts(whole);
    const parsed = parseQuery(text, world);
    if (parsed.type === 'wrong') {
      drafts = next;
      problem = queryProblemWords(parsed.problem);
    } else if (text !== (kept && textOfParts(kept))) onchange(text);
    if (parsed.type === 'query') drafts = whole.parts.length < next.parts.length ? next : null;
  }

  const change = (index: number, part: QueryPart) =>
    shown && set({ ...shown, parts: shown.parts.map((own, at) => (at === index ? part : own)) });

  function rename(index: number, part: QueryPart, value: string) {
    const name = QUERY_NAMES.find((one) => one.name === value) ?? null;
    const ways = waysOf(name);
    const stays = ways.some(([compare, isNot]) => compare === part.compare && isNot === part.isNot);
    const [compare, isNot] = stays ? [part.compare, part.isNot] : (ways[0] ?? ['has', false]);
    const isSame = name?.type === part.name?.type && compare !== 'filled';
    change(index, { name, compare, isNot, text: isSame ? part.text : '' });
  }

  function compareBy(index: number, part: QueryPart, value: string) {
    const way = waysOf(part.name).find(([compare, isNot]) => `${compare} ${isNot}` === value);
    if (!way) return;
    const [compare, isNot] = way;
    change(index, { ...part, compare, isNot, text: compare === 'filled' ? '' : part.text });
  }
</script>

{#if shown === null}
  <p class="quiet">
    This rule is more than a list of conditions. Write it instead, or empty it to choose conditions here.
  </p>
{:else}
  <div class="parts" role="group" aria-label="Conditions">
    {#if shown.parts.length > 1}
      <label
        ><select
          class="select"
          aria-label="How conditions go together"
          {disabled}
          value={shown.link}
          onchange={(event) => set({ ...shown, link: event.currentTarget.value === 'or' ? 'or' : 'and' })}
        >
          <option value="and">all of these</option>
          <option value="or">any of these</option>
        </select></label
      >
    {/if}
    <ul>
      {#each shown.parts as part, index (index)}
        {@const ways = waysOf(part.name)}
        <li>
          <select
            class="select name"
            aria-label="Condition {index + 1}, of what"
            {disabled}
            value={part.name?.name ?? ''}
            onchange={(event) => rename(index, part, event.currentTarget.value)}
          >
            <option value="">anything</option>
            {#each NAMES as { name } (name)}<option value={name}>{name}</option>{/each}
          </select>
          <select
            class="select way"
            aria-label="Condition {index + 1}, how"
            {disabled}
            value={wayOf(part)}
            onchange={(event) => compareBy(index, part, event.currentTarget.value)}
          >
            {#each ways as [compare, isNot, words] (`${compare} ${isNot}`)}
              <option value="{compare} {isNot}">{words}</option>
            {/each}
          </select>
          {#if part.compare !== 'filled'}
            <input
              class="input"
              aria-label="Condition {index + 1}, value"
              placeholder={hintFor(part)}
              {disabled}
              value={part.text}
              onchange={(event) => change(index, { ...part, text: event.currentTarget.value })}
            />
          {/if}
          <button
            class="remove"
            {disabled}
            aria-label="Remove condition {index + 1}"
            onclick={() => set({ ...shown, parts: shown.parts.toSpliced(index, 1) })}><X size={14} /></button
          >
        </li>
      {/each}
    </ul>
    <button
      class="act"
      {disabled}
      onclick={() =>
        set({
          ...shown,
          parts: [
            ...shown.parts,
            {
              isNot: false,
              name: QUERY_NAMES.find(({ name }) => name === 'genre') ?? null,
              compare: 'is',
              text: '',
            },
          ],
        })}>Add a condition</button
    >
    {#if problem}<p class="trouble" role="alert">{problem}</p>{/if}
  </div>
{/if}

<style>
  .parts {
    display: grid;
    gap: 4px;
    justify-items: start;
  }
  li {
    display: flex;
    align-items: center;
    gap: 6px;
    padding: 2px 0;
  }
  .select,
  .input {
    height: 28px;
    font-size: inherit;
  }
  .name,
  .way {
    width: 140px;
  }
  .input {
    width: 180px;
  }
  .remove {
    display: flex;
    padding: 4px;
  }
</style>
