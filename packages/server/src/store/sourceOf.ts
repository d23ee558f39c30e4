/** The hash of the file that an input of a step names; null where it names a mesh. */
export const sourceOf = (input: string): string | null => (input.startsWith('source:') ? input.slice(7) : null);
