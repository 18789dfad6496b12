<script lang="ts">
  import { format } from 'date-fns/format';
  import { FIELDS, fieldText, type Edits } from '$lib/core/items';
  import { KIND_FACTS, type Kind } from '$lib/core/kinds';
  import type { MirrorList } from '$lib/core/lists';
  import { isBelow } from '$lib/core/paths';
  import { mayRead } from '$lib/io/take-in/open-item';
  import { getSession } from '$lib/state/session.svelte';
  import { counted } from '$lib/ui/words/amounts';
  import { watchDesk } from '../frame/watching';

  /** The folder that a list mirrors: where it is, what it gives to its files, what came last, and whether it is watched. */
  let { list }: { list: MirrorList } = $props();
  const session = getSession();
  const { library, lists } = session;
  const desk = watchDesk(session);

  const tree = $derived(library.watched.find(({ source }) => source === list.source) ?? null);
  const label = $derived(
    tree?.label ?? library.sources.find(({ id }) => id === list.source)?.label ?? 'a folder',
  );
  const phase = $derived(tree ? (desk.states.get(tree.source)?.phase ?? null) : null);
  /** What the folder and those above it say, the nearest last. */
  const rules = $derived(
    (tree?.rules ?? [])
      .filter(({ folder }) => isBelow(list.folder, folder) || folder === list.folder)
      .toSorted((a, b) => a.folder.length - b.folder.length),
  );
  const kind = $derived(rules.reduce<Kind | null>((found, own) => own.kind ?? found, null));
  const values = $derived(Object.assign({}, ...rules.map(({ defaults }) => defaults)) as Edits);
  const given = $derived([
    ...(kind ? [`kind ${KIND_FACTS[kind].one}`] : []),
    ...FIELDS.flatMap(({ name, label: called }) => {
      const value = values[name];
      return value === undefined || value === null ? [] : `${called} ${fieldText(value)}`;
    }),
  ]);
  /** The latest arrival that brought something into this list. */
  const last = $derived.by(() => {
    const ids = lists.listed?.items ?? [];
    const counts = new Map<string, number>();
    for (const item of library.findAll(ids)) counts.set(item.arrival, (counts.get(item.arrival) ?? 0) + 1);
    const arrivals = library.arrivals.filter(({ id }) => counts.has(id)).toSorted((a, b) => b.at - a.at);
    const [latest] = arrivals;
    return latest ? { at: latest.at, count: counts.get(latest.id) ?? 0 } : null;
  });

  let trouble = $state<string | null>(null);

  /** Watches the folder again: must follow a click, since the browser may ask. */
  async function start() {
    trouble = null;
    const handle = await library.storage.handles.find(list.source);
    if (handle && !(await mayRead(handle))) await handle.requestPermission?.({ mode: 'read' });
    if (!handle || !(await mayRead(handle))) {
      trouble = `${label} cannot be read now. Watch it from Intake, where the folder you can choose the folder again.`;
      return;
    }
    await desk.tie(handle, { kind: null, genreFromFolder: false });
  }
</script>

<dl>
  <dt>Folder</dt>
  <dd class="path">{[label, list.folder].filter(Boolean).join('/')}</dd>
  <dt>Gives</dt>
  <dd>{given.length === 0 ? 'no values' : given.join(', ')}</dd>
  <dt>Last added</dt>
  <dd>
    {last ? `${counted(last.count, 'file')} on ${format(last.at, 'd MMMM yyyy, HH:mm')}` : 'nothing yet'}
  </dd>
  <dt>Watched</dt>
  <dd>
    {#if tree}
      {phase === 'shut' ? 'needs to be opened again' : phase === 'gone' ? 'not there now' : 'yes'}
      <button class="act" disabled={!library.mayWrite} onclick={() => desk.look(tree.source)}
        >Check now</button
      >
      <button class="act" disabled={!library.mayWrite} onclick={() => desk.untie(tree)}
        >Stop watching {tree.label}</button
      >
    {:else}
      no: new files in the folder are not taken in
      <button class="act" disabled={!library.mayWrite} onclick={start}>Watch {label} again</button>
    {/if}
  </dd>
</dl>
{#if trouble}<p class="trouble" role="alert">{trouble}</p>{/if}

<style>
  dl {
    display: grid;
    grid-template-columns: max-content 1fr;
    gap: 2px 12px;
    flex: none;
    padding: 0 16px 8px;
  }
  dt {
    color: var(--ink-2);
  }
  dd {
    min-width: 0;
    overflow-wrap: anywhere;
  }
  .act {
    margin-left: 10px;
  }
  .trouble {
    padding: 0 16px 8px;
  }
</style>
