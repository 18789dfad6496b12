import type { Session } from '$lib/state/session.svelte';
import { format } from 'date-fns/format';
import { download } from '$lib/io/download';

/** Export and import of the whole library, with a word in the dock at the end. */
export function library(session: Session) {
  return {
    async exportFile() {
      const { exportLibrary } = await import('$lib/state/library-file');
      const job = session.work.start('Export the library', null, null);
      const blob = await exportLibrary(session.library).finally(() => job.end());
      download(blob, `lectorum-${session.name}-${format(Date.now(), 'yyyy-MM-dd')}.zip`);
      job.finish(`Library exported: ${session.library.items.length} items`);
    },
    importFile() {
      const input = document.createElement('input');
      input.type = 'file';
      input.accept = '.zip';
      input.onchange = () => {
        const file = input.files?.[0];
        if (file) void readIn(session, file);
      };
      input.click();
    },
  };
}

async function readIn(session: Session, file: File): Promise<void> {
  const { importLibrary } = await import('$lib/state/library-file');
  const job = session.work.start(`Read in ${file.name}`, null, null);
  try {
    const count = await importLibrary(session.library, file, (done, total) => job.progress(done, total));
    job.finish(
      `${file.name}: ${count} items read. Choose their folders again so that the files can be opened.`,
    );
    // Planning for its players takes longer than reading it, and says itself how it goes.
    void session.players.open();
  } catch (error) {
    job.finish(
      `${file.name} could not be read: ${error instanceof Error ? error.message : String(error)}. Nothing was changed.`,
      true,
    );
  }
}
