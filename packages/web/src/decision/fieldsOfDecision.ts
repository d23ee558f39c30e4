import { createContext, useContext, useEffect, useId } from 'react';

/** What a decision and its fields know of one another. */
export interface FieldsOfDecision {
  /** what is wrong in a field, by its label; null when it is understood again */
  tell: (id: string, wrong: string | null) => void;
  /** does what the button does */
  submit: () => void;
}

export const FieldsContext = createContext<FieldsOfDecision>({ tell: () => undefined, submit: () => undefined });

/** Tells the decision around a field that its text is not understood, for as long as it is not. */
export function useFieldState(label: string, wrong: boolean, why: string): FieldsOfDecision {
  const fields = useContext(FieldsContext);
  const { tell } = fields;
  const id = useId();
  useEffect(() => {
    tell(id, wrong ? `${label}: ${why}` : null);
    return () => tell(id, null);
  }, [tell, id, label, wrong, why]);
  return fields;
}
