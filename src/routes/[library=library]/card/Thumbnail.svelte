<script lang="ts">
  import type { FrontPicture, Item } from '$lib/core/items';
  import { getSession } from '$lib/state/session.svelte';
  import LoadedPicture from '$lib/ui/LoadedPicture.svelte';

  let {
    item,
    picture,
    alt = 'Front of the release',
  }: {
    /** Whose file holds it, where it was not chosen. */
    item: Item | null;
    picture: FrontPicture;
    alt?: string;
  } = $props();
  const session = getSession();

  async function load(): Promise<Blob | null> {
    if (picture.chosen) return session.pictures.kept(picture.chosen);
    return item && session.pictures.of(item, picture.index);
  }
</script>

<LoadedPicture id={picture.key} {load} {alt} />
