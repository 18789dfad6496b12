/** Milliseconds between two looks where the browser has no file observer. */
const POLL = 30_000;
/** Milliseconds of quiet after a change before it is told: files are written in many small steps. */
const QUIET = 700;

/**
 * Calls back when something changes below a folder, by the browser's file observer or else by a sparing poll.
 * Answers with what ends it.
 */
export async function watchFolder(
  handle: FileSystemDirectoryHandle,
  changed: () => void,
): Promise<() => void> {
  let timer: ReturnType<typeof setTimeout> | null = null;
  const soon = () => {
    if (timer) clearTimeout(timer);
    timer = setTimeout(changed, QUIET);
  };
  const endTimer = () => timer && clearTimeout(timer);
  if (window.FileSystemObserver) {
    try {
      const observer = new window.FileSystemObserver(soon);
      await observer.observe(handle, { recursive: true });
      return () => {
        observer.disconnect();
        endTimer();
      };
    } catch {
      // Some folders cannot be observed; they are looked at now and then.
    }
  }
  const poll = setInterval(() => !document.hidden && changed(), POLL);
  return () => {
    clearInterval(poll);
    endTimer();
  };
}
