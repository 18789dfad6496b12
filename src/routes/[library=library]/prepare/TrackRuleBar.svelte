<script lang="ts">
  import { languageTag } from '$lib/core/items';
  import type { TrackRule } from '$lib/core/rewrite';
  import { counted } from '$lib/ui/words/amounts';

  /** One rule for the tracks of many files. */
  let {
    rule = $bindable(),
    count,
    disabled,
    onapply,
  }: { rule: TrackRule; count: number; disabled: boolean; onapply: () => void } = $props();

  type Which = 'all' | 'some' | 'none';
  const WHICH: Readonly<Record<Which, string>> = { all: 'all', some: 'only', none: 'none' };
  /** What is typed, until it is a list of languages. */
  let typed = $state({ sound: '', subtitles: '' });
  let which = $state<{ sound: Which; subtitles: Which }>({ sound: 'all', subtitles: 'all' });
  const wrong = $derived(
    (['sound', 'subtitles'] as const).flatMap((part) =>
      which[part] === 'some' ? listed(typed[part]).filter((one) => languageTag(one) === null) : [],
    ),
  );

  const listed = (text: string): string[] => text.split(/[\s,;]+/).filter(Boolean);

  function say(part: 'sound' | 'subtitles') {
    const languages = listed(typed[part]).filter((one) => languageTag(one) !== null);
    const asked = which[part] === 'all' ? null : which[part] === 'none' ? [] : languages;
    // Nothing typed yet asks for nothing.
    rule = { ...rule, [part]: which[part] === 'some' && languages.length === 0 ? null : asked };
  }
</script>

<form
  onsubmit={(event) => {
    event.preventDefault();
    onapply();
  }}
>
  {#each ['sound', 'subtitles'] as const as part (part)}
    <label>
      Keep {part}
      <select bind:value={which[part]} onchange={() => say(part)}>
        {#each Object.entries(WHICH) as [value, word] (value)}
          {#if part === 'subtitles' || value !== 'none'}<option {value}>{word}</option>{/if}
        {/each}
      </select>
    </label>
    {#if which[part] === 'some'}
      <input
        type="text"
        bind:value={typed[part]}
        oninput={() => say(part)}
        maxlength="200"
        placeholder="en, nb"
        aria-label="Languages of {part}"
      />
    {/if}
  {/each}
  <label
    ><input
      type="checkbox"
      class="checkbox"
      bind:checked={
        () => rule.leavesCommentaries, (leavesCommentaries) => (rule = { ...rule, leavesCommentaries })
      }
    />no commentaries</label
  >
  <label
    ><input
      type="checkbox"
      class="checkbox"
      bind:checked={
        () => rule.leavesDescriptions, (leavesDescriptions) => (rule = { ...rule, leavesDescriptions })
      }
    />no audio description</label
  >
  <button class="btn" disabled={disabled || wrong.length > 0}
    >Apply to {count > 1 ? 'all ' : ''}{counted(count, 'file')}</button
  >
</form>
{#if wrong.length > 0}<p class="wrong" role="alert">
    {wrong.map((one) => `“${one}”`).join(', ')}: not a language. Use codes such as en, nb or pt-BR.
  </p>{/if}

<style>
  form {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 6px 14px;
    flex: none;
    padding: 4px 16px 8px;
    border-bottom: 1px solid var(--rule);
  }
  label {
    display: flex;
    align-items: center;
    gap: 6px;
    color: var(--ink-2);
  }
  input[type='text'] {
    width: 90px;
  }
  .btn {
    margin-left: auto;
  }
  .wrong {
    padding: 4px 16px;
    color: var(--blocks-ink);
  }
</style>
