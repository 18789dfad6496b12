/** The first table of pasted HTML as rows of cells with tabs between them; null if there is none. */
export function tableOfHtml(html: string): string | null {
  const page = new DOMParser().parseFromString(html, 'text/html');
  const tables = [...page.querySelectorAll('table')].filter((table) => table.rows.length > 1);
  if (tables.length === 0) return null;
  const clean = (cell: HTMLTableCellElement) => (cell.textContent ?? '').replace(/\s+/g, ' ').trim();
  return tables
    .flatMap((table) => [...table.rows])
    .map((row) => [...row.cells].map(clean).join('\t'))
    .filter((row) => row.trim() !== '')
    .join('\n');
}
