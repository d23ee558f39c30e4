import Card from '@mui/material/Card';
import CardActionArea from '@mui/material/CardActionArea';
import LinearProgress from '@mui/material/LinearProgress';
import { Link } from 'react-router';
import { findingSentence } from '@jasmorphe/core/inspect/findingWords';
import type { ProjectSummary } from '@jasmorphe/contracts/views';
import { lazyPart } from '../app/Boundary.tsx';
import { useAppSelector } from '../app/store.ts';
import { useLength } from '../app/useLength.ts';
import { ProjectMenu } from './ProjectMenu.tsx';
import { daysLeft } from './shelfOrder.ts';

const Portrait = lazyPart(() => import('./Portrait.tsx'));

/** A project on the shelf: its model drawn beside a 1.75 m figure, its size, its prints, its worries. */
export function ProjectCard({ project, onAbout }: { project: ProjectSummary; onAbout: () => void }) {
  const length = useLength();
  const unit = useAppSelector((s) => s.ui.unit);
  const model = project.models[0];
  const size = model?.sizeMm;
  return (
    <Card className="card" data-testid="project-card">
      <ProjectMenu project={project} onAbout={onAbout} />
      <CardActionArea
        component={Link}
        to={project.pieces > 1 ? `/project/${project.id}/kit` : `/project/${project.id}`}
        disabled={project.removedAt !== null}
      >
        <div className="portrait">
          {model && size ? (
            <Portrait hash={model.meshHash} sizeMm={size} />
          ) : (
            <span className="quiet">No model yet</span>
          )}
        </div>
        <div className="cardBody">
          <h2>{project.name}</h2>
          <p className="quiet">{project.note}</p>
          {project.removedAt !== null && (
            <p className="attention">Taken off the shelf; {daysLeft(project.removedAt, 30)} days to put it back.</p>
          )}
          {project.pieces > 1 ? (
            <p className="figure">a kit of {project.pieces} pieces</p>
          ) : (
            size && (
              <p className="figure">
                {length(size.x, false)} × {length(size.y, false)} × {length(size.z)}
              </p>
            )
          )}
          {project.parts > 0 && (
            <p>
              <LinearProgress
                variant="determinate"
                value={(100 * project.printed) / project.parts}
                aria-hidden
                sx={{ display: 'inline-block', width: 90, mr: 1, verticalAlign: 'middle' }}
              />
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
      </CardActionArea>
    </Card>
  );
}
