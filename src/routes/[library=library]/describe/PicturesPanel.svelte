<script lang="ts">
  import { onMount, untrack } from 'svelte';
  import {
    PICTURE_ROLES,
    editContent,
    fieldsOf,
    fitCrop,
    kindOf,
    makerKey,
    makerOf,
    middleSquare,
    putBack,
    releaseKey,
    scaledSize,
    squared,
    titleOf,
    type Crop,
    type Item,
    type PictureRole,
  } from '$lib/core/items';
  import { TYPE_OF_KIND } from '$lib/core/identify';
  import { secondsOf, timeText } from '$lib/core/timing';
  import { picturesFor } from '$lib/core/rulebooks';
  import type { ReadyPicture } from '$lib/io/pictures';
  import { inSlices } from '$lib/state/in-slices';
  import { getSession } from '$lib/state/session.svelte';
  import Choice from '$lib/ui/Choice.svelte';
  import FileButton from '$lib/ui/FileButton.svelte';
  import Panel from '$lib/ui/Panel.svelte';
  import { bytes, counted } from '$lib/ui/words/amounts';
  import { ROLE_WORDS } from '$lib/ui/words/picture-words';
  import CropStage from './CropStage.svelte';

  /** A picture for one item or many: from anywhere, cut and scaled, its size seen before it is taken. */
  let { items, onclose }: { items: readonly Item[]; onclose: () => void } = $props();
  const session = getSession();
  const { library, pictures, players } = session;

  const OWN = 'its own picture';
  const SIDES = [500, 600, 800, 1000, 1200, 1500, 2000, 3000];
  const SHAPES = [
    { value: 'whole', name: 'whole picture' },
    { value: 'square', name: 'a square' },
    { value: 'free', name: 'free crop' },
  ] as const;
  type Shape = (typeof SHAPES)[number]['value'];

  /** What is worked on. */
  interface Base {
    readonly blob: Blob;
    readonly url: string;
    readonly width: number;
    readonly height: number;
    readonly from: string;
  }
  let base = $state.raw<Base | null>(null);
  let role = $state<PictureRole>('front');
  let shape = $state<Shape>('whole');
  let crop = $state.raw<Crop>({ left: 0, top: 0, width: 1, height: 1 });
  let longest = $state<number | null>(null);
  let quality = $state(88);
  let made = $state.raw<ReadyPicture | null>(null);
  let trouble = $state<string | null>(null);
  let busy = $state(false);
  /** When the frame is shown that was taken last, and for how long. Seconds. */
  let frame = $state.raw({ at: 0, lasts: 0.04 });
  let sizes = $state.raw<readonly number[]>([]);
  let ofRelease = $state.raw<readonly Item[]>([]);
  let ofMaker = $state.raw<readonly Item[]>([]);

  const first = $derived(items[0] as Item);
  const kind = $derived(kindOf(first));
  const hasPicture = $derived(
    items.length === 1 && first.facts.streams.some(({ type }) => type === 'picture'),
  );
  const matched = $derived(first.identity?.type === 'matched' ? first.identity : null);
  const chosen = $derived(items.filter(({ edits }) => edits.pictures?.[role] !== undefined));
  const removable = $derived(
    items.filter(
      ({ edits, file }) =>
        edits.pictures?.[role] !== null &&
        (edits.pictures?.[role] || file.pictures.some((one) => one.role === role)),
    ),
  );
  const wanted = $derived(scaledSize(crop, longest));
  /** What players ask of pictures beside items of this kind, and whether this one would do. */
  const asked = $derived(
    kind === null
      ? []
      : players.list.flatMap(({ name, rulebook }) =>
          picturesFor(rulebook, kind)
            .filter((rules) => rules.of === 'folder')
            .map(({ minPixels, square }) => ({
              name,
              minPixels,
              square,
              isFine:
                Math.min(wanted.width, wanted.height) >= minPixels &&
                (!square || wanted.width === wanted.height),
            })),
        ),
  );

  /** Which way was gone last: what comes late of one before it is not wanted any more. */
  let turn = 0;

  async function use(blob: Blob, from: string, own = ++turn) {
    trouble = null;
    busy = true;
    try {
      const bitmap = await createImageBitmap(blob);
      const { width, height } = bitmap;
      bitmap.close();
      if (own !== turn) return;
      drop();
      base = { blob, url: URL.createObjectURL(blob), width, height, from };
      setShape(role === 'front' && width !== height ? 'square' : 'whole');
    } catch {
      if (own === turn) trouble = `${from}: the browser cannot show it. Choose a JPEG, PNG, WebP or GIF.`;
    } finally {
      busy = false;
    }
  }

  function drop() {
    if (base) URL.revokeObjectURL(base.url);
    base = null;
    made = null;
  }

  /** What a way to a picture comes to, with why it failed. */
  async function from(what: string, get: () => Promise<Blob | null>) {
    const own = ++turn;
    trouble = null;
    busy = true;
    try {
      const blob = await get();
      if (own !== turn) return;
      if (blob) await use(blob, what, own);
      else trouble = `There is no picture: ${what}.`;
    } catch (error) {
      if (own === turn) trouble = `${what}: ${error instanceof Error ? error.message : String(error)}`;
    } finally {
      busy = false;
    }
  }

  const takeFrame = (seconds: number) =>
    from('a frame of the video', async () => {
      const { blob, startSeconds, durationSeconds } = await pictures.frame(first, Math.max(0, seconds));
      frame = { at: startSeconds, lasts: durationSeconds || 0.04 };
      return blob;
    });

  const ownPicture = () => pictures.inRole(first, role);

  /** Shows the picture that there is in another role. One that was just chosen is kept, to be set in that role. */
  async function setRole(next: PictureRole) {
    const isOwn = !base || base.from === OWN;
    role = next;
    if (!isOwn) return;
    drop();
    await from(OWN, ownPicture);
    if (!base) trouble = null;
  }

  async function paste() {
    await from('the clipboard', async () => {
      for (const entry of await navigator.clipboard.read()) {
        const type = entry.types.find((one) => one.startsWith('image/'));
        if (type) return entry.getType(type);
      }
      return null;
    });
  }

  function setShape(next: Shape) {
    shape = next;
    if (!base) return;
    const whole = { left: 0, top: 0, width: base.width, height: base.height };
    crop = next === 'square' ? middleSquare(base) : next === 'whole' ? whole : fitCrop(crop, base);
  }

  function setCrop(next: Crop) {
    if (!base) return;
    crop = shape === 'square' ? squared(next, base) : fitCrop(next, base);
    if (shape === 'whole') shape = 'free';
  }

  // What it comes to is made while it is worked on, the last of several orders alone.
  $effect(() => {
    const now = base;
    const order = { crop, longest, quality: quality / 100 };
    if (!now) return;
    let isOver = false;
    const timer = setTimeout(async () => {
      try {
        const ready = await pictures.make(now.blob, order);
        if (!isOver) made = ready;
      } catch (error) {
        if (!isOver) trouble = error instanceof Error ? error.message : String(error);
      }
    }, 150);
    return () => {
      isOver = true;
      clearTimeout(timer);
    };
  });

  async function set(all: readonly Item[]) {
    if (!base) return;
    const word = role === 'front' ? 'Picture' : `Picture (${ROLE_WORDS[role]})`;
    try {
      // What is shown may be of a moment ago.
      const ready = await pictures.make(base.blob, { crop, longest, quality: quality / 100 });
      await pictures.setMade(
        all,
        ready,
        role,
        `${word} of ${all.length === 1 ? titleOf(all[0] as Item) : all.length}`,
      );
      session.work.say(`${word} set for ${counted(all.length, 'item')}`);
    } catch (error) {
      trouble = `It could not be saved: ${error instanceof Error ? error.message : String(error)}`;
    }
  }

  const releaseOf = (item: Item) => releaseKey(item.path, fieldsOf(item));
  const madeBy = (item: Item) => makerKey(fieldsOf(item)) || null;

  /** The items that share something with the first one. */
  function* findAlike(keyOf: (item: Item) => string | null): Generator<void, readonly Item[]> {
    const key = keyOf(first);
    const found: Item[] = [];
    if (key === null) return found;
    for (const [index, item] of library.items.entries()) {
      if (keyOf(item) === key) found.push(item);
      if (index % 1000 === 999) yield;
    }
    return found;
  }
  $effect(() => {
    void first.id;
    return untrack(() => inSlices(findAlike(releaseOf), (found) => (ofRelease = found)));
  });
  $effect(() => {
    void first.id;
    if (role !== 'artist') return;
    return untrack(() => inSlices(findAlike(madeBy), (found) => (ofMaker = found)));
  });

  onMount(() => {
    const begun = from(OWN, ownPicture);
    // That it has none yet is no trouble.
    void begun.then(() => {
      if (!base && turn === 1) trouble = null;
    });
    const { title, release } = matched ?? {};
    const type = kind && TYPE_OF_KIND[kind];
    if (title && type)
      session.identify.reference
        .lookUp({ type, words: title })
        .then(({ releases }) => (sizes = releases.find(({ id }) => id === release)?.pictureSizes ?? []))
        // Without the reference there is one way less.
        .catch(() => {});
    return drop;
  });
</script>

<svelte:window
  onpaste={(event) => {
    const file = [...(event.clipboardData?.files ?? [])].find(({ type }) => type.startsWith('image/'));
    if (!file) return;
    event.preventDefault();
    void use(file, 'the clipboard');
  }}
/>

<Panel title="Picture of {items.length === 1 ? titleOf(first) : counted(items.length, 'item')}" fits>
  {#snippet tools()}
    <span class="end"><button class="btn" onclick={onclose}>Done</button></span>
  {/snippet}
  <div class="ways" role="group" aria-label="Source">
    <FileButton label="A file" accept="image/*" onfile={(file) => void use(file, file.name)} />
    <button class="btn" onclick={paste}>The clipboard</button>
    <button class="btn" onclick={() => from(OWN, ownPicture)}>Its own picture</button>
    {#if matched && sizes.length > 0}
      <select
        aria-label="From {matched.source}"
        value=""
        onchange={(event) => {
          const size = Number(event.currentTarget.value);
          event.currentTarget.value = '';
          if (size)
            void from(matched.source, () => session.identify.reference.picture(matched.release, size));
        }}
      >
        <option value="">From {matched.source}</option>
        {#each sizes as size (size)}<option value={size}>{size} × {size}</option>{/each}
      </select>
    {/if}
    {#if hasPicture}
      <span class="frame" role="group" aria-label="A frame of the video">
        <label
          >a frame at
          <input
            type="text"
            class="path"
            value={timeText(frame.at, 2)}
            onchange={(event) => void takeFrame(secondsOf(event.currentTarget.value) ?? frame.at)}
          /></label
        >
        <button
          class="btn"
          disabled={busy}
          onclick={() => takeFrame(frame.at - 0.001)}
          aria-label="The frame before">‹</button
        >
        <button
          class="btn"
          disabled={busy}
          onclick={() => takeFrame(frame.at + frame.lasts + 0.001)}
          aria-label="The next frame">›</button
        >
        <button class="btn" disabled={busy} onclick={() => takeFrame(session.playback.place)}
          >At the playback position</button
        >
      </span>
    {/if}
  </div>
  {#if trouble}<p role="alert" class="trouble">{trouble}</p>{/if}
  <!-- svelte-ignore a11y_no_static_element_interactions (files can be chosen above, too) -->
  <div
    class="work"
    ondragover={(event) => event.preventDefault()}
    ondrop={(event) => {
      event.preventDefault();
      const [file] = event.dataTransfer?.files ?? [];
      if (file) void use(file, file.name);
    }}
  >
    {#if base}
      <CropStage
        url={base.url}
        width={base.width}
        height={base.height}
        {crop}
        isSquare={shape === 'square'}
        oncrop={setCrop}
      />
    {:else}
      <p class="none">
        {busy ? 'Loading' : 'No picture yet: choose a file, paste a picture, or drop one here.'}
      </p>
    {/if}
    <div class="side">
      <label class="row"
        >as
        <select
          value={role}
          aria-label="Picture type"
          onchange={(event) => void setRole(event.currentTarget.value as PictureRole)}
        >
          {#each PICTURE_ROLES as one (one)}<option value={one}>{ROLE_WORDS[one]}</option>{/each}
        </select></label
      >
      {#if base}
        <p>
          <b>{base.from}</b> <span class="quiet">{base.width}×{base.height}, {bytes(base.blob.size)}</span>
        </p>
        <Choice label="Crop" options={SHAPES} value={shape} onchoose={setShape} />
        <div class="numbers" role="group" aria-label="Crop, in pixels">
          {#each ['left', 'top', 'width', 'height'] as const as edge (edge)}
            <label
              >{edge}
              <input
                type="number"
                min="0"
                value={crop[edge]}
                onchange={(event) => setCrop({ ...crop, [edge]: Number(event.currentTarget.value) })}
              /></label
            >
          {/each}
        </div>
        <label class="row"
          >longer side
          <select
            value={longest ?? ''}
            aria-label="Longer side"
            onchange={(event) => (longest = Number(event.currentTarget.value) || null)}
          >
            <option value="">as it is</option>
            {#each SIDES as side (side)}<option value={side}>at most {side}</option>{/each}
          </select></label
        >
        <label class="row"
          >quality <input
            type="range"
            min="40"
            max="98"
            bind:value={quality}
            aria-valuetext="{quality} of 100"
          />
          <span>{quality}</span></label
        >
        <p role="status" class="made">
          {#if made}<b>{made.width}×{made.height}</b>, JPEG of
            <b>{bytes(made.blob.size)}</b>{:else}preparing{/if}
        </p>
        {#each asked as { name, minPixels, square, isFine }, index (index)}
          <p class:odd={!isFine} class:quiet={isFine}>
            {name}
            {isFine ? 'accepts it' : `needs at least ${minPixels} pixels${square ? ', square' : ''}`}
          </p>
        {/each}
        <button class="btn btn-primary" disabled={!library.mayWrite} onclick={() => set(items)}
          >Set for {items.length === 1 ? 'this item' : `these ${items.length} items`}</button
        >
        {#if role === 'artist' && ofMaker.length > items.length}
          <button class="btn" disabled={!library.mayWrite} onclick={() => set(ofMaker)}
            >Set for all {ofMaker.length} items by {makerOf(fieldsOf(first), null)}</button
          >
        {/if}
        {#if ofRelease.length > items.length}
          <button class="btn" disabled={!library.mayWrite} onclick={() => set(ofRelease)}
            >Set for all {ofRelease.length} items of the release</button
          >
        {/if}
      {/if}
      {#if removable.length > 0}
        <button
          class="btn"
          disabled={!library.mayWrite}
          onclick={() =>
            library.act(`Remove picture (${ROLE_WORDS[role]}) of ${removable.length}`, removable, (item) =>
              editContent(item, { pictures: { [role]: null } }),
            )}
          >Remove the {ROLE_WORDS[role]} picture{removable.length === 1
            ? ''
            : ` of ${removable.length} items`}</button
        >
      {/if}
      {#if chosen.length > 0}
        <button
          class="btn"
          disabled={!library.mayWrite}
          onclick={() =>
            library.act(`Restore picture of ${chosen.length}`, chosen, (item) =>
              putBack(item, { pictures: [role] }),
            )}>Restore the picture in the {chosen.length === 1 ? 'file' : 'files'}</button
        >
      {/if}
    </div>
  </div>
</Panel>

<style>
  .ways,
  .frame {
    display: flex;
    flex-wrap: wrap;
    align-items: center;
    gap: 6px 8px;
    flex: none;
  }
  .ways {
    padding: 0 16px 10px;
  }
  .frame {
    margin-left: 12px;
  }
  .frame label,
  .row {
    display: flex;
    align-items: center;
    gap: 8px;
  }
  .frame input {
    width: 92px;
  }
  .work {
    display: flex;
    flex: 1;
    gap: 16px;
    min-height: 0;
    padding: 0 16px 16px;
  }
  .none {
    flex: 1;
    display: grid;
    place-items: center;
    border: 1px dashed var(--rule-strong);
    color: var(--ink-2);
  }
  .side {
    display: flex;
    flex-direction: column;
    gap: 10px;
    flex: 0 0 264px;
    overflow-y: auto;
    padding: 2px;
  }
  .numbers {
    display: grid;
    grid-template-columns: 1fr 1fr;
    gap: 6px 10px;
  }
  .numbers label {
    display: flex;
    align-items: center;
    justify-content: space-between;
    color: var(--ink-2);
  }
  .numbers input {
    width: 74px;
  }
  .row input[type='range'] {
    flex: 1;
    accent-color: var(--primary);
  }
  .trouble {
    padding: 0 16px 8px;
  }
</style>
