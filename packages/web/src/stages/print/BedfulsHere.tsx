import type { BodyView } from '@jasmorphe/contracts/views';
import { useBedfulsQuery, useDaysQuery } from '../../app/daysApi.ts';
import { BedfulAtMachine } from '../../days/BedfulAtMachine.tsx';

/** Bedfuls of a model that are on a bed, or could be started next: those that print, and the first of each printer that waits. */
export function BedfulsHere({ body }: { body: BodyView }) {
  const { data } = useBedfulsQuery(body.modelId);
  const { data: days } = useDaysQuery(undefined, { skip: !data || data.bedfuls.length === 0 });
  // the next one is the one whose day comes first
  const turn = (id: string): number => {
    const at = days?.plan?.days.findIndex((d) => d.id === id) ?? -1;
    return at < 0 ? Infinity : at;
  };
  const printing = data?.bedfuls.filter((b) => b.state === 'printing') ?? [];
  const next = (data?.bedfuls ?? [])
    .filter((b) => b.state === 'waiting' && !printing.some((p) => p.printerId === b.printerId))
    .sort((a, b) => turn(a.id) - turn(b.id) || a.number - b.number)
    .filter((b, i, all) => all.findIndex((c) => c.printerId === b.printerId) === i);
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
