import Button from '@mui/material/Button';
import { useRef, useState } from 'react';
import type { BodyView } from '@jasmorphe/contracts/views';
import { measuresOf, publishedMeasures } from '@jasmorphe/core/reference/makeReference';
import { referenceKinds, type ReferenceKind } from '@jasmorphe/core/reference/ReferenceBody';
import { anthropometrySource, percentiles, type Percentile } from '@jasmorphe/core/trade/anthropometry';
import { useAddReferenceMutation, useUploadReferenceMutation, wordsOf } from '../../app/api.ts';
import { isOpen, useJob } from '../../app/useJobs.ts';
import { useLength } from '../../app/useLength.ts';
import { Decision } from '../../decision/Decision.tsx';
import { ChoiceField, LengthField, TextField } from '../../forms/Fields.tsx';
import { useSaveBodyMutation, useSavedBodiesQuery } from '../../workshop/workshopApi.ts';
import { kindWords, measureWords } from './bodyWords.ts';
import { FilePicker } from '../../project/FilePicker.tsx';
import { BackToSize } from './BackToSize.tsx';

/** For whom? A body of a few measures, or the maker's own scan. */
export function NewBody({
  body,
  onDone,
  onClose,
}: {
  body: BodyView;
  /** back to the bodies there are; null when there is none */
  onDone: (() => void) | null;
  onClose: () => void;
}) {
  const length = useLength();
  const [kind, setKind] = useState<ReferenceKind>('head');
  const [percentile, setPercentile] = useState<Percentile>(50);
  const [of, setOf] = useState<'women' | 'men'>('women');
  const [own, setOwn] = useState<Record<string, number>>({});
  const [add, adding] = useAddReferenceMutation();
  const [upload, uploading] = useUploadReferenceMutation();
  const [jobId, setJobId] = useState<string | null>(null);
  const pick = useRef<() => void>(() => undefined);
  const job = useJob(jobId);
  const { data: saved = [] } = useSavedBodiesQuery();
  const [keep] = useSaveBodyMutation();
  const [name, setName] = useState('');
  const measures = { ...publishedMeasures(kind, of, percentile), ...own };
  const options = percentiles.map((p) => publishedMeasures(kind, of, p));
  const trouble = job?.error ?? (adding.error || uploading.error ? wordsOf(adding.error ?? uploading.error) : null);
  const busy = adding.isLoading || uploading.isLoading || (job !== undefined && isOpen(job));
  return (
    <Decision
      step="On a body"
      question="For whom is it?"
      lead="Start from a published size and correct what you can measure. Or bring a scan of your own. A reference is never printed."
      options={percentiles.map((p) => ({ name: p === 5 ? 'Small' : p === 50 ? 'Usual' : 'Large' }))}
      rows={Object.keys(measuresOf[kind]).map((name) => ({
        label: measureWords[name],
        cells: options.map((o) => length(o[name], false)),
        method: anthropometrySource,
      }))}
      chosen={percentiles.indexOf(percentile)}
      onChoose={(i) => setPercentile(percentiles[i])}
      advised={null}
      advice={
        trouble ? (
          <>
            <b>{trouble.message}</b> {trouble.hint}
          </>
        ) : (
          <>5th, 50th and 95th percentile. {anthropometrySource}.</>
        )
      }
      fields={
        <>
          {saved.length > 0 && (
            <ChoiceField
              label="Whose"
              value={saved.find((b) => b.name === name)?.id ?? ''}
              choices={[{ value: '', text: 'somebody new' }, ...saved.map((b) => ({ value: b.id, text: b.name }))]}
              onChange={(id) => {
                const one = saved.find((b) => b.id === id);
                setName(one?.name ?? '');
                setOwn(one?.measures ?? {});
                if (one) setKind(one.kind);
              }}
            />
          )}
          <ChoiceField
            label="Body"
            value={kind}
            onChange={(k) => {
              setKind(k);
              setOwn({});
            }}
            choices={referenceKinds.map((value) => ({ value, text: kindWords[value] }))}
          />
          <ChoiceField
            label="Table"
            value={of}
            onChange={setOf}
            choices={[
              { value: 'women', text: 'women' },
              { value: 'men', text: 'men' },
            ]}
          />
          {Object.entries(measures).map(([name, mm]) => (
            <LengthField
              key={name}
              label={measureWords[name]}
              mm={mm}
              above0
              onChange={(v) => v !== null && setOwn((o) => ({ ...o, [name]: v }))}
            />
          ))}
          <TextField label="Name" value={name} maxLength={80} onChange={setName} />
          {name.trim() !== '' && !saved.some((b) => b.name === name.trim()) && (
            <Button variant="text" onClick={() => void keep({ name: name.trim(), kind, measures: own })}>
              Keep {name.trim()} for all projects
            </Button>
          )}
          <Button variant="text" onClick={() => pick.current()} disabled={busy}>
            Bring a scan instead …
          </Button>
          <FilePicker
            open={pick}
            single
            testId="reference-file"
            onFiles={([file]) => {
              if (file)
                void upload({ bodyId: body.id, file })
                  .unwrap()
                  .then(
                    (j) => setJobId(j.id),
                    () => undefined,
                  );
            }}
          />
        </>
      }
      action={{
        label: busy ? 'Being made' : `Hold it against ${kindWords[kind]}`,
        disabled: busy,
        run: () =>
          void add({ bodyId: body.id, kind, measures, ...(name.trim() ? { name: name.trim() } : {}) })
            .unwrap()
            .then(
              (j) => setJobId(j.id),
              () => undefined,
            ),
      }}
      foot={
        onDone ? (
          <Button variant="text" onClick={onDone}>
            Back to the bodies
          </Button>
        ) : (
          <BackToSize onClose={onClose} />
        )
      }
      busy={false}
    />
  );
}
