<script lang="ts">
  import { KIND_FACTS } from '$lib/core/kinds';
  import type { PlayerDesk } from '$lib/state/player/desk.svelte';
  import SpineLabel from '$lib/ui/SpineLabel.svelte';
  import { bytes } from '$lib/ui/words/amounts';

  /** What lies on a player by kind, what the run adds and removes, and what will lie there then. */
  let { desk }: { desk: PlayerDesk } = $props();

  const kinds = $derived(desk.rehearsal.plan?.room.kinds ?? []);
  /** One unit for the whole table, and figures that are rounded before they are added up: so each line is what it says. */
  const power = $derived(
    Math.min(4, Math.floor(Math.log10(Math.max(1, ...kinds.map(({ now, adds }) => now + adds))) / 3)),
  );
  const step = $derived(Math.max(1, 1000 ** power / 100));
  const rounded = (count: number) => (count === 0 ? 0 : Math.max(1, Math.round(count / step)) * step);
  const rows = $derived(
    kinds.map(({ kind, now, adds, removes }) => {
      const [before, more, less] = [
        rounded(now),
        rounded(adds),
        Math.min(rounded(removes), rounded(now) + rounded(adds)),
      ];
      return { kind, now: before, adds: more, removes: less, then: before + more - less };
    }),
  );
  const sum = (name: 'now' | 'adds' | 'removes' | 'then') => rows.reduce((all, one) => all + one[name], 0);
  const amount = (count: number) => (count === 0 ? '' : inUnits(count));
  const inUnits = (count: number) => (count / 1000 ** power).toFixed(power === 0 ? 0 : 2);
</script>

<section>
  <h3>
    How much space has it?<small
      >{desk.place.limit === null
        ? ''
        : `${bytes(desk.place.limit)}${desk.place.room && desk.place.room.others > 0 ? ' beside other files' : ''}`}</small
    >
  </h3>
  {#if rows.length === 0}
    <p class="quiet">Nothing is there, and nothing is planned.</p>
  {:else}
    <table>
      <thead>
        <tr
          ><td class="name">in {['bytes', 'kB', 'MB', 'GB', 'TB'][power]}</td><th scope="col">now</th><th
            scope="col">adds</th
          ><th scope="col">removes</th><th scope="col">then</th></tr
        >
      </thead>
      <tbody>
        {#each rows as { kind, now, adds, removes, then } (kind)}
          <tr>
            <th scope="row"><SpineLabel {kind} /> {kind ? KIND_FACTS[kind].many : 'other files'}</th>
            <td>{amount(now)}</td><td>{amount(adds)}</td><td>{amount(removes)}</td><td class="then"
              >{inUnits(then)}</td
            >
          </tr>
        {/each}
        <tr class="all">
          <th scope="row">in all</th><td>{amount(sum('now'))}</td><td>{amount(sum('adds'))}</td><td
            >{amount(sum('removes'))}</td
          ><td class="then">{inUnits(sum('then'))}</td>
        </tr>
      </tbody>
    </table>
    {#if desk.rehearsal.plan && desk.rehearsal.plan.room.missing > 0}
      <p class="over">
        {bytes(desk.rehearsal.plan.room.missing)} do not fit: the items with the lowest priority stay out.
      </p>
    {/if}
  {/if}
</section>

<style>
  table {
    width: 100%;
    table-layout: fixed;
    font-size: var(--t-body);
  }
  thead th {
    font-weight: 400;
    font-size: var(--t-small);
    color: var(--ink-2);
    text-align: right;
  }
  tbody th {
    font-weight: 400;
    text-align: left;
    white-space: nowrap;
  }
  tbody th :global(.label) {
    margin-right: 4px;
    vertical-align: middle;
  }
  .name {
    text-align: left;
    font-size: var(--t-small);
    color: var(--ink-2);
    width: 38%;
  }
  tbody :is(th, td) {
    vertical-align: middle;
    padding: 1px 0 2px;
  }
  td {
    text-align: right;
    white-space: nowrap;
  }
  .then,
  .all th {
    font-weight: 600;
  }
  .all > * {
    border-top: 1px solid var(--ink-2);
  }
  .over {
    margin-top: 4px;
    color: var(--blocks-ink);
    font-weight: 600;
  }
</style>
