import Button from '@mui/material/Button';
import { useEffect, useState } from 'react';
import { useController, type FieldValues } from 'react-hook-form';
import type { BodyView } from '@jasmorphe/contracts/views';
import { mmPerUnit } from '@jasmorphe/core/formats/units';
import { descriptionOf } from '@jasmorphe/core/operations/catalogue';
import { useRunStepMutation, wordsOf } from '../app/api.ts';
import { useSpeaker } from '../app/useLength.ts';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { askForPoints } from '../bench/benchSlice.ts';
import { CompareTools } from '../bench/CompareTools.tsx';
import { Decision } from '../decision/Decision.tsx';
import { usePreviews } from '../decision/usePreviews.ts';
import { NumberField } from '../forms/Fields.tsx';
import { ParamFields, ParamLength, ParamNumber } from '../forms/ParamFields.tsx';
import { useParamsForm } from '../forms/useParamsForm.ts';
import type { ToolField } from './Tool.ts';
import { toolOf, type ToolId } from './tools.ts';

/** Above this only the answer that is chosen is worked out. */
const atOnce = 400_000;

/** A number that stands for no param of its own, such as a side of a box. */
function FreeNumber({ field: { id, label, hint, unit = 'mm', value } }: { field: ToolField }) {
  const { field } = useController<FieldValues>({ name: id });
  const shown = useAppSelector((s) => s.ui.unit);
  const per = unit === 'mm' ? mmPerUnit[shown] : 1;
  const now = (field.value as number | null | undefined) ?? null;
  return (
    <NumberField
      label={`${label}, ${unit === 'mm' ? shown : unit}`}
      hint={hint}
      value={now === null ? null : now / per}
      onChange={(v) => field.onChange(v === null ? null : v * per)}
      optional={value === null}
    />
  );
}

function Field({ field }: { field: ToolField }) {
  if (!field.param) return <FreeNumber field={field} />;
  const line = { name: field.id, label: field.label, hint: field.hint };
  return field.param.shape === 'length' ? <ParamLength {...line} /> : <ParamNumber {...line} />;
}

/** A tool as a decision: its answers worked out side by side, one button to do it. */
export default function ToolDecision({
  body,
  toolId,
  onClose,
}: {
  body: BodyView;
  toolId: ToolId;
  onClose: () => void;
}) {
  const tool = toolOf(toolId);
  const { words, shows, params: Params } = descriptionOf(toolId);
  const dispatch = useAppDispatch();
  const say = useSpeaker();
  const bench = useAppSelector((s) => s.bench);
  const fields = tool.fields(body);
  const form = useParamsForm<FieldValues>(Params, Object.fromEntries(fields.map((f) => [f.id, f.value ?? undefined])));
  const values = Object.fromEntries(
    fields.map((f) => [f.id, (form.values[f.id] as number | null | undefined) ?? null]),
  );
  const options = tool.options(body, values, bench, say);
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
  const advice = () => {
    if (adding.error)
      return (
        <>
          <b>{wordsOf(adding.error).message}</b> {wordsOf(adding.error).hint}
        </>
      );
    if (option.params === null) return option.wants;
    return ready ? words.says?.(ready.report, say) : 'Being worked out on this mesh.';
  };
  return (
    <Decision
      step={words.title}
      question={tool.question}
      lead={tool.lead}
      options={options.map((o, i) => ({ name: o.name, preview: previews[i] }))}
      rows={(words.rows ?? []).map((row) => ({
        label: row.label,
        method: row.method,
        cells: previews.map((p) => (p.state === 'ready' ? row.of(p.step.report, say) : null)),
      }))}
      chosen={chosen}
      onChoose={setChosen}
      advised={tool.advised(body)}
      advice={advice()}
      look={shows === 'skin' && ready && <CompareTools before={body.mesh.hash} after={ready.outputs[0]} />}
      fields={
        <ParamFields of={form}>
          {fields.map((f) => (
            <Field key={f.id} field={f} />
          ))}
        </ParamFields>
      }
      action={{
        label: words.button,
        disabled: adding.isLoading || option.params === null || preview.state === 'failed',
        run: () =>
          void add({ bodyId: body.id, operation: tool.id, params: option.params! })
            .unwrap()
            .then(onClose, () => undefined),
      }}
      foot={
        <Button variant="text" onClick={onClose}>
          Back to the decision
        </Button>
      }
      busy={body.busyJobId !== null}
    />
  );
}
