<script lang="ts">
  import Sheet from '$lib/ui/Sheet.svelte';
  import { Dialog } from 'bits-ui';
  import { STATIONS } from './stations';

  let { onclose }: { onclose: () => void } = $props();

  const KEYS: readonly (readonly [string, string])[] = [
    ...STATIONS.map(({ name }, index) => [String(index + 1), `go to ${name}`] as const),
    ['Ctrl K', 'find items and commands'],
    ['Ctrl Z', 'undo; with Shift, redo'],
    ['↑ ↓', 'move in a ledger; Page, Home and End too'],
    ['Shift ↑ ↓', 'extend the selection'],
    ['Space', 'add a row to the selection, or take it out'],
    ['Ctrl A', 'select everything in the ledger'],
    ['E', 'go into the card; Escape goes back to the ledger'],
    ['K', 'play or pause while chapters and words are worked on'],
    ['J, L', 'ten seconds back or on there; comma and full stop: one second'],
    ['[ ]', 'slower and faster there'],
    ['M', 'mark this place there; while you type, all five with Alt'],
    ['P', 'add the selection to a list; or drag it to Lists'],
    [
      'Enter',
      'confirm the kind of the selection (Intake); take the line-up (Identify); make the twins of a row (Prepare)',
    ],
    ['Shift Enter', 'confirm all likely kinds (Intake)'],
    ['Alt ↑ ↓', 'move to the entry before or after (Identify, Lists)'],
    ['L, O, X', 'fix the pair, leave the file unmatched, leave it out (Identify)'],
    ['← →', 'close and open a group'],
    ['Delete', 'remove the selection from the library; files stay. In a list: remove entries'],
    ['Narrow', 'words, or a query: genre is folk and year under 1990 and no picture'],
    ['?', 'this list'],
  ];
</script>

<Sheet title="Keys" {onclose}>
  <dl>
    {#each KEYS as [key, does] (key)}
      <dt><span class="key">{key}</span></dt>
      <dd>{does}</dd>
    {/each}
  </dl>
  <Dialog.Close class="btn">Close</Dialog.Close>
</Sheet>

<style>
  dl {
    display: grid;
    grid-template-columns: 110px 1fr;
    gap: 6px 12px;
    margin: 12px 0 16px;
    font-size: var(--t-read);
  }
</style>
