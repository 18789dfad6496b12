<script lang="ts">
  import { fieldText, requireField } from '$lib/core/items';
  import type { FindingLine, SidesOf } from '$lib/core/plan';

  /** Both sides of the files of a finding: what the library says, and what lies on the player now. */
  let {
    finding,
    player,
    load,
  }: {
    finding: FindingLine;
    player: string;
    load: (id: string) => Promise<readonly SidesOf[]>;
  } = $props();

  let open = $state(false);
</script>

<details bind:open>
  <summary>Show both sides</summary>
  {#if open}
    {#await load(finding.id)}
      <p class="quiet">Looking</p>
    {:then files}
      <ul aria-label="Both sides">
        {#each files as { left, now, fields } (left ?? now)}
          <li>
            <span class="path">{left ?? now}</span>
            {#if left !== null && now === null}<span class="quiet">not on {player} any more</span>
            {:else if left !== null && now !== left}<span class="quiet">now at</span>
              <span class="path">{now}</span>{/if}
            {#if fields.length > 0}
              <table>
                <thead
                  ><tr><th scope="col">field</th><th scope="col">here</th><th scope="col">{player}</th></tr
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
          </li>
        {/each}
      </ul>
    {:catch error}
      <p role="alert">It could not be looked at: {error.message}</p>
    {/await}
  {/if}
</details>

<style>
  summary {
    font-size: var(--t-small);
    color: var(--primary);
    cursor: pointer;
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
</style>
