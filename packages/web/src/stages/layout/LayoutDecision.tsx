import type { StageProps } from '../Stage.ts';
import { useHeldPart } from '../useHeldPart.ts';
import { Bedfuls } from './Bedfuls.tsx';
import { LayAll } from './LayAll.tsx';
import { partToLay } from './partToLay.ts';
import { PoseDecision } from './PoseDecision.tsx';

/** Lay out: how each part lies on its bed. */
export function LayoutDecision({ body, printers }: StageProps) {
  const part = useHeldPart((picked) => partToLay(body, picked));
  if (!part)
    return (
      <section className="decision" aria-label="Decision">
        <div className="label accent">Lay out</div>
        <h2 className="question">There are no parts yet</h2>
        <p className="lead" data-testid="later">
          Divide the model into parts that fit a bed; what fits whole becomes one part. How each lies, what it needs in
          support and how long it prints is worked out here.
        </p>
      </section>
    );
  return (
    <PoseDecision
      key={part.id + part.mesh.hash}
      part={part}
      body={body}
      printers={printers}
      below={
        <>
          <LayAll body={body} printers={printers} />
          <Bedfuls body={body} printers={printers} />
        </>
      }
    />
  );
}
