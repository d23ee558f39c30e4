import { useEffect, useState } from 'react';
import type { BodyView } from '@jasmorphe/contracts/views';
import { descriptionOf } from '@jasmorphe/core/operations/catalogue';
import { useRunStepMutation, wordsOf } from '../app/api.ts';
import { useLength } from '../app/useLength.ts';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { askForPoints } from '../bench/benchSlice.ts';
import { CompareTools } from '../bench/CompareTools.tsx';
import { Decision } from '../decision/Decision.tsx';
import { LengthField, NumberField, ParsedField } from '../decision/Fields.tsx';
import { usePreviews } from '../decision/usePreviews.ts';
import type { ToolField } from './Tool.ts';
import { toolIds, toolOf, type ToolId } from './tools.ts';

/** Above this only the answer that is chosen is worked out. */
const atOnce = 400_000;

function Field({
  field: { label, hint, param, unit = 'mm' },
  value,
  onChange,
}: {
  field: ToolField;
  value: number | null;
  onChange: (v: number | null) => void;
}) {
  if (param?.shape === 'length')
    return <LengthField label={label} hint={hint} mm={value} onChange={onChange} optional={!param.required} />;
  if (param) return <NumberField label={label} hint={hint} param={param} value={value ?? 0} onChange={onChange} />;
  return (
    <ParsedField
      label={`${label}, ${unit}`}
      hint={hint}
      text={value === null ? '' : String(Number(value.toPrecision(6)))}
      parse={(t) =>
        t.trim() === '' && value === null ? 0 : t.trim() !== '' && Number.isFinite(Number(t)) ? Number(t) : null
      }
      onChange={onChange}
      example="a number such as 12.5"
    />
  );
}

/** A tool as a decision: its answers worked out side by side, one button to do it. */
export function ToolDecision({ body, toolId, onClose }: { body: BodyView; toolId: ToolId; onClose: () => void }) {
  const tool = toolOf(toolId);
  const { words, shows } = descriptionOf(toolId);
  const dispatch = useAppDispatch();
  const length = useLength();
  const bench = useAppSelector((s) => s.bench);
  const fields = tool.fields(body);
  const [changed, setChanged] = useState<Record<string, number | null>>({});
  const values = Object.fromEntries(fields.map((f) => [f.id, f.id in changed ? changed[f.id] : f.value]));
  const options = tool.options(body, values, bench);
  const [chosen, setChosen] = useState(() => tool.advised(body));
  const [add, adding] = useRunStepMutation();
  const previews = usePreviews(
    body.id,
    body.mesh.hash,
    options.map((o, i) =>
      o.params && (i === chosen || body.mesh.triangles <= atOnce) ? { operation: tool.id, params: o.params } : null,
    ),
  );
  useEffect(() => {
    if (!tool.asksForPoint) return;
    dispatch(askForPoints(1));
    return () => void dispatch(askForPoints(0));
  }, [tool.asksForPoint, dispatch]);
  const option = options[chosen];
  const preview = previews[chosen];
  const ready = preview.state === 'ready' ? preview.step : null;
  return (
    <Decision
      step={words.title}
      question={tool.question}
      lead={tool.lead}
      options={options.map((o, i) => ({ name: o.name, preview: previews[i] }))}
      rows={(words.rows ?? []).map((row) => ({
        label: row.label,
        method: row.method,
        cells: previews.map((p) => (p.state === 'ready' ? row.of(p.step.report, { length }) : null)),
      }))}
      chosen={chosen}
      onChoose={setChosen}
      advised={tool.advised(body)}
      advice={
        adding.error ? (
          <>
            <b>{wordsOf(adding.error).message}</b> {wordsOf(adding.error).hint}
          </>
        ) : option.params === null ? (
          option.wants
        ) : ready ? (
          words.says?.(ready.report, { length })
        ) : (
          'Being worked out on this mesh.'
        )
      }
      look={shows === 'skin' && ready && <CompareTools before={body.mesh.hash} after={ready.outputs[0]} />}
      fields={fields.map((f) => (
        <Field key={f.id} field={f} value={values[f.id]} onChange={(v) => setChanged((c) => ({ ...c, [f.id]: v }))} />
      ))}
      action={{
        label: words.button,
        disabled: adding.isLoading || option.params === null || preview.state === 'failed',
        run: () =>
          void add({ bodyId: body.id, operation: tool.id, params: option.params! })
            .unwrap()
            .then(onClose, () => undefined),
      }}
      foot={
        <button type="button" className="plain accent" onClick={onClose}>
          Back to the decision
        </button>
      }
      busy={body.busyJobId !== null}
    />
  );
}

/** The tools that may be of use at this stop. */
export function ToolList({ onOpen }: { onOpen: (id: ToolId) => void }) {
  return (
    <nav className="toolList" aria-label="Also here">
      <div className="label">Also here</div>
      {toolIds.map((id) => (
        <button key={id} type="button" onClick={() => onOpen(id)} data-testid={`tool-${id}`}>
          <b>{descriptionOf(id).words.title}</b>
          <span>{toolOf(id).summary}</span>
        </button>
      ))}
    </nav>
  );
}
