import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import { useState } from 'react';
import { Link } from 'react-router';
import { HomeHours } from '@jasmorphe/core/planning/days/HomeHours';
import { notesText, planSays, rateIn, recordText, spoolsFor } from '@jasmorphe/core/planning/days/planWords';
import { countOf, massText, secondsText } from '@jasmorphe/core/words/numbers';
import { wordsOf } from '../app/api.ts';
import { lazyPart } from '../app/Boundary.tsx';
import { useDaysQuery, useMoveBedfulMutation, useOtherwiseQuery, useWantBedfulMutation } from '../app/daysApi.ts';
import { TopBar } from '../app/TopBar.tsx';
import { useTitle } from '../app/useTitle.ts';
import { Note } from '../ui/Note.tsx';
import { Toggles } from '../ui/Toggles.tsx';
import { useSettingsQuery } from '../workshop/workshopApi.ts';
import { DaysLayout } from './DaysLayout.ts';
import { DueProject } from './DueProject.tsx';
import { PickedBedful } from './PickedBedful.tsx';
import { movedBy } from './timeScale.ts';
import { Timeline } from './Timeline.tsx';
import { WhatIfTable } from './WhatIfTable.tsx';

const CutChart = lazyPart(() => import('./CutChart.tsx'));

const spans = [7, 14, 28] as const;

/** Days of all printers and of their maker. */
export default function DaysPage() {
  useTitle('Days');
  const { data: view, error } = useDaysQuery(undefined, { pollingInterval: 300_000 });
  const { data: otherwise } = useOtherwiseQuery(undefined, { skip: !view || view.plan.days.length === 0 });
  const { data: settings } = useSettingsQuery();
  const [want] = useWantBedfulMutation();
  const [move, moving] = useMoveBedfulMutation();
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
        <DaysLayout>
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
                Drag a bedful, also to another printer, or move it with ← → ↑ ↓; what is behind it follows. The thick
                line decides the day.
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
                onSend={(day, printerId, hours) => {
                  const of = view.bedfuls.find((b) => b.id === day.id);
                  if (!of || moving.isLoading) return;
                  const wantedAt = hours === 0 ? {} : { wantedAt: movedBy(day.loadAt!, of.wantedAt, hours) };
                  // one in its place has another id
                  void move({ id: of.id, modelId: of.modelId, printerId, ...wantedAt }).then(
                    (a) => 'data' in a && a.data && chosen === of.id && choose(a.data.id),
                  );
                }}
              />
            )}
          </main>
          <aside className="side">
            {bedful && <PickedBedful bedful={bedful} day={plan.days.find((d) => d.id === bedful.id)} view={view} />}
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
        </DaysLayout>
      )}
    </div>
  );
}
