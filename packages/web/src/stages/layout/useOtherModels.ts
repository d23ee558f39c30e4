import { useMemo } from 'react';
import type { BedfulView, LaidModelView } from '@jasmorphe/contracts/dayViews';
import type { BodyView } from '@jasmorphe/contracts/views';
import { useProjectQuery } from '../../app/api.ts';
import { useProjectBedsQuery } from '../../app/daysApi.ts';

/** The other models of a project with their parts that wait, and the bedfuls of all of it; none until they are there. */
export function useOtherModels({ projectId, modelId }: Pick<BodyView, 'projectId' | 'modelId'>): {
  models: readonly LaidModelView[];
  bedfuls: readonly BedfulView[];
} {
  const { data: project } = useProjectQuery(projectId);
  const { data } = useProjectBedsQuery(projectId, { skip: (project?.models.length ?? 1) < 2 });
  return useMemo(
    () => ({ models: data?.models.filter((m) => m.id !== modelId) ?? [], bedfuls: data?.bedfuls ?? [] }),
    [data, modelId],
  );
}
