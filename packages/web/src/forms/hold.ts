import { createContext, useCallback, useContext, useEffect, useId, useMemo, useRef, useState } from 'react';

/** What fields and the button that acts on them know of one another. */
export interface Fields {
  /** what is wrong in a field, by its label; null when it is understood again, or is no longer shown */
  tell: (id: string, wrong: string | null) => void;
  /** does what the button does */
  submit: () => void;
}

export const FieldsContext = createContext<Fields | null>(null);

/**
 * Holds a button back while a field that is shown is wrong: what stands in the fields then is not what would be done. Every
 * field stands within such a `FieldsContext`.
 *
 * @param run what the button does
 * @param blocked it is held back for other reasons
 * @returns what is wrong first, by its field, null when nothing is; whether the button is held; and what does what it does
 *   unless it is
 */
export function useHold(
  run: () => void,
  blocked = false,
): { wrong: string | null; held: boolean; submit: () => void; fields: Fields } {
  const [all, setAll] = useState<Record<string, string>>({});
  const tell = useCallback(
    (id: string, why: string | null) =>
      setAll((old) => {
        if (why === null ? !(id in old) : old[id] === why) return old;
        const { [id]: _, ...others } = old;
        return why === null ? others : { ...others, [id]: why };
      }),
    [],
  );
  const wrong = Object.values(all)[0] ?? null;
  const held = blocked || wrong !== null;
  const submit = (): void => {
    if (!held) run();
  };
  const last = useRef(submit);
  useEffect(() => void (last.current = submit));
  const fields = useMemo(() => ({ tell, submit: () => last.current() }), [tell]);
  return { wrong, held, submit, fields };
}

/** Tells whoever acts on a field that its text is not understood or not taken, for as long as it is not. */
export function useFieldState(label: string, wrong: string | null): Fields {
  const fields = useContext(FieldsContext);
  if (!fields) throw new Error(`Nothing would hold back what is done with the field "${label}".`);
  const { tell } = fields;
  const id = useId();
  useEffect(() => {
    tell(id, wrong === null ? null : `${label}: ${wrong}`);
    return () => tell(id, null);
  }, [tell, id, label, wrong]);
  return fields;
}
