import { Link } from 'react-router';
import type { DaysProject } from '@jasmorphe/contracts/dayViews';
import type { PlannedProject } from '@jasmorphe/core/planning/days/DaysPlan';
import { clockText, latenessText } from '@jasmorphe/core/planning/days/planWords';
import { whole } from '@jasmorphe/core/words/numbers';
import { useChangeProjectMutation } from '../app/api.ts';
import { Note } from '../ui/Note.tsx';
import { DueDate } from './DueDate.tsx';

/** A project with the day by which it is to be ready, and what is on no bedful of it yet. */
export function DueProject({ project, planned }: { project: DaysProject; planned: PlannedProject }) {
  const [change] = useChangeProjectMutation();
  return (
    <div className="dueProject">
      <DueDate
        label={`${project.name}, ready to paint by`}
        value={project.dueOn}
        onChange={(dueOn) => void change({ id: project.id, dueOn: dueOn ?? '' })}
      />
      {project.overdue && (
        <Note tone="failure">
          That day is past.{planned.ready !== null && ` It is ready on ${clockText(planned.ready)}.`}
        </Note>
      )}
      {planned.lateProbability !== null && (
        <small>
          Ready on {clockText(planned.ready)}. {latenessText(planned.lateProbability)}.
        </small>
      )}
      <Link to={`/project/${project.id}/book`}>Build book of {project.name}</Link>
      {project.loose.length > 0 && (
        <Note tone="attention">
          When {project.name} is ready nobody can tell.{' '}
          <Link to={`/project/${project.id}/layout`}>
            {whole(project.loose.length)} of it {project.loose.length === 1 ? 'is' : 'are'} in none of these bedfuls
          </Link>
          : {project.loose.join(', ')}.
        </Note>
      )}
    </div>
  );
}
