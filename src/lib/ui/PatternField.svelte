<script lang="ts">
  import type { PatternProblem } from '$lib/core/naming';
  import { problemWords } from './words/pattern-words';

  /** A pattern for names of files, with its problem, or a name as an example. */
  let {
    label,
    pattern,
    problem,
    example,
    disabled = false,
    onpattern,
  }: {
    label: string;
    pattern: string;
    problem: PatternProblem | null;
    example: string;
    disabled?: boolean;
    onpattern: (pattern: string) => void;
  } = $props();
  const uid = $props.id();
</script>

<label for={uid}>{label}</label>
<input
  id={uid}
  class="path"
  value={pattern}
  {disabled}
  aria-invalid={problem !== null}
  aria-describedby="{uid}-note"
  oninput={(event) => onpattern(event.currentTarget.value)}
/>
<p id="{uid}-note" class="path" class:wrong={problem !== null}>
  {problem ? problemWords(problem) : example}
</p>

<style>
  label {
    color: var(--ink-2);
    font-size: var(--t-small);
  }
  input {
    width: 100%;
    height: 26px;
    padding: 0 6px;
    border: 1px solid var(--rule-strong);
    background: var(--raised);
  }
  p {
    color: var(--ink-2);
    overflow-wrap: anywhere;
  }
  .wrong {
    color: var(--blocks-ink);
  }
</style>
