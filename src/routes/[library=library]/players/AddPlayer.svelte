<script lang="ts">
  import Sheet from '$lib/ui/Sheet.svelte';
  import { Dialog } from 'bits-ui';
  import { parseJson } from '$lib/core/json';
  import { KINDS, KIND_FACTS, type Kind } from '$lib/core/kinds';
  import { SELECT_ALL } from '$lib/core/plan';
  import { readRulebook, type Rulebook } from '$lib/core/rulebooks';
  import { RULEBOOKS, rulebookOf } from '$lib/rulebooks';
  import { LIST_FILE_NAMES } from '$lib/ui/words/rulebook-words';
  import type { Players } from '$lib/state/player/players.svelte';

  /** A new player: its rulebook, its name, what it is to have, and where it is written. */
  let { players, onclose }: { players: Players; onclose: () => void } = $props();

  type Source = keyof typeof RULEBOOKS | 'file';
  let source = $state<Source>('attic');
  let brought = $state.raw<Rulebook | null>(null);
  let trouble = $state<string | null>(null);
  let name = $state('');

  let device = $state('');
  let text = $state('');
  let kinds = $state.raw<readonly Kind[] | null>(null);

  const free = $derived(players.freeDevices());
  const rulebook = $derived(source === 'file' ? brought : RULEBOOKS[source]);
  const taken = $derived(
    KINDS.filter((kind) => rulebook?.places.some((place) => place.kinds.includes(kind))),
  );
  const chosenKinds = $derived(kinds?.filter((kind) => taken.includes(kind)) ?? taken);
  /** Files beside media its files, by its place in the rulebook, where it is not as that says: another name, or none. */
  let beside = $state.raw<ReadonlyMap<number, string | null>>(new Map());
  // Names that were typed are those of one rulebook.
  $effect(() => {
    void source;
    void brought;
    beside = new Map();
  });
  const namesBeside = $derived(
    rulebook?.beside.map((rules, index) => ({ rules, name: besideName(rules, index) })) ?? [],
  );
  const suggested = $derived(rulebook ? players.freeName(rulebook.name) : '');

  async function bring(file: File | undefined) {
    if (!file) return;
    trouble = null;
    try {
      brought = readRulebook(parseJson(await file.text()));
    } catch (error) {
      brought = null;
      trouble = `${file.name} is not a rulebook: ${error instanceof Error ? error.message : String(error)}`;
    }
  }

  function toggle(kind: Kind) {
    const next = chosenKinds.includes(kind)
      ? chosenKinds.filter((one) => one !== kind)
      : taken.filter((one) => one === kind || chosenKinds.includes(one));
    kinds = next.length === taken.length ? null : next;
  }

  type Beside = Rulebook['beside'][number];
  const usualName = (rules: Beside): string => {
    if (rules.type === 'list') return rules.folder;
    return rules.type === 'picture' ? rules.name : rules.extension;
  };
  const besideName = (rules: Beside, index: number): string | null => {
    const own = beside.get(index);
    return own === undefined ? usualName(rules) : own;
  };
  const besideWords = (rules: Beside): string => {
    if (rules.type === 'list') return `playlists as ${LIST_FILE_NAMES[rules.format]}, in the folder`;
    const kindWords = rules.kinds.map((kind) => KIND_FACTS[kind].many).join(' and ');
    if (rules.type === 'sidecar') return `a sidecar beside ${kindWords}, ending in`;
    return `a picture in each ${rules.of === 'folder' ? 'folder' : 'top folder'} of ${kindWords}, called`;
  };

  /** The rulebook with other names beside; null where they are as it says. @throws {ValidationError} for no name */
  function withNames(own: Rulebook): Rulebook | null {
    if (own.beside.every((rules, index) => besideName(rules, index) === usualName(rules))) return null;
    const others = own.beside.flatMap((rules, index) => {
      const named = besideName(rules, index)?.trim();
      if (named === undefined) return [];
      if (rules.type === 'list') return { ...rules, folder: named };
      return rules.type === 'picture' ? { ...rules, name: named } : { ...rules, extension: named };
    });
    return readRulebook({ ...own, beside: others });
  }

  async function add(event: SubmitEvent) {
    event.preventDefault();
    if (!rulebook) return;
    trouble = null;
    let named: Rulebook | null;
    try {
      named = withNames(rulebook);
    } catch (error) {
      trouble = `This file name is not allowed: ${error instanceof Error ? error.message : String(error)}`;
      return;
    }
    const plan = {
      name: name.trim() || suggested,
      rulebook: source === 'file' ? 'attic' : source,
      own: named ?? (source === 'file' ? rulebook : null),
      device: device === '' ? null : device,
      selection: { ...SELECT_ALL, kinds, text: text.trim() },
    };
    onclose();
    await players.add(plan);
  }
</script>

<Sheet title="Add a player" {onclose}>
  {#each players.off() as player (player.id)}
    <p class="back">
      {player.name ?? rulebookOf(player).name} was removed.
      <button
        class="act"
        onclick={() => {
          onclose();
          void players.bringBack(player);
        }}>Add it again</button
      >
    </p>
  {/each}
  <form onsubmit={add}>
    <fieldset>
      <legend>Which rulebook does it use?</legend>
      {#each Object.values(RULEBOOKS) as one (one.id)}
        <label
          ><input type="radio" name="source" value={one.id} bind:group={source} /> as {one.name}
          <span class="quiet">{one.about}</span></label
        >
      {/each}
      <label><input type="radio" name="source" value="file" bind:group={source} /> from a JSON file</label>
      {#if source === 'file'}
        <input
          type="file"
          accept=".json,application/json"
          aria-label="Rulebook file"
          onchange={(event) => bring(event.currentTarget.files?.[0])}
        />
        {#if trouble}<p class="wrong" role="alert">{trouble}</p>{/if}
        {#if brought}<p class="quiet">{brought.name}: {brought.about}</p>{/if}
      {/if}
    </fieldset>
    <label class="field"
      >What is it called?
      <input class="input" maxlength="60" bind:value={name} placeholder={suggested} /></label
    >
    <fieldset>
      <legend>What should it hold?</legend>
      <div class="kinds">
        {#each taken as kind (kind)}
          <label
            ><input type="checkbox" checked={chosenKinds.includes(kind)} onchange={() => toggle(kind)} />
            {KIND_FACTS[kind].many}</label
          >
        {/each}
      </div>
      <label class="field"
        >only items that match
        <input class="input" bind:value={text} placeholder="all of them" /></label
      >
    </fieldset>
    {#if namesBeside.length > 0}
      <fieldset>
        <legend>What is written beside its files?</legend>
        {#each namesBeside as { rules, name: called }, index (index)}
          <div class="beside">
            <label
              ><input
                type="checkbox"
                checked={called !== null}
                onchange={() =>
                  (beside = new Map(beside).set(index, called === null ? usualName(rules) : null))}
              />
              {besideWords(rules)}</label
            >
            <input
              class="input path"
              aria-label="Name of {besideWords(rules)}"
              disabled={called === null}
              value={called ?? ''}
              oninput={(event) => (beside = new Map(beside).set(index, event.currentTarget.value))}
            />
          </div>
        {/each}
        {#if trouble && source !== 'file'}<p class="wrong" role="alert">{trouble}</p>{/if}
      </fieldset>
    {/if}
    {#if free.length > 0}<label class="field"
        >Where is it?
        <select class="select" bind:value={device}>
          <option value="">no device; write to a folder or a ZIP</option>
          {#each free as id (id)}
            <option value={id}>the device {RULEBOOKS[id as keyof typeof RULEBOOKS].name}</option>
          {/each}
        </select></label
      >{:else}
      <p class="quiet">Every device already has a player: this one writes to a folder or a ZIP.</p>
    {/if}
    <div class="acts">
      <button class="btn btn-primary" disabled={!rulebook || chosenKinds.length === 0}>Add it</button>
      <Dialog.Close class="btn" type="button">Cancel</Dialog.Close>
    </div>
  </form>
</Sheet>

<style>
  .beside {
    display: flex;
    align-items: center;
    gap: 8px;
  }
  .beside .input {
    width: 120px;
    height: 26px;
    margin-left: auto;
  }
  form {
    display: grid;
    gap: 14px;
    margin-top: 12px;
    font-size: var(--t-read);
  }
  fieldset {
    display: grid;
    gap: 4px;
  }
  legend,
  .field {
    font-weight: 600;
  }
  .field {
    display: grid;
    gap: 2px;
  }
  .field .input,
  .field .select {
    width: 100%;
    font-weight: 400;
  }
  .kinds {
    display: flex;
    flex-wrap: wrap;
    gap: 4px 14px;
    margin-bottom: 6px;
  }
  .wrong {
    color: var(--blocks-ink);
  }
  .back {
    margin-top: 8px;
  }
  .acts {
    display: flex;
    gap: 8px;
  }
</style>
