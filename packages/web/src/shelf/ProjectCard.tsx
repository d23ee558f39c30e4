import Card from '@mui/material/Card';
import CardActionArea from '@mui/material/CardActionArea';
import LinearProgress from '@mui/material/LinearProgress';
import { styled } from '@mui/material/styles';
import { Link } from 'react-router';
import { findingSentence } from '@jasmorphe/core/inspect/findingWords';
import type { ProjectSummary } from '@jasmorphe/contracts/views';
import { lazyPart } from '../app/Boundary.tsx';
import { useAppSelector } from '../app/store.ts';
import { useLength } from '../app/useLength.ts';
import { ProjectMenu } from './ProjectMenu.tsx';
import { daysLeft } from './shelfOrder.ts';

const Portrait = lazyPart(() => import('./Portrait.tsx'));

const Drawn = styled('div')({
  height: 190,
  background: 'var(--bench)',
  borderBottom: '1px solid var(--line)',
  display: 'flex',
  alignItems: 'flex-end',
  justifyContent: 'center',
  gap: 4,
  padding: '10px 10px 8px',
  position: 'relative',
  overflow: 'hidden',
  '& img': {
    height: '100%',
    maxWidth: '76%',
    objectFit: 'contain',
    objectPosition: 'bottom',
    transformOrigin: '60% 86%',
  },
  '& .person': { fill: 'var(--ink3)', opacity: 0.4, flex: 'none' },
});

const Said = styled('div')({
  padding: '12px 14px 14px',
  display: 'grid',
  gap: 5,
  '& h2': { fontSize: 15, fontWeight: 650, fontStretch: '92%' },
  '& .attention': { color: 'var(--ochre)', borderLeft: '3px solid var(--ochre)', paddingLeft: 8 },
});

/** A project on the shelf: its model drawn beside a 1.75 m figure, its size, its prints, its worries. */
export function ProjectCard({ project, onAbout }: { project: ProjectSummary; onAbout: () => void }) {
  const length = useLength();
  const unit = useAppSelector((s) => s.ui.unit);
  const model = project.models[0];
  const size = model?.sizeMm;
  return (
    <Card sx={{ display: 'flex', position: 'relative' }} data-testid="project-card">
      <ProjectMenu project={project} onAbout={onAbout} />
      <CardActionArea
        component={Link}
        to={project.pieces > 1 ? `/project/${project.id}/kit` : `/project/${project.id}`}
        disabled={project.removedAt !== null}
      >
        <Drawn>
          {model && size ? (
            <Portrait hash={model.meshHash} sizeMm={size} />
          ) : (
            <span className="quiet">No model yet</span>
          )}
        </Drawn>
        <Said>
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
        </Said>
      </CardActionArea>
    </Card>
  );
}
