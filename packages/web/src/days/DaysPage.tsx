import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import { styled } from '@mui/material/styles';
import { useState } from 'react';
import { Link } from 'react-router';
import type { BedfulView, DaysProject, DaysView } from '@jasmorphe/contracts/dayViews';
import type { PlannedBedful } from '@jasmorphe/core/planning/days/DaysPlan';
import { HomeHours } from '@jasmorphe/core/planning/days/HomeHours';
import {
  clockText,
  hoursText,
  latenessText,
  notesText,
  planSays,
  recordText,
  spoolsFor,
} from '@jasmorphe/core/planning/days/planWords';
import { countOf, massText, secondsText } from '@jasmorphe/core/words/numbers';
import { useChangeProjectMutation, wordsOf } from '../app/api.ts';
import { lazyPart } from '../app/Boundary.tsx';
import { useDaysQuery, useOtherwiseQuery, useWantBedfulMutation } from '../app/daysApi.ts';
import { TopBar } from '../app/TopBar.tsx';
import { useTitle } from '../app/useTitle.ts';
import { Note } from '../ui/Note.tsx';
import { Toggles } from '../ui/Toggles.tsx';
import { useSettingsQuery } from '../workshop/workshopApi.ts';
import { BedfulAtMachine } from './BedfulAtMachine.tsx';
import { DueDate } from './DueDate.tsx';
import { movedBy } from './timeScale.ts';
import { Timeline } from './Timeline.tsx';
import { WhatIfTable } from './WhatIfTable.tsx';

const CutChart = lazyPart(() => import('./CutChart.tsx'));

const Layout = styled('div')({
  flex: 1,
  minHeight: 0,
  display: 'grid',
  gridTemplateColumns: 'minmax(0, 1fr) 340px',
  gridTemplateRows: 'minmax(0, 1fr) auto',
  '& .board': { display: 'flex', flexDirection: 'column', minWidth: 0, minHeight: 0 },
  '& .boardHead': {
    display: 'flex',
    gap: 14,
    alignItems: 'center',
    padding: '6px 14px',
    borderBottom: '1px solid var(--line2)',
  },
  '& .side': {
    borderLeft: '1px solid var(--line)',
    padding: 16,
    overflowY: 'auto',
    display: 'flex',
    flexDirection: 'column',
    gap: 12,
  },
  // what scrolls by itself would shrink to nothing
  '& .side > *': { flexShrink: 0 },
  '& .side ul': { margin: 0, paddingLeft: 16, display: 'grid', gap: 4 },
  '& .strip': {
    gridColumn: '1 / -1',
    borderTop: '1px solid var(--line)',
    padding: '8px 14px',
    display: 'flex',
    gap: 14,
    flexWrap: 'wrap',
    justifyContent: 'space-between',
  },
  '& .side a': { color: 'var(--verdigris)' },
  '& .whatIf': { overflowX: 'auto' },
  '& .whatIf td': { whiteSpace: 'nowrap', fontSize: 11 },
  '@media (max-width: 860px)': {
    display: 'block',
    overflowY: 'auto',
    '& .board': { height: 420 },
    '& .side': { borderLeft: 0, borderTop: '1px solid var(--line)', overflow: 'visible' },
  },
});

const spans = [7, 14, 28] as const;

/** The bedful that was picked: when, from which spool, and what is said of it at the printer. */
function Picked({ bedful, day, view }: { bedful: BedfulView; day: PlannedBedful | undefined; view: DaysView }) {
  const [want, { isLoading }] = useWantBedfulMutation();
  const project = view.projects.find((p) => p.id === bedful.projectId);
  const record = view.plan.records.find((r) => r.printer === day?.printer);
  return (
    <section className="picked" aria-label="The bedful that is picked">
      <div className="label accent">{project?.name}</div>
      <BedfulAtMachine bedful={bedful} />
      {day && (
        <ul>
          {!day.running && <li>Load it {clockText(day.loadAt)}</li>}
          {record && <li>Prints {hoursText(day.durationS, record)}</li>}
          {day.looks.map((l) => (
            <li key={l.at}>
              Look again {clockText(l.at)}, at {Math.round(100 * l.share)} %
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

/** A project with the day by which it is to be ready, and what is on no bedful of it yet. */
function Project({ project, view }: { project: DaysProject; view: DaysView }) {
  const [change] = useChangeProjectMutation();
  const at = view.projects.indexOf(project);
  const planned = view.plan.projects[at];
  return (
    <div className="dueProject">
      <DueDate
        label={`${project.name}, ready to paint by`}
        value={project.dueOn}
        onChange={(dueOn) => void change({ id: project.id, dueOn: dueOn ?? '' })}
      />
      {project.overdue && (
        <Note tone="failure">That day is past. It is ready on {clockText(planned?.ready ?? null)}.</Note>
      )}
      {planned?.lateProbability !== null && planned !== undefined && (
        <small>
          Ready on {clockText(planned.ready)}. {latenessText(planned.lateProbability)}.
        </small>
      )}
      <Link to={`/project/${project.id}/book`}>Build book of {project.name}</Link>
      {project.loose.length > 0 && (
        <Note tone="attention">
          <Link to={`/project/${project.id}/layout`}>
            {countOf(project.loose.length, 'part')} of {project.name}{' '}
            {project.loose.length === 1 ? 'is on no bedful' : 'are on no bedful'} that waits
          </Link>{' '}
          and not in this plan: {project.loose.slice(0, 12).join(' ')}
          {project.loose.length > 12 && ' …'}
        </Note>
      )}
    </div>
  );
}

/** Days of all printers and of their maker. */
export default function DaysPage() {
  useTitle('Days');
  const { data: view, error } = useDaysQuery(undefined, { pollingInterval: 300_000 });
  const { data: otherwise } = useOtherwiseQuery(undefined, { skip: !view || view.plan.days.length === 0 });
  const { data: settings } = useSettingsQuery();
  const [want] = useWantBedfulMutation();
  const [chosen, choose] = useState<string | null>(null);
  const [span, setSpan] = useState<number>(7);
  const bedful = view?.bedfuls.find((b) => b.id === chosen);
  const plan = view?.plan;
  const undone = view?.bedfuls.filter((b) => b.state !== 'done' && !plan?.days.some((d) => d.id === b.id)) ?? [];
  return (
    <div className="page">
      <TopBar>
        <span className="slash">/</span>
        <b>Days</b>
        <span className="label quiet">All projects</span>
      </TopBar>
      {error !== undefined && (
        <main className="shelf">
          <Note tone="failure">
            <b>{wordsOf(error).message}</b> {wordsOf(error).hint}
          </Note>
        </main>
      )}
      {!view && error === undefined && <LinearProgress aria-label="Loading" />}
      {view && plan && (
        <Layout>
          <main className="board">
            <div className="boardHead">
              <Toggles
                label="Days across the window"
                head="Days across"
                choices={spans.map((n) => ({ value: String(n), text: String(n) }))}
                on={[String(span)]}
                onToggle={(n) => setSpan(Number(n))}
              />
              <span className="quiet">
                Drag a bedful, or move it by an hour with ← →; what is behind it follows. The thick line decides the
                day.
              </span>
            </div>
            {plan.days.length === 0 ? (
              <p className="emptyState">
                No bedful waits. Lay a model’s parts out, choose what goes on which bed at Lay out, and keep it: it
                stands here then.
              </p>
            ) : (
              <Timeline
                view={view}
                home={settings ?? new HomeHours()}
                days={span}
                chosen={chosen}
                onChoose={choose}
                onMove={(day, hours) => {
                  const of = view.bedfuls.find((b) => b.id === day.id);
                  if (of)
                    void want({ id: of.id, modelId: of.modelId, wantedAt: movedBy(day.loadAt!, of.wantedAt, hours) });
                }}
              />
            )}
          </main>
          <aside className="side">
            {bedful && <Picked bedful={bedful} day={plan.days.find((d) => d.id === bedful.id)} view={view} />}
            <div className="label accent">Days</div>
            <h2 className="question">Ready by when?</h2>
            {plan.days.length > 0 && <p>{planSays(plan)}</p>}
            {notesText(plan.notes).map(({ severity, text }) =>
              severity === 'note' ? (
                <small key={text}>{text}</small>
              ) : (
                <Note key={text} tone={severity}>
                  {text}
                </Note>
              ),
            )}
            {undone.length > 0 && (
              <Note tone="attention">
                Not in this plan, since they are not as they were kept, or another is on their bed:{' '}
                {undone.map((b, i) => (
                  <span key={b.id}>
                    {i > 0 && ', '}
                    <Link to={`/project/${b.projectId}/layout?model=${b.modelId}`}>bedful {b.number}</Link>
                  </span>
                ))}
                .
              </Note>
            )}
            {plan.days.length > 0 && <WhatIfTable plan={plan} others={otherwise?.whatIfs ?? []} />}
            {view.projects.map((p) => (
              <Project key={p.id} project={p} view={view} />
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
                  <b>{r.printer}</b>: {recordText(r)}.
                </small>
              ))}
            {plan.days.length > 0 && (
              <Button variant="outlined" href="/api/days/calendar.ics" download>
                Take the days to a calendar
              </Button>
            )}
            <small>
              Unattended or overnight only with working thermal protection and a smoke alarm. When you are there, and
              what goes on at night: <Link to="/workshop/settings">settings</Link>.
            </small>
          </aside>
          <footer className="strip figure">
            <span>
              <span className="label">On the shelf</span>{' '}
              {plan.spools.length === 0
                ? 'no spool or bottle is listed'
                : plan.spools
                    .map(
                      (s) =>
                        `${s.name} ${massText(s.leftG + s.usedG)}${s.usedG > 0 ? `, ${massText(s.leftG)} then` : ''}`,
                    )
                    .join(' · ')}
            </span>
            <span>
              {plan.buy.length === 0
                ? 'Nothing to buy'
                : `To buy: ${plan.buy
                    .map(
                      (b) =>
                        `${[b.colour, b.material || b.kind].filter(Boolean).join(' ')} ${massText(b.grams)} (${countOf(spoolsFor(b.grams), b.kind === 'resin' ? 'bottle' : 'spool')} of 1 kg; ${massText(b.allowanceG)} of it for failures)`,
                    )
                    .join(' · ')}`}
              {plan.days.length > 0 && ` · ${secondsText(plan.handsS)} of your own`}
            </span>
          </footer>
        </Layout>
      )}
    </div>
  );
}
