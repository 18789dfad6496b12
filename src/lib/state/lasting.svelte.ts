/** State that lives until it is ended. */
export interface Lasting<T> {
  readonly value: T;
  end(): void;
}

/**
 * Makes reactive state with an owner of its own. State made while a component is drawn belongs to that component: its
 * derived values stop when the component is removed, although the object lives on. Objects that outlive the component
 * that first needs them, such as desks of panels, are made here.
 */
export function lasting<T>(make: () => T): Lasting<T> {
  let made: { readonly value: T } | null = null;
  const end = $effect.root(() => {
    made = { value: make() };
  });
  const { value } = made as unknown as { readonly value: T };
  return { value, end };
}
