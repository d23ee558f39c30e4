import { Link } from 'react-router';
import { findingSentence } from '@jasmorphe/core/inspect/findingWords';
import type { ProjectSummary } from '@jasmorphe/contracts/views';
import { lazyPart } from '../app/Boundary.tsx';
import { useAppSelector } from '../app/store.ts';
import { useLength } from '../app/useLength.ts';

const Portrait = lazyPart(() => import('./Portrait.tsx'));

/** A project on the shelf: its model drawn beside a 1.75 m figure, its size, its prints, its worries. */
export function ProjectCard({ project }: { project: ProjectSummary }) {
  const length = useLength();
  const unit = useAppSelector((s) => s.ui.unit);
  const model = project.models[0];
  const size = model?.sizeMm;
  return (
    <Link to={`/project/${project.id}`} className="card" data-testid="project-card">
      <div className="portrait">
        {model && size ? <Portrait hash={model.meshHash} sizeMm={size} /> : <span className="quiet">No model yet</span>}
      </div>
      <div className="cardBody">
        <h2>{project.name}</h2>
        <p className="quiet">{project.note}</p>
        {size && (
          <p className="figure">
            {length(size.x, false)} × {length(size.y, false)} × {length(size.z)}
          </p>
        )}
        {project.parts > 0 && (
          <p>
            <span className="bar" aria-hidden>
              <i style={{ width: `${(100 * project.printed) / project.parts}%` }} />
            </span>
            <span className="figure">
              {project.printed} of {project.parts} printed
            </span>
          </p>
        )}
        {project.trouble && <p className="attention">{project.trouble}</p>}
        {project.attention.slice(0, 2).map((a) => (
          <p key={a.key} className="attention">
            {findingSentence(a, unit)}
          </p>
        ))}
      </div>
    </Link>
  );
}
