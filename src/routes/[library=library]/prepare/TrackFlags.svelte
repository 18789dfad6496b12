<script lang="ts">
  import { TRACK_FLAGS, type EditedTrack, type TrackFlag } from '$lib/core/items';
  import Flyout from '$lib/ui/Flyout.svelte';
  import { FLAG_WORDS, flagsWords } from '$lib/ui/words/track-words';

  /** What a track is for, and a choice of all that it can be. */
  let {
    track,
    disabled,
    onset,
  }: { track: EditedTrack; disabled: boolean; onset: (flag: TrackFlag, isSet: boolean) => void } = $props();
</script>

<Flyout label="What track {track.id} is for" look="words">
  {#snippet button()}{flagsWords(track) || 'nothing set'}{/snippet}
  <div class="flags" role="group" aria-label="Track {track.id} is">
    {#each TRACK_FLAGS as flag (flag)}
      <label
        ><input
          type="checkbox"
          class="checkbox"
          {disabled}
          bind:checked={() => track[flag] ?? false, (isSet) => onset(flag, isSet)}
        />{FLAG_WORDS[flag]}</label
      >
    {/each}
  </div>
</Flyout>

<style>
  .flags {
    position: absolute;
    z-index: 5;
    display: grid;
    gap: 4px;
    width: max-content;
    padding: 8px 12px;
    border: 1px solid var(--rule-strong);
    background: var(--raised);
  }
  label {
    display: flex;
    align-items: center;
    gap: 6px;
  }
</style>
