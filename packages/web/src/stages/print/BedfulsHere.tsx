import type { BodyView } from '@jasmorphe/contracts/views';
import { useBedfulsQuery } from '../../app/daysApi.ts';
import { BedfulAtMachine } from '../../days/BedfulAtMachine.tsx';

/** Bedfuls of a model that are on a bed, or could be started next: those that print, and the first of each printer that waits. */
export function BedfulsHere({ body }: { body: BodyView }) {
  const { data } = useBedfulsQuery(body.modelId);
  const printing = data?.bedfuls.filter((b) => b.state === 'printing') ?? [];
  const next = (data?.bedfuls ?? []).filter(
    (b, i, all) =>
      b.state === 'waiting' &&
      !printing.some((p) => p.printerId === b.printerId) &&
      all.findIndex((c) => c.state === 'waiting' && c.printerId === b.printerId) === i,
  );
  if (printing.length + next.length === 0) return null;
  return (
    <section className="decision" aria-label="Bedfuls">
      <div className="label accent">What is on the bed now?</div>
      {[...printing, ...next].map((b) => (
        <BedfulAtMachine key={b.id} bedful={b} />
      ))}
    </section>
  );
}
