import Button from '@mui/material/Button';
import { Link } from 'react-router';
import type { BedfulView, DaysView } from '@jasmorphe/contracts/dayViews';
import { notesText, planSays, rateIn, recordText } from '@jasmorphe/core/planning/days/planWords';
import { hrefOf } from '../app/addresses.ts';
import { lazyPart } from '../app/Boundary.tsx';
import { useOtherwiseQuery } from '../app/daysApi.ts';
import { Note } from '../ui/Note.tsx';
import { DueProject } from './DueProject.tsx';
import { PickedBedful } from './PickedBedful.tsx';
import { WhatIfTable } from './WhatIfTable.tsx';

const CutChart = lazyPart(() => import('./CutChart.tsx'));

/** When all is ready, what speaks against it, what would change it; and the bedful that is picked. */
export function DaysSide({ view, picked }: { view: DaysView; picked: BedfulView | undefined }) {
  const { plan } = view;
  const { data: otherwise } = useOtherwiseQuery(undefined, { skip: plan.days.length === 0 });
  const left = view.bedfuls.filter((b) => b.state !== 'done' && !plan.days.some((d) => d.id === b.id));
  return (
    <aside className="side">
      {picked && <PickedBedful bedful={picked} day={plan.days.find((d) => d.id === picked.id)} view={view} />}
      <div className="label accent">Days</div>
      <h2 className="question">Ready by when?</h2>
      {plan.days.length > 0 && <p>{planSays(plan)}</p>}
      {/* what is on no bedful is told with its project */}
      {notesText(plan.notes.filter((n) => n.kind !== 'without')).map(({ severity, text }) =>
        severity === 'note' ? (
          <small key={text}>{text}</small>
        ) : (
          <Note key={text} tone={severity}>
            {text}
          </Note>
        ),
      )}
      {view.leftOut.map((text) => (
        <Note key={text} tone="attention">
          {text}
        </Note>
      ))}
      {left.length > 0 && (
        <Note tone="attention">
          Not in this plan, since they are not as they were kept, or another is on their bed:{' '}
          {left.map((b, i) => (
            <span key={b.id}>
              {i > 0 && ', '}
              <Link to={`/project/${b.projectId}/layout?model=${b.modelId}`}>bedful {b.number}</Link>
            </span>
          ))}
          .
        </Note>
      )}
      {plan.days.length > 0 && <WhatIfTable plan={plan} others={otherwise?.whatIfs ?? []} />}
      {view.projects.map((p, i) => (
        // the plan tells of projects in the order in which they were asked for
        <DueProject key={p.id} project={p} planned={plan.projects[i]} />
      ))}
      {otherwise?.curves.slice(0, 3).map((c) => (
        <div key={c.projectId}>
          {view.projects.length > 1 && (
            <div className="label">{view.projects.find((p) => p.id === c.projectId)?.name}</div>
          )}
          <CutChart curve={c} />
        </div>
      ))}
      {plan.records
        .filter((r) => plan.days.some((d) => d.printer === r.printer))
        .map((r) => (
          <small key={r.printer}>
            <b>{r.printer}</b>: {recordText(rateIn(r))}.
          </small>
        ))}
      {plan.days.length > 0 && (
        <Button variant="outlined" href={hrefOf('GET /days/calendar.ics')} download>
          Take the days to a calendar
        </Button>
      )}
      <small>
        Unattended or overnight only with working thermal protection and a smoke alarm. When you are there, and what
        goes on at night: <Link to="/workshop/settings">settings</Link>.
      </small>
    </aside>
  );
}
