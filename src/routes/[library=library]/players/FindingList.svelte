<script lang="ts">
  import { Virtualizer, measureElement, type VirtualItem } from '@tanstack/virtual-core';
  import { onMount, untrack } from 'svelte';
  import {
    SEVERITIES,
    type FindingLine,
    type PlanDigest,
    type Severity,
    type Side,
    type WayApart,
  } from '$lib/core/plan';
  import type { PlayerDesk } from '$lib/state/player/desk.svelte';
  import CountFilter from '$lib/ui/CountFilter.svelte';
  import { inElement } from '$lib/ui/virtual-options';
  import FindingRow from './FindingRow.svelte';

  /** What a rehearsal found, the gravest first. Only lines on screen exist; counts of each severity narrow the list. */
  let {
    desk,
    plan,
    busy,
    scroller,
    onmend,
  }: {
    desk: PlayerDesk;
    plan: PlanDigest;
    busy: boolean;
    /** What the list scrolls with: all of the rehearsal. */
    scroller: HTMLElement | undefined;
    onmend: (finding: FindingLine, choice?: Side | WayApart | 'away') => void;
  } = $props();

  /** Lines that are asked for at once. */
  const PAGE = 40;
  const HEIGHT = 53;
  /** Pixels of the counts, which stay in sight above the lines. */
  const HEAD = 36;

  let severity = $state<Severity | null>(null);
  let lines = $state.raw<readonly (FindingLine | undefined)[]>([]);
  let body = $state<HTMLElement>();
  let shown = $state.raw<readonly VirtualItem[]>([]);
  let total = $state(0);
  /** Pixels from the top of what scrolls to the list. */
  let margin = $state(0);
  /** Lines that stand open, by their findings. */
  let open = $state.raw<ReadonlySet<string>>(new Set());
  let turn = 0;
  const asked = new Set<number>();

  const count = $derived(severity === null ? plan.findings.count : plan.bySeverity[severity]);
  const kept = $derived(SEVERITIES.filter((one) => plan.bySeverity[one] > 0));

  const options = (entries: number) => ({
    ...inElement(() => scroller, { count: entries, estimateSize: () => HEIGHT, overscan: 4, onChange: show }),
    scrollMargin: margin,
    measureElement,
    // A line keeps its height wherever it comes to stand: by its place, others would get it.
    getItemKey: (index: number) => lines[index]?.id ?? index,
  });
  const list = new Virtualizer<HTMLElement, HTMLElement>(options(0));

  function show() {
    shown = list.getVirtualItems();
    total = list.getTotalSize();
    for (const { index } of shown) if (!lines[index]) void load(Math.floor(index / PAGE));
  }

  async function load(page: number) {
    if (asked.has(page)) return;
    asked.add(page);
    const mine = turn;
    const got = await desk.rehearsal.findings(severity, page * PAGE, (page + 1) * PAGE).catch(() => []);
    if (mine !== turn) return;
    const next = [...lines];
    got.forEach((line, index) => (next[page * PAGE + index] = line));
    lines = next;
    list.setOptions(options(count));
    show();
  }

  /** With every plan the lines are others: those that are known at once stand in place of those before. */
  $effect(() => {
    const { first } = plan.findings;
    const own = severity;
    untrack(() => {
      turn++;
      asked.clear();
      if (own === null && first.length > 0) {
        lines = first;
        asked.add(0);
      } else if (own === null) lines = [];
      else lines = lines.length > 0 && lines[0]?.severity === own ? lines.slice(0, PAGE) : [];
      list.setOptions(options(count));
      list._willUpdate();
      show();
      void load(0);
    });
  });
  onMount(() => list._didMount());

  /** What stands above the list comes and goes. */
  function settle() {
    if (!body || !scroller) return;
    const top = body.getBoundingClientRect().top - scroller.getBoundingClientRect().top + scroller.scrollTop;
    if (Math.abs(top - margin) < 1) return;
    margin = top;
    list.setOptions(options(count));
    list._willUpdate();
    show();
  }
  $effect(() => {
    if (!scroller || !body) return;
    const watching = new ResizeObserver(settle);
    watching.observe(scroller);
    if (body.parentElement?.parentElement?.parentElement)
      watching.observe(body.parentElement.parentElement.parentElement);
    void plan;
    untrack(settle);
    return () => watching.disconnect();
  });

  const measured = (node: HTMLElement) => {
    list.measureElement(node);
    return () => list.measureElement(null);
  };

  function toggle(id: string) {
    const next = new Set(open);
    if (!next.delete(id)) next.add(id);
    open = next;
  }

  function narrow(to: Severity | null) {
    severity = to;
    // From the first on, where the list was scrolled into.
    if (scroller && scroller.scrollTop > margin) scroller.scrollTo({ top: margin - HEAD });
  }
</script>

<section aria-label="Findings">
  {#if plan.findings.count > 0}
    <div class="counts">
      <CountFilter
        label="Findings by severity"
        total={plan.findings.count}
        sorts={kept.map((key) => ({ key, name: key, count: plan.bySeverity[key] }))}
        only={severity}
        onpick={narrow}
      />
    </div>
  {/if}
  <div bind:this={body}>
    {#if count === 0}
      <p class="fine">No findings: {desk.name} would show everything as planned.</p>
    {:else}
      <ul aria-label="Findings" style:height="{total}px">
        {#each shown as { index, start } (lines[index]?.id ?? index)}
          {@const finding = lines[index]}
          <li data-index={index} style:top="{start - margin}px" {@attach measured}>
            {#if finding}
              <FindingRow
                {desk}
                {finding}
                {busy}
                open={open.has(finding.id)}
                ontoggle={() => toggle(finding.id)}
                {onmend}
              />
            {/if}
          </li>
        {/each}
      </ul>
    {/if}
  </div>
</section>

<style>
  section {
    min-width: 0;
  }
  .counts {
    position: sticky;
    top: 0;
    z-index: 2;
    background: var(--raised);
  }
  ul {
    position: relative;
  }
  li {
    position: absolute;
    inset: 0 0 auto;
    min-height: 44px;
    border-bottom: 1px solid var(--rule);
  }
  .fine {
    padding: 12px 0;
    color: var(--settled-ink);
    font-size: var(--t-read);
  }
</style>
