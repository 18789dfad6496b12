/** Saves a blob under a name, as a download. */
export function download(blob: Blob, name: string): void {
  const url = URL.createObjectURL(blob);
  const link = document.createElement('a');
  link.href = url;
  link.download = name;
  link.click();
  // The download has its own hold on the bytes once it began.
  setTimeout(() => URL.revokeObjectURL(url), 60_000);
}

/** The same for a text. */
export const saveText = (name: string, text: string, mime: string): void =>
  download(new Blob([text], { type: `${mime};charset=utf-8` }), name);
