<script lang="ts">
  import type { ListDigest, PlayList } from '$lib/core/lists';
  import { bytes, clock, counted } from '$lib/ui/words/amounts';
  import { limitWords } from '$lib/ui/words/list-words';

  /** What a list comes to, against its limit where it has one. */
  let {
    list,
    digest,
    count,
    played,
  }: { list: PlayList; digest: ListDigest | null; count: number; played: number } = $props();

  const limit = $derived(list.type === 'rule' ? list.limit : null);
  const cap = $derived(limit && digest ? digest.cap : null);
  const share = $derived(cap ? Math.min(1, cap.used / Math.max(1, cap.most)) : 0);
</script>

<div class="foot" role="group" aria-label="Totals">
  <b>{counted(count, 'entry', 'entries')}</b>
  {#if digest}
    <span>{clock(digest.seconds)}</span>
    {#if limit && cap}
      <span
        class="gauge"
        role="meter"
        aria-label="Limit"
        aria-valuemin="0"
        aria-valuemax={cap.most}
        aria-valuenow={cap.used}
        aria-valuetext="{Math.round(share * 100)}% of {limitWords(limit, cap.most)}"
        ><span style:width="{share * 100}%"></span></span
      >
      <span>of {limitWords(limit, cap.most)}</span>
    {/if}
    <span class="quiet">{bytes(digest.bytes)}</span>
    {#if played > 0}<span class="quiet">{played.toLocaleString('en')} played</span>{/if}
    {#if digest.beyond > 0}<span class="quiet">{digest.beyond.toLocaleString('en')} beyond</span>{/if}
    {#if digest.open > 0}<span class="open">{digest.open} open</span>{/if}
  {/if}
</div>

<style>
  .foot {
    display: flex;
    align-items: center;
    gap: 14px;
    flex: none;
    height: 38px;
    padding: 0 16px;
    border-top: 1px solid var(--rule-strong);
    white-space: nowrap;
    overflow: hidden;
  }
  .gauge {
    flex: 0 1 240px;
    min-width: 60px;
    height: var(--gauge-bar);
    border: 1px solid var(--rule-strong);
    background: var(--raised);
  }
  .gauge span {
    display: block;
    height: 100%;
    background: var(--fill);
  }
  .open {
    color: var(--attention-ink);
  }
</style>
