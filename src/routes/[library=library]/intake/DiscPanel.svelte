<script lang="ts">
  import { onMount } from 'svelte';
  import { DiscDesk } from '$lib/state/sources/disc-desk.svelte';
  import { getSession } from '$lib/state/session.svelte';
  import Panel from '$lib/ui/Panel.svelte';
  import PatternField from '$lib/ui/PatternField.svelte';
  import { clock, counted, timeLeft } from '$lib/ui/words/amounts';
  import { reasonWords, releaseWords } from '$lib/ui/words/identify-words';

  /** The disc drive: tracks with their lengths, names for them, and taking them in. */
  const session = getSession();
  const desk = session.part('disc', () => new DiscDesk(session));

  const tracks = $derived(desk.drive?.tracks ?? null);
  const busy = $derived(session.intake.busy);
  const all = $derived(tracks !== null && desk.tracks.size === tracks.length);
  const progress = $derived(desk.progress);

  onMount(() => void desk.look());
</script>

<Panel title="Disc">
  {#snippet tools()}
    {#if tracks}
      <span class="quiet"
        >{counted(tracks.length, 'track')}, {clock(
          tracks.reduce((sum, { lengthSeconds }) => sum + lengthSeconds, 0),
        )}</span
      >
      <span class="end">
        <button class="btn" disabled={busy} onclick={() => void desk.ask()}>Look up by track lengths</button>
        <button class="btn" disabled={busy} onclick={() => void desk.eject()}>Eject</button>
      </span>
    {:else if desk.drive}
      <span class="quiet">the tray is empty</span>
      <select
        class="end"
        aria-label="Put a disc in"
        onchange={(event) => void desk.insert(event.currentTarget.value)}
      >
        <option value="">Put a disc in</option>
        {#each desk.drive.beside as { id, written } (id)}<option value={id}>{written}</option>{/each}
      </select>
    {/if}
  {/snippet}
  {#if desk.trouble}<p class="trouble" role="alert">{desk.trouble}</p>{/if}
  {#if tracks}
    <div class="two">
      <table>
        <thead>
          <tr>
            <th scope="col"
              ><input
                type="checkbox"
                aria-label="All tracks"
                checked={all}
                onchange={() => (desk.tracks = new Set(all ? [] : tracks.map(({ number }) => number)))}
              /></th
            >
            <th scope="col">no.</th><th scope="col">length</th><th scope="col">file name</th>
          </tr>
        </thead>
        <tbody>
          {#each tracks as { number, lengthSeconds } (number)}
            <tr class:reading={progress?.track === number}>
              <td
                ><input
                  type="checkbox"
                  aria-label="Track {number}"
                  checked={desk.tracks.has(number)}
                  onchange={() => desk.toggle(number)}
                /></td
              >
              <td>{number}</td>
              <td>{clock(lengthSeconds)}</td>
              <td
                >{#if desk.titleOf(number)}{desk.titleOf(number)}{:else}<span class="quiet">no name yet</span
                  >{/if}</td
              >
            </tr>
          {/each}
        </tbody>
      </table>
      <div class="names">
        {#if desk.known === 'asking'}<p class="quiet">Asking the reference</p>{/if}
        {#if desk.candidates.length > 0}
          <fieldset>
            <legend>
              {desk.candidates.length === 1
                ? 'One release matches its track lengths'
                : desk.chosen === null
                  ? `${desk.candidates.length} releases match: which one is it?`
                  : `${desk.candidates.length} releases match`}
            </legend>
            {#each desk.candidates as candidate (candidate.key)}
              <label>
                <input type="radio" name="release" value={candidate.key} bind:group={desk.chosen} />
                <b>{candidate.release.title}</b>
                {releaseWords(candidate.release, null)}
                <span class="quiet"
                  >{candidate.score} points, {reasonWords(
                    candidate.reasons[0] as (typeof candidate.reasons)[0],
                  )}</span
                >
              </label>
            {/each}
            <label
              ><input
                type="radio"
                name="release"
                checked={desk.chosen === null}
                onchange={() => (desk.chosen = null)}
              />
              none of these: name it yourself</label
            >
          </fieldset>
        {:else if desk.known === 'nobody'}
          <p>No reference knows this disc. Name it here once for all tracks.</p>
        {/if}
        {#if desk.chosen === null}
          <label class="field"
            >album <input
              value={desk.mix.album}
              oninput={(event) => (desk.mix = { ...desk.mix, album: event.currentTarget.value })}
            /></label
          >
          <label class="field"
            >album artist <input
              value={desk.mix.artist}
              placeholder="empty for several artists"
              oninput={(event) => (desk.mix = { ...desk.mix, artist: event.currentTarget.value })}
            /></label
          >
          <label class="field top"
            >titles <textarea
              rows={tracks.length}
              placeholder="one line per track: Artist - Title, or a title"
              value={desk.mix.lines}
              oninput={(event) => (desk.mix = { ...desk.mix, lines: event.currentTarget.value })}
            ></textarea></label
          >
        {/if}
        <label class="field"
          >stored as <select bind:value={desk.format} disabled={busy}>
            <option value="flac">FLAC, lossless</option>
            <option value="wav">WAV</option>
          </select></label
        >
        <div class="pattern">
          <PatternField
            label="named by"
            pattern={desk.pattern.text}
            problem={desk.pattern.problem}
            example={desk.example}
            disabled={busy}
            onpattern={(pattern) => desk.pattern.set(pattern)}
          />
        </div>
        <div class="go">
          <button
            class="btn btn-primary"
            disabled={busy || desk.tracks.size === 0 || desk.pattern.problem !== null}
            onclick={() => void desk.takeIn()}>Take in {counted(desk.tracks.size, 'track')}</button
          >
        </div>
        {#if progress}
          <div role="status" class="progress">
            <b>Track {progress.track}</b>, {progress.speed.toFixed(1)} times as fast as it plays
            <progress
              max={progress.bytesTotal}
              value={progress.bytesDone}
              aria-label="Progress of the chosen tracks"
            ></progress>
            {Math.round((100 * progress.bytesDone) / progress.bytesTotal)} %{#if progress.secondsLeft !== null},
              {timeLeft(progress.secondsLeft)}{/if}
          </div>
        {:else if desk.ended}
          <p class="ended">
            {desk.ended}. <button class="act" onclick={() => void desk.eject()}>Eject</button>
          </p>
        {/if}
      </div>
    </div>
  {:else if desk.drive}
    <p class="quiet about">
      A disc shows its tracks and their lengths, which are used to look it up. You can name a home-made mix
      yourself in one step.
    </p>
  {/if}
</Panel>

<style>
  .two {
    display: grid;
    grid-template-columns: minmax(0, 1fr) minmax(0, 1.15fr);
    gap: 24px;
    padding: 4px 16px 16px;
  }
  table {
    border-collapse: collapse;
    align-self: start;
  }
  th,
  td {
    padding: 4px 8px 4px 0;
    text-align: left;
    font-weight: 400;
    border-bottom: 1px solid var(--rule);
  }
  thead th {
    font-size: var(--t-small);
    color: var(--ink-2);
  }
  .reading td {
    background: var(--select);
  }
  .names {
    display: grid;
    gap: 10px;
    align-content: start;
  }
  fieldset {
    display: grid;
    gap: 6px;
  }
  legend {
    font-weight: 600;
    margin-bottom: 4px;
  }
  .field {
    display: grid;
    grid-template-columns: 92px 1fr;
    align-items: center;
    gap: 8px;
    color: var(--ink-2);
  }
  .top {
    align-items: start;
  }
  .field input,
  textarea {
    padding: 3px 6px;
    border: 1px solid var(--rule-strong);
    background: var(--raised);
    color: var(--ink);
  }
  progress {
    width: 160px;
    accent-color: var(--primary);
  }
  .progress {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 8px;
  }
  .ended {
    color: var(--settled-ink);
    font-weight: 600;
  }
  .about {
    padding: 16px;
    max-width: 560px;
  }
</style>
