import Button from '@mui/material/Button';
import { useRef, useState } from 'react';
import type { BodyView } from '@jasmorphe/contracts/views';
import { measuresOf, publishedMeasures } from '@jasmorphe/core/reference/makeReference';
import { referenceKinds, type ReferenceKind } from '@jasmorphe/core/reference/ReferenceBody';
import { anthropometrySource, percentiles, type Percentile } from '@jasmorphe/core/trade/anthropometry';
import { useAddReferenceMutation, useJobsQuery, useUploadReferenceMutation, wordsOf } from '../../app/api.ts';
import { useLength } from '../../app/useLength.ts';
import { Decision } from '../../decision/Decision.tsx';
import { ChoiceField, LengthField } from '../../forms/Fields.tsx';
import { FilePicker } from '../../project/FilePicker.tsx';
import { BackToSize } from './BackToSize.tsx';

const kindWords: Record<ReferenceKind, string> = {
  head: 'a head',
  hand: 'a hand',
  standing: 'a person standing',
  seated: 'a person seated',
};

const measureWords: Record<string, string> = {
  girth: 'Girth, above the brows',
  length: 'Length',
  breadth: 'Breadth',
  height: 'Height, chin to top',
  eyesApart: 'Between the pupils',
  stature: 'Stature',
  shoulderBreadth: 'Shoulders across',
  hipBreadth: 'Hips across',
  sittingHeight: 'Seat to top of the head',
  kneeHollow: 'Floor to knee hollow',
  seatToKnee: 'Back of the seat to knee',
};

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
  const { data: jobs = [] } = useJobsQuery();
  const [jobId, setJobId] = useState<string | null>(null);
  const pick = useRef<() => void>(() => undefined);
  const job = jobs.find((j) => j.id === jobId);
  const measures = { ...publishedMeasures(kind, of, percentile), ...own };
  const options = percentiles.map((p) => publishedMeasures(kind, of, p));
  const trouble = job?.error ?? (adding.error || uploading.error ? wordsOf(adding.error ?? uploading.error) : null);
  const busy = adding.isLoading || uploading.isLoading || job?.state === 'queued' || job?.state === 'running';
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
              onChange={(v) => v && setOwn((o) => ({ ...o, [name]: v }))}
            />
          ))}
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
          void add({ bodyId: body.id, kind, measures })
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
