import { Link } from 'react-router';
import type { StageId, StageStop } from '../stages/Stage.ts';

const says: Record<StageStop['state'], string> = {
  done: 'done',
  attention: 'needs attention',
  stale: 'out of date',
  open: 'open',
  later: 'later',
};

/** The route across the top: eight stops, each with its one figure and its state. */
export function Route({ stops, stage, to }: { stops: StageStop[]; stage: StageId; to: (id: StageId) => string }) {
  return (
    <nav className="route" aria-label="Route">
      {stops.map((s) => (
        <Link
          key={s.id}
          to={to(s.id)}
          className={`stop ${s.state}${s.id === stage ? ' here' : ''}`}
          aria-current={s.id === stage ? 'step' : undefined}
          title={`${s.title}: ${says[s.state]}`}
        >
          <span className="stopMark" aria-hidden />
          <span className="stopName">{s.title}</span>
          <span className="stopFigure figure">{s.figure}</span>
          <span className="srOnly">{says[s.state]}</span>
        </Link>
      ))}
    </nav>
  );
}
