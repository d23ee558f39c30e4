import { and, asc, eq, inArray } from 'drizzle-orm';
import { isStepOf, lastStepOf, meshHashAfter, type StepOf } from '@jasmorphe/contracts/steps';
import type { BodyView, DismissalView, ReferenceView } from '@jasmorphe/contracts/views';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import { Refusal } from './Refusal.ts';
import type { Bodies, Body } from './Bodies.ts';
import type { Reading } from './database.ts';
import { grouped } from './grouped.ts';
import type { Meshes } from './Meshes.ts';
import { isNamed, rowsOf } from './named.ts';
import type { Parts } from './Parts.ts';
import { referenceView } from './References.ts';
import { dismissals, jobs, joints, models, references, tipTicks } from './schema.ts';
import { StoreError } from './troubles.ts';

/** What is asked for with every view. */
const queriesOf = (db: Reading) => ({
  dismissals: db.query.dismissals.findMany({ where: isNamed(dismissals.bodyId) }).prepare(),
  joints: db.select().from(joints).where(isNamed(joints.bodyId)).prepare(),
  tips: db.select().from(tipTicks).where(isNamed(tipTicks.bodyId)).prepare(),
  references: db.query.references
    .findMany({ where: isNamed(references.modelId), orderBy: asc(references.createdAt) })
    .prepare(),
  busy: db
    .select({ id: jobs.id, bodyId: jobs.bodyId })
    .from(jobs)
    .where(and(isNamed(jobs.bodyId), eq(jobs.kind, 'line'), inArray(jobs.state, ['queued', 'running'])))
    .prepare(),
});

/** A row of what was ticked off, by its body. */
const keyOfTick = ({ bodyId, key }: { bodyId: string; key: string }): [string, string] => [bodyId, key];

/** What a page shows of bodies, read in the same number of queries however many there are. */
export class BodyViews {
  private readonly queries: ReturnType<typeof queriesOf>;

  constructor(
    private readonly db: Reading,
    private readonly bodies: Bodies,
    private readonly meshes: Meshes,
    private readonly parts: Parts,
  ) {
    this.queries = queriesOf(db);
  }

  /** @throws Refusal `not-found`; StoreError where part of it cannot be read */
  async view(id: string): Promise<BodyView> {
    const found = (await this.viewsOf([id])).get(id);
    if (!found) throw Refusal.notFound('model or part', id);
    if (found instanceof Error) throw found;
    return found;
  }

  /** Bodies on record among those named; one that cannot be read has the error in its place. */
  async viewsOf(ids: readonly string[]): Promise<Map<string, BodyView | Error>> {
    const found = await this.bodies.bodiesOf(ids);
    const whole = [...found.values()].filter((b): b is Body => !(b instanceof Error));
    const hashes = new Map<string, string | Error>(
      whole.map((b) => {
        try {
          return [b.id, this.bodies.meshAfter(b, b.cursor)];
        } catch (error) {
          return [b.id, error as Error];
        }
      }),
    );
    const divided = new Map<string, StepOf<'divide'>>();
    for (const b of whole) {
      const step = b.kind === 'model' ? lastStepOf(b.line, b.cursor, catalogue.divide) : undefined;
      if (step) divided.set(b.id, step);
    }
    const meshes = await this.meshes.meshesOf([...hashes.values()].filter((h) => typeof h === 'string'));
    const parts = await this.parts.viewsOf(divided);
    const aside = await this.dismissalsOf(ids);
    const joined = grouped(await rowsOf(this.queries.joints, ids), keyOfTick);
    const tipsDone = grouped(await rowsOf(this.queries.tips, ids), keyOfTick);
    const own = await this.referencesOf(ids);
    const busy = await this.busyOf(ids);
    const out = new Map<string, BodyView | Error>();
    for (const [id, body] of found) {
      const hash = hashes.get(id);
      const ofParts = parts.get(id) ?? [];
      const mesh = typeof hash === 'string' ? meshes.get(hash) : undefined;
      if (body instanceof Error) out.set(id, body);
      else if (hash instanceof Error) out.set(id, hash);
      else if (ofParts instanceof Error) out.set(id, ofParts);
      else if (!mesh) out.set(id, new StoreError('database-damaged', `mesh ${hash?.slice(0, 12)} is not on record`));
      else
        out.set(id, {
          id,
          kind: body.kind,
          projectId: body.projectId,
          modelId: body.model.id,
          name: body.part ? body.part.tag : body.model.name,
          sourceName: body.model.sourceName,
          path: body.model.path,
          copies: body.model.copies,
          colour: body.model.colour,
          aside: body.model.aside,
          licence: body.model.licence,
          terms: body.model.terms,
          source: body.model.source,
          line: body.line,
          cursor: body.cursor,
          canUndo: body.seq > 1,
          canRedo: body.canRedo,
          mesh,
          parts: ofParts,
          dismissals: aside.get(id) ?? [],
          joined: joined.get(id) ?? [],
          tipsDone: tipsDone.get(id) ?? [],
          references: own.get(id) ?? [],
          busyJobId: busy.get(id) ?? null,
        });
    }
    return out;
  }

  /** A model as it was before it was sized: at the size of its file, and whole. */
  async beforeSizing(view: BodyView): Promise<BodyView> {
    const sized = view.line.slice(0, view.cursor).findIndex((s) => isStepOf(s, catalogue.size));
    const hash = sized > 0 ? meshHashAfter(view.line, sized) : undefined;
    if (view.kind === 'part' || hash === undefined) return view;
    return { ...view, cursor: sized, mesh: await this.meshes.mesh(hash), parts: [] };
  }

  private async dismissalsOf(ids: readonly string[]): Promise<Map<string, DismissalView[]>> {
    const rows = await rowsOf(this.queries.dismissals, ids);
    return grouped(rows, ({ bodyId, ...view }) => [bodyId, view]);
  }

  private async referencesOf(modelIds: readonly string[]): Promise<Map<string, ReferenceView[]>> {
    const rows = await rowsOf(this.queries.references, modelIds);
    return grouped(rows, (row) => [row.modelId, referenceView(row)]);
  }

  /** Jobs that are changing a line now. */
  private async busyOf(ids: readonly string[]): Promise<Map<string, string>> {
    const rows = await rowsOf(this.queries.busy, ids);
    return new Map(rows.map((r) => [r.bodyId!, r.id]));
  }

  /** Ids of all models, in the order in which they came. */
  async allModels(): Promise<{ id: string; name: string; projectId: string }[]> {
    return this.db
      .select({ id: models.id, name: models.name, projectId: models.projectId })
      .from(models)
      .orderBy(asc(models.createdAt), asc(models.id));
  }
}
