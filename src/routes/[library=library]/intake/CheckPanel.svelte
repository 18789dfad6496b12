<script lang="ts">
  import { onMount } from 'svelte';
  import type { CheckFinding } from '$lib/core/checks';
  import { FORMAT_NAMES, requireField, titleOf, type Item, type ItemId } from '$lib/core/items';
  import { CheckDesk } from '$lib/state/check-desk.svelte';
  import { getSession } from '$lib/state/session.svelte';
  import Panel from '$lib/ui/Panel.svelte';
  import { bytes, clock, counted } from '$lib/ui/words/amounts';

  /** Whether everything really plays, how long it is, and what is here twice. */
  const session = getSession();
  const { library, scope, selection } = session;
  const desk = session.part('check', () => new CheckDesk(session));

  const items = $derived(selection.items.length > 1 ? selection.items : scope.items);
  const left = $derived(desk.unchecked(items).length);
  const shown = $derived(
    desk.findings.filter((finding) => itemsOf(finding).length > (finding.type === 'doubles' ? 1 : 0)),
  );

  onMount(() => void desk.load());

  const idsOf = (finding: CheckFinding): readonly ItemId[] =>
    finding.type === 'doubles' ? finding.items : [finding.item];
  const itemsOf = (finding: CheckFinding): readonly Item[] => {
    void library.items;
    return library.findAll(idsOf(finding));
  };
  const keyOf = (finding: CheckFinding) => `${finding.type}\n${idsOf(finding).join()}`;

  function headline(finding: CheckFinding): string {
    switch (finding.type) {
      case 'cannotPlay':
        return 'does not play here';
      case 'breaksOff':
        return `stops at ${clock(finding.decodedSeconds)} of ${clock(finding.saidSeconds)}`;
      case 'lengthDiffers':
        return `says ${clock(finding.saidSeconds)}, decodes to ${clock(finding.decodedSeconds)}`;
      case 'doubles':
        return finding.how === 'identical'
          ? `the same audio ${finding.items.length} times`
          : `sounds alike ${finding.items.length} times, ${(100 * finding.distance).toFixed(1)} % of the bits differ`;
    }
  }

  function advice(finding: CheckFinding): string {
    switch (finding.type) {
      case 'cannotPlay':
        return `${finding.reason}. A player may still take it; where it cannot, it needs a converted copy.`;
      case 'breaksOff':
        return 'Its end is damaged. Get it again from its source.';
      case 'lengthDiffers':
        return 'Its header has the wrong length, as in files that were cut or joined. Players may stop early or show the wrong time.';
      case 'doubles':
        return finding.differing.length === 0
          ? 'Nothing else differs.'
          : `What differs: ${finding.differing.map(nameOf).join(', ')}.`;
    }
  }

  const nameOf = (name: string): string =>
    name === 'format' || name === 'path' || name === 'size' ? name : requireField(name).label;

  function keepFirst(kept: Item, all: readonly Item[]) {
    session.forget(all.filter(({ id }) => id !== kept.id));
    desk.weigh();
  }
</script>

<Panel title="Check">
  {#snippet tools()}
    <span class="quiet">
      {left === 0
        ? `all ${items.length} checked`
        : `${left} of ${counted(items.length, 'item')} not checked yet`}
    </span>
    <span class="end">
      <button
        class="btn btn-primary"
        disabled={desk.running || left === 0}
        onclick={() => void desk.run(items)}
      >
        {desk.running ? 'Checking' : `Check ${counted(left, 'item')}`}
      </button>
    </span>
  {/snippet}
  {#if shown.length === 0}
    <p class="about quiet">
      {#if desk.checks.size === 0}Each file is decoded to its end and its length compared with its tags; the
        same audio under other names or formats is found.
      {:else}Nothing to review: what was checked plays to its end, and nothing is here twice.{/if}
    </p>
  {/if}
  <ul aria-label="What the check found">
    {#each shown as finding (keyOf(finding))}
      {@const own = itemsOf(finding)}
      <li>
        <p>
          <b class={finding.type === 'cannotPlay' || finding.type === 'breaksOff' ? 'blocks' : 'warns'}
            >{headline(finding)}</b
          >
          <span class="quiet">{advice(finding)}</span>
        </p>
        <table>
          <tbody>
            {#each own as item (item.id)}
              <tr>
                <th scope="row"
                  ><button class="act" onclick={() => selection.set([item.id], item.id)}
                    >{titleOf(item)}</button
                  ></th
                >
                <td class="path quiet">{item.path}</td>
                <td>{FORMAT_NAMES[item.format]}</td>
                <td>{bytes(item.size)}</td>
                <td>{clock(item.facts.durationSeconds)}</td>
                <td>
                  {#if finding.type === 'doubles'}
                    <button
                      class="act"
                      aria-label="Keep {item.path}, remove the others"
                      onclick={() => keepFirst(item, own)}>Keep this one</button
                    >
                  {/if}
                </td>
              </tr>
            {/each}
          </tbody>
        </table>
      </li>
    {/each}
  </ul>
</Panel>

<style>
  .about {
    padding: 16px;
    max-width: 600px;
  }
  li {
    padding: 8px 16px 12px;
    border-top: 1px solid var(--rule);
  }
  .blocks {
    color: var(--blocks-ink);
  }
  .warns {
    color: var(--attention-ink);
  }
  table {
    border-collapse: collapse;
    width: 100%;
    margin-top: 4px;
  }
  th,
  td {
    padding: 2px 14px 2px 0;
    text-align: left;
    font-weight: 400;
    white-space: nowrap;
  }
  td.path {
    width: 100%;
    white-space: normal;
    overflow-wrap: anywhere;
  }
</style>
