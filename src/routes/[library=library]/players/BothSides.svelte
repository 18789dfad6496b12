<script lang="ts">
  import { fieldText, requireField, titleOf } from '$lib/core/items';
  import type { ListEntry } from '$lib/core/lists';
  import { nameOf } from '$lib/core/paths';
  import type { FindingLine, Side, SidesOf } from '$lib/core/plan';
  import type { PlayerDesk } from '$lib/state/player/desk.svelte';
  import { getSession } from '$lib/state/session.svelte';
  import { sideWords } from '$lib/ui/words/list-words';

  /** Both sides of the files of a finding: what the library says, and what lies on the player now. Each can be decided. */
  let { finding, desk, busy }: { finding: FindingLine; desk: PlayerDesk; busy: boolean } = $props();
  const { library } = getSession();

  const files = $derived(desk.rehearsal.sides(finding.id));

  function entryName(entry: ListEntry): string {
    if ('open' in entry) return entry.open.title ?? nameOf(entry.open.path);
    const item = library.find(entry.item);
    return item ? titleOf(item) : 'an item that was removed';
  }

  const decide = ({ file }: SidesOf, side: Side) => desk.decisions.decide({ files: [file] }, side);
</script>

{#await files}
  <p class="quiet pad">Looking</p>
{:then all}
  <ul aria-label="Both sides">
    {#each all as one (one.left ?? one.now)}
      {@const { left, now, fields, entries } = one}
      <li>
        <span class="path">{left ?? now}</span>
        {#if left !== null && now === null}<span class="quiet">no longer on {desk.name}</span>
        {:else if left !== null && now !== left}<span class="quiet">now at</span>
          <span class="path">{now}</span>{/if}
        {#if fields.length > 0}
          <table>
            <thead
              ><tr><th scope="col">field</th><th scope="col">here</th><th scope="col">{desk.name}</th></tr
              ></thead
            >
            <tbody>
              {#each fields as { name, here, there } (name)}
                <tr>
                  <th scope="row">{requireField(name).label}</th>
                  <td>{fieldText(here) || 'nothing'}</td>
                  <td>{fieldText(there) || 'nothing'}</td>
                </tr>
              {/each}
            </tbody>
          </table>
        {/if}
        {#if entries && entries.length > 0}
          <table>
            <thead
              ><tr><th scope="col">entry</th><th scope="col">here</th><th scope="col">{desk.name}</th></tr
              ></thead
            >
            <tbody>
              {#each entries as { entry, left: before, here, there, isConflict }, index (index)}
                <tr class:conflict={isConflict}>
                  <th scope="row">{entryName(entry)}</th>
                  <td>{sideWords(here, before)}</td>
                  <td>{sideWords(there, before)}</td>
                </tr>
              {/each}
            </tbody>
          </table>
        {/if}
        {#if all.length > 1}
          <span class="acts">
            <button class="act" disabled={busy} onclick={() => decide(one, 'here')}>as it is here</button>
            <button class="act" disabled={busy} onclick={() => decide(one, 'there')}
              >as it is on {desk.name}</button
            >
          </span>
        {/if}
      </li>
    {/each}
  </ul>
{:catch error}
  <p role="alert">It could not be loaded: {error.message}</p>
{/await}

<style>
  ul {
    max-height: 260px;
    overflow-y: auto;
    padding: 0 0 8px 100px;
  }
  .pad {
    padding-left: 100px;
  }
  .acts {
    display: flex;
    gap: 12px;
  }
  li {
    display: block;
    padding: 4px 0;
    border-top: 1px solid var(--rule);
    overflow-wrap: anywhere;
    font-size: var(--t-small);
  }
  table {
    width: 100%;
    table-layout: fixed;
  }
  th {
    text-align: left;
    font-weight: 400;
    color: var(--ink-3);
  }
  .conflict th,
  .conflict td {
    color: var(--attention-ink);
    font-weight: 600;
  }
</style>
