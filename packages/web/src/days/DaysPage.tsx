import LinearProgress from '@mui/material/LinearProgress';
import { useState } from 'react';
import { HomeHours } from '@jasmorphe/core/planning/days/HomeHours';
import { wordsOf } from '../app/api.ts';
import { useDaysQuery, useMoveBedfulMutation, useWantBedfulMutation } from '../app/daysApi.ts';
import { TopBar } from '../app/TopBar.tsx';
import { useTitle } from '../app/useTitle.ts';
import { Note } from '../ui/Note.tsx';
import { Toggles } from '../ui/Toggles.tsx';
import { useSettingsQuery } from '../workshop/workshopApi.ts';
import { DaysLayout } from './DaysLayout.ts';
import { DaysSide } from './DaysSide.tsx';
import { SpoolStrip } from './SpoolStrip.tsx';
import { movedBy } from './timeScale.ts';
import { Timeline } from './Timeline.tsx';

const spans = [7, 14, 28] as const;

/** Days of all printers and of their maker. */
export default function DaysPage() {
  useTitle('Days');
  const { data: view, error } = useDaysQuery(undefined, { pollingInterval: 300_000 });
  const { data: settings } = useSettingsQuery();
  const [want] = useWantBedfulMutation();
  const [move, moving] = useMoveBedfulMutation();
  const [chosen, choose] = useState<string | null>(null);
  const [span, setSpan] = useState<number>(7);
  const plan = view?.plan;
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
          <DaysSide view={view} picked={view.bedfuls.find((b) => b.id === chosen)} />
          <SpoolStrip plan={plan} />
        </DaysLayout>
      )}
    </div>
  );
}
