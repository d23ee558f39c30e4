import { randomUUID } from 'node:crypto';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import { jobKind, share, type Outcome, type Progress } from '../JobKind.ts';
import { newModel } from './newModel.ts';

/** A file of more objects than this is one model. */
const mostObjects = 200;

/** Reads a file into a model, or into one for each of its objects. Models stand in the order of the drop, not in that in which they were read. */
export const importFile = jobKind({
  kind: 'import',
  async run({ library, steps, job, row, progress }, payload) {
    const { projectId, sourceHash, fileName } = payload;
    await library.projects.mustExist(projectId);
    const read = (params: Record<string, unknown>, part: Progress) =>
      steps.run(
        job,
        { operation: catalogue.import.name, params },
        [`source:${sourceHash}`],
        { hash: sourceHash, name: fileName },
        part,
      );
    const whole = await read(payload.params, progress);
    const { objects, words } = whole.step.report;
    const stem = fileName.replace(/\.[^.]+$/, '') || fileName;
    const model = (name: string, place: number) => ({
      id: randomUUID(),
      projectId,
      name: name.slice(0, 120),
      sourceName: fileName,
      sourceHash,
      path: payload.path,
      copies: payload.copies,
      licence:
        payload.licence || [words?.licence, words?.designer && `by ${words.designer}`].filter(Boolean).join(', '),
      createdAt: new Date(Date.parse(row.createdAt) + place).toISOString(),
    });
    if (payload.objects !== 'apart' || objects.length < 2 || objects.length > mostObjects)
      return newModel(library, whole, model(stem, 0));
    const outcomes: Outcome[] = [];
    for (let i = 0; i < objects.length; i++) {
      const part = share(progress, i / objects.length, (i + 1) / objects.length);
      const made = await read({ ...payload.params, object: i }, part);
      outcomes.push(newModel(library, made, model(`${stem} ${objects[i].name}`, i)));
    }
    return {
      ...outcomes[0],
      statements: outcomes.flatMap((o) => o.statements),
      relied: { ...outcomes[0].relied, meshes: outcomes.flatMap((o) => o.relied.meshes ?? []) },
    };
  },
});
