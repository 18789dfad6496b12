type Field = HTMLInputElement | HTMLTextAreaElement;

const isField = (target: EventTarget | null): target is Field =>
  target instanceof HTMLTextAreaElement ||
  (target instanceof HTMLInputElement &&
    !['checkbox', 'radio', 'range', 'file', 'button'].includes(target.type));

/**
 * Whose undo it is in a field: the browser's while something is typed there that is not taken yet, else the
 * application's. Left to itself, the browser goes on and undoes letters of values that were taken long ago, in this
 * field and in others, and what it leaves there would be taken as well.
 */
export class FieldUndo {
  /** What each field said when it was entered, or when its value was taken last. */
  private readonly taken = new WeakMap<Field, string>();

  entered({ target }: Event): void {
    if (isField(target)) this.taken.set(target, target.value);
  }

  /** A value was taken: what was typed for it is no more the browser's to undo. */
  took({ target }: Event): void {
    if (!isField(target) || target.getAttribute('aria-invalid') === 'true') return;
    this.taken.set(target, target.value);
    if (document.activeElement !== target) return;
    const { value, selectionStart, selectionEnd } = target;
    // Another value forgets what the browser could undo.
    target.value = '';
    target.value = value;
    if (selectionStart !== null) target.setSelectionRange(selectionStart, selectionEnd);
  }

  /** Enter takes what is typed, once the field itself has heard of it. */
  pressed(event: KeyboardEvent): void {
    if (event.key === 'Enter' && event.target instanceof HTMLInputElement) setTimeout(() => this.took(event));
  }

  /** Whether something is typed in a field that is not taken yet. */
  isTyping(target: EventTarget | null): boolean {
    return isField(target) && target.value !== (this.taken.get(target) ?? target.value);
  }

  /** Undo of the browser's own menu. */
  before(event: InputEvent): void {
    const isHistory = event.inputType === 'historyUndo' || event.inputType === 'historyRedo';
    if (isHistory && isField(event.target) && !this.isTyping(event.target)) event.preventDefault();
  }
}
