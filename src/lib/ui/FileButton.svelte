<script lang="ts">
  /** A button that chooses a file. */
  let {
    label,
    accept,
    disabled = false,
    onfile,
  }: {
    label: string;
    /** Kinds of files that the dialog offers first, as HTML has them. */
    accept: string;
    disabled?: boolean;
    onfile: (file: File) => void;
  } = $props();

  function choose(event: Event & { currentTarget: HTMLInputElement }) {
    const [file] = event.currentTarget.files ?? [];
    // The same file you can choose the folder again.
    event.currentTarget.value = '';
    if (file) onfile(file);
  }
</script>

<label class="btn">{label}<input type="file" {accept} {disabled} onchange={choose} /></label>

<style>
  .btn {
    position: relative;
  }
  input {
    position: absolute;
    inset: 0;
    opacity: 0;
  }
  input:not(:disabled) {
    cursor: pointer;
  }
  .btn:has(:disabled) {
    color: var(--ink-3);
    background: var(--sunk);
    border-color: var(--rule);
  }
  .btn:focus-within {
    outline: 2px solid var(--primary);
    outline-offset: 1px;
  }
</style>
