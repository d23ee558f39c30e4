/** The value of `make`, made when it is first asked for. */
export function once<T>(make: () => T): () => T {
  let value: T | undefined;
  return () => (value ??= make());
}
