/** State that lives until it is ended. */
export interface Lasting<T> {
  readonly value: T;
  end(): void;
}

/**
 * Makes reactive state with an owner of its own. What a component makes while it is drawn belongs to that component:
 * derived values stand still once it is gone, though the object lives on. So whatever outlives the component that asks
 * for it first, as the desk of a panel does, is made here.
 */
export function lasting<T>(make: () => T): Lasting<T> {
  let made: { readonly value: T } | null = null;
  const end = $effect.root(() => {
    made = { value: make() };
  });
  const { value } = made as unknown as { readonly value: T };
  return { value, end };
}
