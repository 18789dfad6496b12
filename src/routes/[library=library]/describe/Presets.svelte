<script lang="ts">
  import { FIELDS, fieldText, fieldsOf, requireField, type FieldName, type Item } from '$lib/core/items';
  import { presetProblem, type Preset, type PresetId } from '$lib/core/rewrite';
  import { newId } from '$lib/io/new-id';
  import { getSession } from '$lib/state/session.svelte';
  import { problemWords } from '$lib/ui/words/pattern-words';

  /** Presets: one is chosen, made from what an item says, and changed field by field; a value may name other fields. */
  let { example, onchange }: { example: Item | null; onchange: (preset: Preset | null) => void } = $props();
  const session = getSession();
  const { library } = session;

  let draft = $state.raw<Preset | null>(null);
  const kept = $derived([...library.presets].sort((a, b) => a.name.localeCompare(b.name, 'en')));
  const own = $derived(draft ? (library.presets.find(({ id }) => id === draft?.id) ?? null) : null);
  const named = $derived(draft ? (Object.keys(draft.fields) as FieldName[]) : []);
  const free = $derived(FIELDS.filter(({ name }) => !named.includes(name)));
  const chosenPicture = $derived(example?.edits.pictures?.front ?? null);
  const problems = $derived(
    new Map(named.map((name) => [name, presetProblem(draft?.fields[name] ?? '')] as const)),
  );
  const isKept = $derived(own !== null && JSON.stringify(own) === JSON.stringify(draft));

  /** What is said of every item of a show, and hardly of one alone. */
  const SHARED: readonly FieldName[] = [
    'show',
    'album',
    'albumArtist',
    'artist',
    'genre',
    'language',
    'description',
  ];

  function use(next: Preset | null) {
    draft = next;
    const isSound =
      next !== null && Object.values(next.fields).every((value) => presetProblem(value) === null);
    onchange(isSound ? next : null);
  }

  function begin() {
    const said = example ? fieldsOf(example) : null;
    const fields = Object.fromEntries(
      SHARED.flatMap((name) => (said && said[name] !== null ? [[name, fieldText(said[name])]] : [])),
    );
    use({
      id: newId() as PresetId,
      name: said?.show ?? said?.album ?? 'New preset',
      fields,
      picture: chosenPicture,
    });
  }

  function setField(name: FieldName, value: string | null) {
    if (!draft) return;
    const { [name]: _, ...rest } = draft.fields;
    use({ ...draft, fields: value === null ? rest : { ...rest, [name]: value } });
  }
</script>

<div class="presets">
  <label
    >preset
    <select
      aria-label="Preset"
      value={own?.id ?? ''}
      onchange={(event) => use(kept.find(({ id }) => id === event.currentTarget.value) ?? null)}
    >
      <option value="">{draft && !own ? 'a new one' : 'none'}</option>
      {#each kept as { id, name } (id)}<option value={id}>{name}</option>{/each}
    </select></label
  >
  <button class="btn" onclick={begin}>New{example ? ', from the first item' : ''}</button>
  {#if draft}
    {@const now = draft}
    <label
      >name <input
        type="text"
        maxlength="200"
        value={now.name}
        oninput={(event) => use({ ...now, name: event.currentTarget.value })}
      /></label
    >
    <button
      class="btn btn-primary"
      disabled={now.name.trim() === '' || isKept || !library.mayWrite || [...problems.values()].some(Boolean)}
      onclick={() => library.keepPreset(now)}>Save preset</button
    >
    {#if own}
      <button
        class="btn"
        disabled={!library.mayWrite}
        onclick={() => {
          library.forgetPreset(own);
          use(null);
        }}>Delete preset</button
      >
    {/if}
  {/if}
</div>
{#if draft}
  {@const now = draft}
  <div class="values">
    {#each named as name (name)}
      {@const problem = problems.get(name) ?? null}
      <div class="value">
        <span class="name">{requireField(name).label}</span>
        <input
          type="text"
          class="path"
          aria-label="What {requireField(name).label} becomes"
          aria-invalid={problem !== null}
          value={now.fields[name] ?? ''}
          placeholder="emptied"
          oninput={(event) => setField(name, event.currentTarget.value)}
        />
        <button class="act" onclick={() => setField(name, null)}
          >Leave {requireField(name).label} unchanged</button
        >
        {#if problem}<span role="alert" class="wrong">{problemWords(problem)}</span>{/if}
      </div>
    {/each}
    <div class="presets">
      <label
        >and
        <select
          aria-label="Another field"
          value=""
          onchange={(event) => {
            setField(event.currentTarget.value as FieldName, '');
            event.currentTarget.value = '';
          }}
        >
          <option value="">another field</option>
          {#each free as { name, label } (name)}<option value={name}>{label}</option>{/each}
        </select></label
      >
      <label
        ><input
          type="checkbox"
          checked={now.picture !== null}
          disabled={now.picture === null && chosenPicture === null}
          onchange={(event) => use({ ...now, picture: event.currentTarget.checked ? chosenPicture : null })}
        />
        the picture {now.picture === null && chosenPicture === null
          ? '(the first item has no picture that was chosen here)'
          : 'chosen for the first item'}</label
      >
      <span class="quiet"
        >values can use fields, such as <span class="path">Episode :episode of :show</span></span
      >
    </div>
  </div>
{/if}

<style>
  .presets,
  .value {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 4px 12px;
  }
  .presets label {
    display: flex;
    align-items: center;
    gap: 6px;
  }
  .values {
    display: grid;
    gap: 4px;
  }
  .name {
    width: 110px;
    color: var(--ink-2);
  }
  .value .path {
    flex: 0 1 340px;
  }
  .wrong {
    color: var(--blocks-ink);
  }
</style>
