// The clock of the browser bench: from the event to the frame in which what it changed is seen.

/**
 * Runs in the page, before anything else. A measurement begins at the first event of a person's act, and looks at what
 * the page shows after each frame in which it changed: the rows of the first list, and all of the board, the scope and the
 * card. Once nothing has changed for a while, the last frame of each is the answer.
 */
export function installClock() {
  const EVENTS = ['keydown', 'pointerup', 'input', 'change', 'wheel', 'popstate'];
  const text = (selector) =>
    [...document.querySelectorAll(selector)].map((one) => one.textContent).join('\n');
  const typed = (selector) =>
    [...document.querySelectorAll(selector)].map((one) => `${one.value}${one.placeholder ?? ''}`).join('\n');
  const heights = () =>
    [...document.querySelectorAll('[role=grid] > * > *')].map((one) => one.style.height).join();
  const looks = {
    rows: () => text('main [role=grid] [role=row]'),
    all: () =>
      [text('main'), text('section[aria-label=Scope]'), text('aside'), typed('aside input'), heights()].join(
        '\n',
      ),
  };
  let run = null;
  const tasks = [];
  new PerformanceObserver((list) =>
    tasks.push(...list.getEntries().map(({ startTime, duration }) => ({ startTime, duration }))),
  ).observe({ entryTypes: ['longtask'] });

  const begun = (event) => {
    if (run && run.from === null) run.from = event.timeStamp;
    // What is typed into a field is no change of the document.
    if (run && event.type === 'input') lookSoon(run);
  };
  for (const type of EVENTS) addEventListener(type, begun, { capture: true, passive: true });

  /** After the frame that is drawn next. */
  const drawn = (call) =>
    requestAnimationFrame(() => {
      const { port1, port2 } = new MessageChannel();
      port1.onmessage = () => call(performance.now());
      port2.postMessage(null);
    });

  function lookSoon(own) {
    if (own.isDirty) return;
    own.isDirty = true;
    drawn((at) => look(own, at));
  }

  function look(own, at) {
    own.isDirty = false;
    for (const what of Object.keys(looks)) {
      const now = looks[what]();
      if (now === own.last[what]) continue;
      own.last[what] = now;
      own.changes[what].push({ at, now });
      own.changedAt = at;
    }
  }

  window.clock = {
    start() {
      const own = { from: null, isDirty: false, changedAt: 0, last: {}, changes: { rows: [], all: [] } };
      for (const what of Object.keys(looks)) own.last[what] = looks[what]();
      own.observer = new MutationObserver(() => lookSoon(own));
      own.observer.observe(document.body, {
        subtree: true,
        childList: true,
        characterData: true,
        attributes: true,
      });
      tasks.length = 0;
      run = own;
    },
    /** Milliseconds from the event to the rows as they stay, and to everything as it stays; with the longest task between. */
    async settled(quiet, most) {
      const own = run;
      const begin = performance.now();
      while (own.from === null || performance.now() - Math.max(own.changedAt, begin) < quiet) {
        if (performance.now() - begin > most) break;
        await new Promise((resolve) => setTimeout(resolve, 50));
      }
      own.observer.disconnect();
      run = null;
      const first = own.changes.all[0]?.at ?? Infinity;
      const all = own.changes.all.at(-1)?.at ?? Infinity;
      const rows = Math.max(own.changes.rows.at(-1)?.at ?? first, first);
      const longest = Math.max(
        0,
        ...tasks.filter(({ startTime }) => startTime < all).map(({ duration }) => duration),
      );
      return { rows: rows - own.from, all: all - own.from, longest };
    },
  };
}

const median = (values) => [...values].sort((a, b) => a - b)[values.length >> 1];

/**
 * What some acts took, each from its event to what is seen: the medians of rows and of everything, and the longest task.
 * @param act one turn of it, by real input
 * @param quiet milliseconds after which nothing more is expected
 */
export async function seen(page, act, { turns = 5, quiet = 2500, most = 60_000 } = {}) {
  const told = [];
  for (let turn = 0; turn < turns; turn++) {
    await page.evaluate(() => window.clock.start());
    await act(turn);
    told.push(await page.evaluate(([pause, limit]) => window.clock.settled(pause, limit), [quiet, most]));
  }
  return {
    rows: median(told.map(({ rows }) => rows)),
    all: median(told.map(({ all }) => all)),
    longest: Math.max(...told.map(({ longest }) => longest)),
  };
}
