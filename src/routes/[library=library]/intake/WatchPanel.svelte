<script lang="ts">
  import ChevronDown from '@lucide/svelte/icons/chevron-down';
  import ChevronRight from '@lucide/svelte/icons/chevron-right';
  import { FIELDS, fieldText, parseFieldText, titleOf, type FieldName } from '$lib/core/items';
  import { KINDS, KIND_FACTS, type Kind } from '$lib/core/kinds';
  import type { FolderRule, WatchedTree } from '$lib/core/lists';
  import { getSession } from '$lib/state/session.svelte';
  import Panel from '$lib/ui/Panel.svelte';
  import { watchDesk } from '../frame/watching';
  import { clock, counted } from '$lib/ui/words/amounts';

  /** Watched folders: each tree with its folders, what they give to their files, and their mirror lists. */
  const session = getSession();
  const desk = watchDesk(session);
  let kind = $state<Kind | ''>('');
  let genreFromFolder = $state(true);
  let open = $state<string | null>(null);
  let field = $state<FieldName>('artist');
  let value = $state('');

  const GIVEN = FIELDS.filter(({ type, name }) => type === 'text' && name !== 'title');
  const when = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit', second: '2-digit' });

  async function choose() {
    if (!window.showDirectoryPicker) {
      desk.trouble = 'This browser cannot watch folders. Take the folder in again from time to time instead.';
      return;
    }
    try {
      const handle = await window.showDirectoryPicker({ id: 'lectorum-watched', mode: 'read' });
      await desk.tie(handle, { kind: kind || null, genreFromFolder });
    } catch (error) {
      // Closing the dialog is no error.
      if (!(error instanceof DOMException && error.name === 'AbortError')) throw error;
    }
  }

  function setDefault(tree: WatchedTree, rule: FolderRule, name: FieldName, text: string) {
    const parsed = parseFieldText(name, text);
    if (parsed.type === 'wrong') {
      desk.trouble = `${name} ${parsed.reason}.`;
      return;
    }
    const { [name]: _, ...rest } = rule.defaults;
    desk.setRule(tree, {
      ...rule,
      defaults: parsed.value === null ? rest : { ...rest, [name]: parsed.value },
    });
  }

  const stateWords = (tree: WatchedTree): string => {
    const state = desk.states.get(tree.source);
    switch (state?.phase) {
      case 'watching':
        return `watched, last looked at ${state.at ? when.format(state.at) : ''}`;
      case 'looking':
        return 'checking';
      case 'shut':
        return 'needs to be opened again';
      case 'gone':
        return 'missing';
      default:
        return '';
    }
  };
</script>

<Panel title="Watched folders">
  {#snippet tools()}
    <span class="end">
      <label
        >kind <select bind:value={kind} aria-label="Kind of all folders">
          <option value="">by evidence</option>
          {#each KINDS as one (one)}<option value={one}>{KIND_FACTS[one].one}</option>{/each}
        </select></label
      >
      <label><input type="checkbox" bind:checked={genreFromFolder} /> genre from each folder’s name</label>
      <button class="btn btn-primary" disabled={session.intake.busy} onclick={() => void choose()}
        >Watch a folder</button
      >
    </span>
  {/snippet}
  {#if desk.trouble}<p class="trouble" role="alert">{desk.trouble}</p>{/if}
  {#each desk.trees as tree (tree.source)}
    <section aria-label={tree.label}>
      <h2>
        {tree.label} <small>{stateWords(tree)}</small>
        <button class="btn" disabled={session.intake.busy} onclick={() => void desk.look(tree.source)}
          >Check now</button
        >
        <button class="btn" onclick={() => desk.untie(tree)}>Stop watching</button>
      </h2>
      <table>
        <thead>
          <tr
            ><th scope="col">folder and its list</th><th scope="col">items</th><th scope="col">kind</th><th
              scope="col">genre</th
            ><th scope="col">other values</th><td></td></tr
          >
        </thead>
        <tbody>
          {#each tree.rules as rule (rule.folder)}
            {@const list = desk.listOf(tree, rule.folder)}
            {@const items = list ? desk.itemsIn(list) : []}
            {@const key = `${tree.source}\n${rule.folder}`}
            {@const named = rule.folder || tree.label}
            <tr>
              <td>
                <button
                  aria-expanded={open === key}
                  aria-label="{open === key ? 'Close' : 'Open'} the list {list?.name ?? named}"
                  onclick={() => (open = open === key ? null : key)}
                >
                  {#if open === key}<ChevronDown size={14} />{:else}<ChevronRight size={14} />{/if}
                </button>
                <span class="path">{named}</span>
              </td>
              <td>{items.length}</td>
              <td>
                <select
                  aria-label="Kind of {named}"
                  value={rule.kind ?? ''}
                  onchange={(event) =>
                    desk.setRule(tree, { ...rule, kind: (event.currentTarget.value || null) as Kind | null })}
                >
                  <option value="">by evidence</option>
                  {#each KINDS as one (one)}<option value={one}>{KIND_FACTS[one].one}</option>{/each}
                </select>
              </td>
              <td>
                <input
                  aria-label="Genre of {named}"
                  value={fieldText(rule.defaults.genre ?? null)}
                  onchange={(event) => setDefault(tree, rule, 'genre', event.currentTarget.value)}
                />
              </td>
              <td>
                {#each GIVEN.filter(({ name }) => name !== 'genre' && name in rule.defaults) as { name, label } (name)}
                  <button
                    class="act"
                    aria-label="Remove {label} from {named}"
                    onclick={() => setDefault(tree, rule, name, '')}
                    >{label}: {fieldText(rule.defaults[name] ?? null)} ×</button
                  >
                {/each}
              </td>
              <td
                >{#if list && items.length > 0 && Object.keys(rule.defaults).length > 0}<button
                    class="act"
                    onclick={() => desk.giveDefaults(tree, list)}>give to all {items.length}</button
                  >{/if}</td
              >
            </tr>
            {#if open === key}
              <tr class="inside">
                <td colspan="6">
                  <form
                    onsubmit={(event) => {
                      event.preventDefault();
                      setDefault(tree, rule, field, value);
                      value = '';
                    }}
                  >
                    <select aria-label="Field" bind:value={field}>
                      {#each GIVEN as { name, label } (name)}<option value={name}>{label}</option>{/each}
                    </select>
                    <input aria-label="Value for new files" bind:value />
                    <button class="btn">Give to new files</button>
                  </form>
                  <ol aria-label="List {list?.name ?? named}">
                    {#each items.slice(0, 200) as item (item.id)}
                      <li>{titleOf(item)} <span class="quiet">{clock(item.facts.durationSeconds)}</span></li>
                    {:else}<li class="quiet">no files here yet</li>{/each}
                  </ol>
                  {#if items.length > 200}<p class="quiet">
                      and {counted(items.length - 200, 'item')} more
                    </p>{/if}
                </td>
              </tr>
            {/if}
          {/each}
        </tbody>
      </table>
    </section>
  {:else}
    <p class="about quiet">
      Watch a folder with all its subfolders: each folder gets a list that mirrors it, and a kind and values
      for new files. New, changed, moved and missing files are noticed while Lectorum is open, and at its next
      start.
    </p>
  {/each}
</Panel>

<style>
  .end {
    align-items: center;
    gap: 14px;
  }
  label {
    display: flex;
    align-items: center;
    gap: 6px;
  }
  .about {
    padding: 16px;
    max-width: 600px;
  }
  section {
    padding: 0 16px 20px;
  }
  h2 {
    display: flex;
    align-items: center;
    gap: 10px;
    padding: 6px 0;
    font-size: var(--t-sub);
  }
  h2 small {
    font: var(--t-small) var(--font-body);
    color: var(--ink-2);
    margin-right: auto;
  }
  table {
    width: 100%;
    border-collapse: collapse;
  }
  th,
  td {
    padding: 3px 10px 3px 0;
    text-align: left;
    font-weight: 400;
    border-bottom: 1px solid var(--rule);
  }
  thead th {
    font-size: var(--t-small);
    color: var(--ink-2);
  }
  td input {
    width: 120px;
  }
  .inside td {
    padding: 8px 0 12px 22px;
    background: var(--sunk);
  }
  form {
    display: flex;
    gap: 8px;
    margin-bottom: 8px;
  }
  ol {
    list-style: decimal;
    padding-left: 22px;
  }
</style>
