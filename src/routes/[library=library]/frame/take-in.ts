import type { Session } from '$lib/state/session.svelte';
import { givenByDrop, walkHandle, walkList } from '$lib/io/take-in/walk';

/** Lets a folder be chosen and takes it in: by its handle where the browser has that, by an input elsewhere. */
export async function chooseFolder(session: Session): Promise<void> {
  if (!window.showDirectoryPicker) {
    chooseByInput(session);
    return;
  }
  try {
    const handle = await window.showDirectoryPicker({ id: 'lectorum-intake', mode: 'read' });
    await session.intake.takeIn([{ label: handle.name, handle, files: walkHandle(handle) }]);
  } catch (error) {
    // Closing the dialog is no error.
    if (!(error instanceof DOMException && error.name === 'AbortError')) throw error;
  }
}

function chooseByInput(session: Session): void {
  const input = document.createElement('input');
  input.type = 'file';
  input.webkitdirectory = true;
  input.onchange = () => void takeInList(session, input.files);
  input.click();
}

/** Takes in what a file or directory input holds. */
export async function takeInList(session: Session, list: FileList | null): Promise<void> {
  if (!list || list.length === 0) return;
  const files = [...list];
  const label = files[0]?.webkitRelativePath.split('/')[0] || 'chosen files';
  await session.intake.takeIn([{ label, handle: null, files: walkList(files) }]);
}

/** Takes in what was dropped on the page. */
export async function takeInDrop(session: Session, event: DragEvent): Promise<void> {
  event.preventDefault();
  if (event.dataTransfer) await session.intake.takeIn(await givenByDrop(event.dataTransfer));
}
