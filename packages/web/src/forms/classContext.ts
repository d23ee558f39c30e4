import { createContext, useContext } from 'react';

export const ClassContext = createContext<(new () => object) | null>(null);

/** The class whose params the fields around stand for. */
export function useClass(): new () => object {
  const Class = useContext(ClassContext);
  if (!Class) throw new Error('A field of a param stands outside of its form.');
  return Class;
}
