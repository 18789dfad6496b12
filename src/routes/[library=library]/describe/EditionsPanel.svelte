<script lang="ts">
  import { isFresh, type Checked } from '$lib/core/checks';
  import { findEditions, soundsAlike, type Editions, type Version } from '$lib/core/editions';
  import type { Item, ItemId } from '$lib/core/items';
  import { parseFingerprint } from '$lib/core/sound';
  import { inSlices } from '$lib/state/in-slices';
  import { getSession } from '$lib/state/session.svelte';
  import Panel from '$lib/ui/Panel.svelte';
  import { counted } from '$lib/ui/words/amounts';

  /** Releases that are there in several versions, and the marks that tell these apart. */
  let { onclose }: { onclose: () => void } = $props();
  const session = getSession();
  const { library, scope } = session;
  const uid = $props.id();

  /** Releases that are drawn at once. */
  const MOST = 100;
  let found = $state.raw<readonly Editions[] | null>(null);
  let checks = $state.raw<ReadonlyMap<ItemId, Checked> | null>(null);
  /** What is typed for a version before it is said. */
  let typed = $state.raw<ReadonlyMap<string, string>>(new Map());
  void library.storage.checks.all().then(
    (kept) => (checks = kept),
    // Without what was heard, titles and lengths still tell.
    () => (checks = new Map()),
  );

  $effect(() => {
    if (scope.building || checks === null) return;
    const heard = checks;
    const soundOf = (item: Item) => {
      const checked = heard.get(item.id);
      return checked?.fingerprint && isFresh(checked, item) ? parseFingerprint(checked.fingerprint) : null;
    };
    return inSlices(findEditions(scope.items, soundOf), (made) => (found = made));
  });

  const shown = $derived((found ?? []).slice(0, MOST));
  const open = $derived((found ?? []).filter(({ isTold }) => !isTold).length);
  const keyOf = (editions: Editions, index: number) => `${editions.key}\n${index}`;
  const markFor = (editions: Editions, index: number) =>
    typed.get(keyOf(editions, index)) ??
    editions.versions[index]?.edition ??
    editions.versions[index]?.mark ??
    '';

  function say(editions: Editions, index: number) {
    const { items } = editions.versions[index] as Version;
    const mark = markFor(editions, index).trim();
    library.edit(
      `Edition of ${editions.album}, ${items.length}`,
      library.findAll(items.map(({ id }) => id)),
      {
        edition: mark || null,
      },
    );
    session.work.say(
      `${editions.album}: ${counted(items.length, 'item')} ${mark ? `marked ${mark}` : 'without a mark'}`,
    );
    typed = new Map([...typed].filter(([key]) => key !== keyOf(editions, index)));
  }

  function soundWords(distance: number): string {
    if (!soundsAlike(distance)) return 'sounds different: another recording';
    return distance < 0.02 ? 'sounds the same' : 'same recording, other mastering or codec';
  }
</script>

<Panel title="Editions">
  {#snippet tools()}
    <span class="quiet">
      {#if found === null}looking for them
      {:else}{counted(found.length, 'release')} in several versions{open > 0
          ? `, ${open} not distinguished`
          : ''}{/if}
    </span>
    <span class="end"><button class="btn" onclick={onclose}>Back to the items</button></span>
  {/snippet}
  <p class="about">
    Players that go by album names merge two versions of one release, such as a remaster or another format. A
    mark keeps them separate: it has a field of its own, stands in brackets in names, and behind the album’s
    name in the copies of players that need it there.
  </p>
  {#if found?.length === 0}
    <p class="about quiet">No release in scope has more than one version.</p>
  {/if}
  <ul class="releases" aria-label="Releases in several versions">
    {#each shown as editions, at (editions.key)}
      <li>
        <h2>{editions.album} <span class="quiet">{editions.maker}</span></h2>
        <table>
          <thead class="sr-only"><tr><th>folder</th><th>format</th><th>edition</th></tr></thead>
          <tbody>
            {#each editions.versions as version, index (index)}
              <tr>
                <td class="path">{version.home || 'the top folder'}</td>
                <td>
                  {counted(version.items.length, 'title')}, {version.is}{version.year
                    ? `, ${version.year}`
                    : ''}
                  {#if index > 0}<br /><span class="quiet"
                      >{version.shared} of the same name and length{version.distance === null
                        ? ''
                        : `; ${soundWords(version.distance)}`}</span
                    >{/if}
                </td>
                <td>
                  <form
                    onsubmit={(event) => {
                      event.preventDefault();
                      say(editions, index);
                    }}
                  >
                    <label class="sr-only" for="{uid}-{at}-{index}"
                      >Edition of {editions.album} in {version.home}, {version.is}</label
                    >
                    <input
                      id="{uid}-{at}-{index}"
                      type="text"
                      maxlength="80"
                      placeholder={index === 0 ? 'no mark' : 'nothing tells it apart'}
                      value={markFor(editions, index)}
                      disabled={!library.mayWrite}
                      oninput={(event) =>
                        (typed = new Map(typed).set(keyOf(editions, index), event.currentTarget.value))}
                    />
                    <button
                      class="btn"
                      disabled={!library.mayWrite ||
                        markFor(editions, index).trim() === (version.edition ?? '')}
                      >{markFor(editions, index).trim() === '' ? 'No mark' : 'Mark it'}</button
                    >
                  </form>
                </td>
              </tr>
            {/each}
          </tbody>
        </table>
      </li>
    {/each}
  </ul>
  {#if found && found.length > MOST}
    <p class="about quiet">{found.length - MOST} more: narrow what is in scope to see them.</p>
  {/if}
</Panel>

<style>
  .about {
    max-width: 760px;
    padding: 0 16px 10px;
    line-height: 1.45;
  }
  .releases > li {
    padding: 10px 16px 12px;
    border-top: 1px solid var(--rule);
  }
  h2 {
    font-size: var(--t-sub);
  }
  h2 span {
    font-weight: 400;
  }
  table {
    width: 100%;
    table-layout: fixed;
  }
  td {
    padding: 5px 12px 5px 0;
    vertical-align: top;
    overflow-wrap: anywhere;
  }
  form {
    display: flex;
    gap: 8px;
    margin: 0;
  }
  form input {
    flex: 1;
    min-width: 0;
  }
  form .btn {
    flex: none;
    width: 84px;
    height: 26px;
  }
</style>
