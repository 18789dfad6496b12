<script lang="ts">
  import Play from '@lucide/svelte/icons/play';
  import { format } from 'date-fns/format';
  import { STEP_TYPES, SYNC_POLICIES } from '$lib/core/plan';
  import { totalsOf } from '$lib/core/run';
  import { abilitiesOf, type Target } from '$lib/core/library';
  import { asksForTopFolders } from '$lib/core/rulebooks';
  import { originalsOf, type WritingPlan } from '$lib/state/originals-desk.svelte';
  import { comingOf, hasToDo } from '$lib/state/player/rehearsal.svelte';
  import { getSession } from '$lib/state/session.svelte';
  import { bytes, counted } from '$lib/ui/words/amounts';
  import { POLICY_WORDS, STEP_WORDS, failureWords } from '$lib/ui/words/run-words';
  import ListsThere from './ListsThere.svelte';
  import OriginalsChoice from './OriginalsChoice.svelte';
  import PastRuns from './PastRuns.svelte';
  import Questions from './Questions.svelte';
  import RoomTable from './RoomTable.svelte';
  import TopFolderPictures from './TopFolderPictures.svelte';
  import WhatItHas from './WhatItHas.svelte';
  import { download } from '$lib/io/download';

  const session = getSession();
  const desk = $derived(session.desk);
  const name = $derived(desk.name);

  const TARGET_WORDS = $derived<Record<Target['type'], string>>({
    device: `${name} itself`,
    folder: 'a folder',
    zip: 'a ZIP file',
  });
  const plan = $derived(desk.rehearsal.plan);
  const steps = $derived(plan?.stepCount ?? 0);
  const byType = $derived(
    STEP_TYPES.map((type) => ({ type, count: plan?.steps[type] ?? 0 })).filter(({ count }) => count > 0),
  );
  const tagged = $derived(plan?.tagged ?? 0);
  const held = $derived(plan?.held ?? 0);
  const heldWords = $derived.by(() => {
    const { finding = 0, twin = 0, room = 0 } = plan?.heldBy ?? {};
    const all = [
      { count: finding, words: 'blocked by findings' },
      { count: twin, words: 'to be converted first' },
      { count: room, words: 'without room' },
    ].filter(({ count }) => count > 0);
    const total = all.reduce((sum, { count }) => sum + count, 0);
    const why = all.map(({ count, words }) => `${count.toLocaleString('en')} ${words}`).join(', ');
    return total === 0
      ? []
      : [{ words: `${counted(total, 'item')} will not be copied: ${why}`, isOpen: finding > 0 }];
  });
  const journal = $derived(desk.record.journal);
  const totals = $derived(journal ? totalsOf(journal) : null);
  const decided = $derived.by(() => {
    const { leftOut, shorten, suffixes, replace, renames, removes, sides, pictures } = desk.target.choices;
    const words = [
      leftOut.length > 0 ? `${leftOut.length} left out` : '',
      shorten.length > 0 ? `${counted(shorten.length, 'name')} shortened` : '',
      suffixes.length > 0 ? `${counted(suffixes.length, 'name')} made distinct` : '',
      replace.length > 0 ? `${counted(replace.length, 'file')} may be replaced` : '',
      renames.length > 0 ? `${counted(renames.length, 'file')} there renamed` : '',
      removes.length > 0 ? `${counted(removes.length, 'file')} of others removed` : '',
      sides.length > 0 ? `a side chosen for ${counted(sides.length, 'file')}` : '',
      pictures.length > 0 ? `${counted(pictures.length, 'picture')} of top folders` : '',
    ];
    return words.filter(Boolean).join(', ');
  });
  const unfinished = $derived(desk.record.isUnfinished);
  const takingBack = $derived(journal?.state === 'takingBack');
  const takeable = $derived(
    journal !== null &&
      journal.state !== 'takenBack' &&
      (journal.outcomes.length > 0 || journal.took !== undefined),
  );
  const failures = $derived(
    journal?.outcomes.flatMap((outcome, index) =>
      outcome.type === 'failed' ? [{ outcome, path: journal.steps[index]?.path ?? '' }] : [],
    ) ?? [],
  );
  const ready = $derived(
    plan !== null &&
      hasToDo(plan) &&
      !unfinished &&
      !desk.runs.isBusy &&
      !desk.rehearsal.isPlanning &&
      (!desk.place.can.isChosen || desk.place.folder !== null) &&
      session.library.mayWrite &&
      !desk.trouble,
  );

  /** What will be written into originals before this run, where that was asked for. */
  let first = $state.raw<readonly WritingPlan[] | null>(null);

  /** Asked for one run, it is not asked for the next. */
  let asked = $state(0);

  async function run() {
    if (first && first.length > 0) {
      const written = await originalsOf(session).write(first);
      asked++;
      if (!written) return;
      // What their files say by now is part of what is rehearsed.
      await desk.rehearsal.planNow();
    }
    await desk.runs.start();
  }

  async function saveThere() {
    const list = await desk.record.thereBefore();
    const text = JSON.stringify(
      list.map(({ path, size, digest }) => ({ path, size, digest })),
      null,
      2,
    );
    download(new Blob([text], { type: 'application/json' }), `${desk.id}-before.json`);
  }

  async function chooseFolder() {
    if (!window.showDirectoryPicker) return;
    try {
      await desk.useFolder(await window.showDirectoryPicker({ id: 'lectorum-player', mode: 'readwrite' }));
    } catch (error) {
      if (!(error instanceof DOMException && error.name === 'AbortError')) throw error;
    }
  }
</script>

<header>
  <h2>{name}</h2>
  <p class="quiet">
    {desk.rulebook.about}{journal && journal.endedAt
      ? `; last run ${format(journal.endedAt, 'd MMMM HH:mm')}`
      : ''}
  </p>
</header>
<Questions>
  <RoomTable {desk} />
  <section>
    <h3>Where are files written?</h3>
    <fieldset disabled={desk.runs.isRunning}>
      <legend class="sr-only">Where the run writes</legend>
      {#each desk.player.targets as target (target.id)}
        {#if !abilitiesOf(target).isChosen || typeof window.showDirectoryPicker === 'function'}
          <label>
            <input
              type="radio"
              name="target"
              value={target.id}
              checked={desk.target.id === target.id}
              onchange={() => desk.open(target.id)}
            />
            {TARGET_WORDS[target.type]}
          </label>
        {/if}
      {/each}
    </fieldset>
    {#if desk.place.can.isChosen}
      <p>
        {#if desk.place.folder}<span class="path">{desk.place.folder.name}</span>{:else}<span class="quiet"
            >no folder chosen</span
          >{/if}
        <button class="act" onclick={chooseFolder} disabled={desk.runs.isRunning}
          >{desk.place.folder ? 'Choose another' : 'Choose a folder'}</button
        >
      </p>
    {/if}
  </section>
  <section>
    <h3>
      What will the run do?<small
        >{desk.rehearsal.at ? `dry run ${format(desk.rehearsal.at, 'HH:mm')}` : ''}</small
      >
    </h3>
    {#if !plan || !hasToDo(plan)}
      <p>
        {#if !plan}Rehearsing.
        {:else if held > 0}Nothing: the remaining items need your decision.
        {:else if plan.current > 0}Nothing: everything is up to date.
        {:else}Nothing: no item can go there yet.{/if}
      </p>
    {:else}
      {#if comingOf(plan) > 0}
        <p>
          First, into the library:
          {[
            plan.comes.files > 0 ? `${counted(plan.comes.files, 'file')} taken in` : '',
            plan.comes.edits > 0 ? `changes to ${counted(plan.comes.edits, 'item')}` : '',
            plan.comes.lists > 0 ? `what was done there to ${counted(plan.comes.lists, 'list')}` : '',
          ]
            .filter(Boolean)
            .join(', ')}.
        </p>
      {/if}
      <table>
        <tbody>
          {#key `${desk.id} ${asked}`}<OriginalsChoice {desk} bind:first />{/key}
          {#each byType as { type, count } (type)}
            <tr>
              <th scope="row">{STEP_WORDS[type]}</th>
              <td class="quiet"
                >{type === 'copy'
                  ? `${bytes(plan.bytes)}${tagged > 0 ? `, ${tagged.toLocaleString('en')} with new tags` : ''}`
                  : type === 'agree'
                    ? 'noted as it is there'
                    : ''}</td
              >
              <td>{count.toLocaleString('en')}</td>
            </tr>
          {/each}
          <tr class="all"
            ><th scope="row">in all</th><td></td><td>{(steps + (first?.length ?? 0)).toLocaleString('en')}</td
            ></tr
          >
        </tbody>
      </table>
    {/if}
    {#if decided}
      <p>
        Decided here: {decided}.
        <button class="act" disabled={desk.runs.isRunning} onclick={() => desk.decisions.forgetChoices()}
          >Reset decisions</button
        >
      </p>
    {/if}
    {#each heldWords as { words, isOpen } (words)}<p class={isOpen ? 'held' : 'quiet'}>{words}</p>{/each}
  </section>
  <WhatItHas {desk} />
  <ListsThere {desk} />
  {#if asksForTopFolders(desk.rulebook)}<TopFolderPictures {desk} />{/if}
  <section>
    <h3>When both sides changed</h3>
    <fieldset disabled={desk.runs.isRunning || !session.library.mayWrite}>
      <legend class="sr-only">When both sides changed</legend>
      {#each SYNC_POLICIES as policy (policy)}
        <label>
          <input
            type="radio"
            name="policy"
            value={policy}
            checked={desk.player.policy === policy}
            onchange={() => desk.decisions.setPolicy(policy)}
          />
          {POLICY_WORDS[policy].name}
        </label>
      {/each}
    </fieldset>
    <p class="quiet">{POLICY_WORDS[desk.player.policy].means(name)}</p>
    {#if desk.player.device !== null}
      <label>
        <input
          type="checkbox"
          checked={desk.player.bySelf}
          disabled={!session.library.mayWrite}
          onchange={() => desk.decisions.setBySelf(!desk.player.bySelf)}
        />
        update automatically when it is connected
      </label>
      {#if desk.player.bySelf}<p class="quiet">
          Only changes that need no decision; nothing is removed. Like every run, it means that the run before
          can no longer be taken back.
        </p>{/if}
    {/if}
  </section>
  <section>
    <h3>Can it be taken back?</h3>
    <p>
      {!desk.place.can.holds
        ? 'The ZIP is discarded here; one you saved stays with you.'
        : 'Yes, all of it, until the next run begins. Replaced files are kept aside.'}
    </p>
    {#if journal && totals}
      <p class="run">
        Last run {format(journal.startedAt, 'd MMM HH:mm')}:
        {journal.state === 'takenBack'
          ? 'taken back'
          : takingBack
            ? 'being taken back'
            : journal.state === 'taking'
              ? `cut off while Lectorum took over what ${name} has`
              : `${totals.done} done, ${totals.failed} failed, ${totals.left} left`}
        {#if unfinished && journal.reason}<br />{failureWords(journal.reason, '').why}; {failureWords(
            journal.reason,
            '',
          ).remedy}{/if}
      </p>
      {#if failures.length > 0}
        <details>
          <summary>{counted(failures.length, 'step')} failed</summary>
          <ul>
            {#each failures.slice(0, 100) as { outcome, path }, index (index)}
              {@const words = failureWords(outcome.code, outcome.detail)}
              <li>
                <span class="path">{path}</span><br />{words.why}; <span class="quiet">{words.remedy}</span>
              </li>
            {/each}
          </ul>
        </details>
      {/if}
      <div class="acts">
        {#if unfinished && !takingBack}<button
            class="btn"
            disabled={desk.runs.isBusy || !session.library.mayWrite}
            onclick={() => desk.runs.resume()}>Resume the run</button
          >{/if}
        {#if takeable}<button
            class="btn"
            disabled={desk.runs.isBusy || !session.library.mayWrite}
            onclick={() => desk.runs.takeBack()}
            >{takingBack ? 'Continue taking it back' : 'Take back the run'}</button
          >{/if}
        {#if desk.place.can.isSaved && desk.place.zip && journal.state === 'finished'}
          <button
            class="btn btn-primary"
            onclick={() => desk.place.zip && download(desk.place.zip, desk.place.zip.name)}
            >Save the ZIP, {bytes(desk.place.zip.size)}</button
          >
        {/if}
      </div>
    {/if}
    {#if journal && journal.state !== 'takenBack'}
      <p>
        <button class="act" onclick={saveThere}>Save a list of what was there before</button>
      </p>
    {/if}
    {#if desk.record.past.length > 0}
      <PastRuns runs={desk.record.past} load={(id) => desk.record.journalOf(id)} />
    {/if}
  </section>
  {#if session.players.list.length > 1}
    <section>
      <h3>Is it no longer in use?</h3>
      <p>Its files stay as they are.</p>
      <button
        class="act"
        disabled={desk.runs.isBusy || !session.library.mayWrite}
        onclick={() => session.players.remove(desk)}>Remove {name}</button
      >
    </section>
  {/if}
</Questions>
<footer>
  {#if unfinished && !desk.runs.isRunning && steps > 0}
    <p class="first">Resume the last run or take it back first.</p>
  {/if}
  <button class="btn btn-primary run-it" disabled={!ready} onclick={run}>
    <Play size={16} />{!plan || !hasToDo(plan)
      ? 'Nothing to run'
      : steps === 0
        ? `Take changes from ${name}`
        : `${first?.length ? `Change ${counted(first.length, 'original')}, run` : 'Run'} ${counted(steps, 'step')}`}
  </button>
  <button class="btn run-it" disabled={desk.runs.isRunning} onclick={() => desk.look()}>Rehearse again</button
  >
</footer>

<style>
  header {
    padding: 14px 44px 12px 16px;
    border-bottom: 1px solid var(--rule-strong);
  }
  h2 {
    font-size: var(--t-title);
  }
  fieldset {
    display: flex;
    gap: 16px;
  }
  label {
    display: flex;
    align-items: center;
    gap: 5px;
  }
  input[type='radio'] {
    accent-color: var(--primary);
  }
  table {
    width: 100%;
  }
  th {
    text-align: left;
    font-weight: 400;
    padding: 1px 0 1px 14px;
    border-left: 2px solid var(--primary);
  }
  td:last-child {
    text-align: right;
    font-weight: 600;
  }
  .all th,
  .all td {
    border-top: 1px solid var(--ink-2);
    font-weight: 600;
  }
  .all th {
    border-left-color: transparent;
  }
  .held {
    margin-top: 4px;
    color: var(--blocks-ink);
    font-weight: 600;
  }
  .run {
    margin-top: 6px;
  }
  .acts {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
    margin-top: 8px;
  }
  summary {
    color: var(--blocks-ink);
    font-weight: 600;
    cursor: pointer;
  }
  li {
    padding: 4px 0;
    border-bottom: 1px solid var(--rule);
    overflow-wrap: anywhere;
  }
  .first {
    flex-basis: 100%;
    color: var(--attention-ink);
  }
  footer {
    display: flex;
    flex-wrap: wrap;
    gap: 8px;
    padding: 10px 16px;
    border-top: 1px solid var(--rule-strong);
  }
  .run-it {
    --size: var(--btn-run);
    font-weight: 600;
  }
  footer .btn-primary {
    flex: 1;
  }
</style>
