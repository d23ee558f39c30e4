import { useEffect } from 'react';
import type { BodyView, PartView, PrinterView } from '@jasmorphe/contracts/views';
import { useAddLogMutation, useLogQuery } from '../../app/api.ts';
import { useLength } from '../../app/useLength.ts';
import { useAppDispatch, useAppSelector } from '../../app/store.ts';
import { pickPart } from '../../bench/benchSlice.ts';
import { AtTheMachine } from './AtTheMachine.tsx';
import { outcomeWords } from './printWords.ts';
import { RecutDesk } from './RecutDesk.tsx';

/** The part that the print stop is about: the one picked, or else what needs a hand most. */
export function partInHand(body: BodyView, picked: string | null): PartView | undefined {
  const first = (state: PartView['state']) => body.parts.find((p) => p.state === state);
  return (
    body.parts.find((p) => p.id === picked) ??
    first('failed') ??
    first('printing') ??
    body.parts.find((p) => p.rests > 0 && p.state === 'planned') ??
    first('planned') ??
    body.parts[0]
  );
}

/** The print stop: states of the parts, the log, and what to do with a part that stopped. */
export function PrintDecision({ body, printers }: { body: BodyView; printers: PrinterView[] }) {
  const dispatch = useAppDispatch();
  const partId = useAppSelector((s) => s.bench.partId);
  const { data: log = [] } = useLogQuery(body.projectId);
  const [add, adding] = useAddLogMutation();
  const length = useLength();
  const part = partInHand(body, partId);
  const inHand = part?.id;
  useEffect(() => {
    if (!partId && inHand) dispatch(pickPart(inHand));
  }, [inHand, partId, dispatch]);
  if (!part)
    return (
      <section className="decision" aria-label="Decision">
        <div className="label accent">Print</div>
        <h2 className="question">There is nothing to print yet</h2>
        <p className="lead" data-testid="later">
          Divide the model into parts that fit a bed; what fits whole becomes one part. Each is then started, passed or
          stopped at a height here.
        </p>
      </section>
    );
  const mine = log.filter((e) => e.modelId === body.id && e.outcome !== 'withdrawn');
  return (
    <>
      {part.state === 'failed' ? (
        <RecutDesk key={part.id + part.mesh.hash} part={part} body={body} printers={printers} />
      ) : (
        <AtTheMachine key={part.id + part.mesh.hash} part={part} body={body} printers={printers} />
      )}
      <div className="logList">
        <div className="label">Print log</div>
        {mine.length === 0 && <p className="quiet">Nothing printed yet.</p>}
        {mine.slice(0, 14).map((e) => (
          <p key={e.id} className={`${e.outcome}${e.withdrawn ? ' withdrawn' : ''}`}>
            <b>{e.tag}</b> {outcomeWords[e.outcome]}
            {e.heightMm !== null && ` at ${length(e.heightMm)}`}
            <span className="figure"> {e.at.slice(0, 10)}</span>
            {e.note && <small> {e.note}</small>}
            {e.withdrawn ? (
              <small>taken back</small>
            ) : (
              <button
                type="button"
                className="plain tiny"
                aria-label={`Take back: ${e.tag} ${outcomeWords[e.outcome]}`}
                disabled={adding.isLoading}
                onClick={() =>
                  void add({
                    projectId: body.projectId,
                    modelId: body.id,
                    partId: e.partId,
                    outcome: 'withdrawn',
                    correctsId: e.id,
                  })
                }
              >
                take back
              </button>
            )}
          </p>
        ))}
      </div>
    </>
  );
}
