import Button from '@mui/material/Button';
import { Link } from 'react-router';
import type { BedfulView, DaysView } from '@jasmorphe/contracts/dayViews';
import type { PlannedBedful } from '@jasmorphe/core/planning/days/DaysPlan';
import { clockText, hoursText } from '@jasmorphe/core/planning/days/planWords';
import { massText, secondsText } from '@jasmorphe/core/words/numbers';
import { useWantBedfulMutation } from '../app/daysApi.ts';
import { BedfulAtMachine } from './BedfulAtMachine.tsx';

/** The bedful that was picked: when, from which spool, and what is said of it at the printer. */
export function PickedBedful({
  bedful,
  day,
  view,
}: {
  bedful: BedfulView;
  day: PlannedBedful | undefined;
  view: DaysView;
}) {
  const [want, { isLoading }] = useWantBedfulMutation();
  const project = view.projects.find((p) => p.id === bedful.projectId);
  return (
    <section className="picked" aria-label="The bedful that is picked">
      <div className="label accent">{project?.name}</div>
      <BedfulAtMachine bedful={bedful} />
      {day && (
        <ul>
          {!day.running && <li>Load it {clockText(day.loadAt)}</li>}
          <li>Prints {hoursText(day)}</li>
          <li>{secondsText(day.expectedS)} in the mean, with what fails and begins anew</li>
          {day.looks.map((l) => (
            <li key={l.at}>
              Look again {clockText(l.at)}, at {Math.round(100 * l.share)} %
            </li>
          ))}
          {day.stops.map((s) => (
            <li key={s.at + s.says}>
              Stops {clockText(s.at)}: {s.says}
              {s.waitsS > 900 && `, ${secondsText(s.waitsS)} after it came to it`}
            </li>
          ))}
          <li>
            Printed by {clockText(day.endsAt)}, off {clockText(day.offAt)}
          </li>
          {day.draws.map((w) => (
            <li key={w.spool}>
              {massText(w.grams)} from {w.spool}
              {w.attended ? '' : `, from ${clockText(w.at)} on, when nobody is there`}
            </li>
          ))}
        </ul>
      )}
      {bedful.wantedAt !== null && bedful.state === 'waiting' && (
        <Button
          variant="outlined"
          disabled={isLoading}
          onClick={() => void want({ id: bedful.id, modelId: bedful.modelId, wantedAt: null })}
        >
          Leave its day to the plan
        </Button>
      )}
      <Link to={`/project/${bedful.projectId}/layout?model=${bedful.modelId}`}>Its bedfuls at Lay out</Link>
    </section>
  );
}
