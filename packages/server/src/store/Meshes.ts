import { and, desc, eq, lte, sql } from 'drizzle-orm';
import { isStepOf, type StepOf } from '@jasmorphe/contracts/steps';
import type { MeshView, StepView } from '@jasmorphe/contracts/views';
import { inspectionVersion, type Inspection } from '@jasmorphe/core/inspect/Inspection';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import { Refusal } from './Refusal.ts';
import type { StoredMesh } from './StoredMesh.ts';
import type { BlobStore } from './BlobStore.ts';
import { codecs } from './codecs.ts';
import type { Reading, Statement } from './database.ts';
import { isNamed, isOneOf, rowsOf } from './named.ts';
import { meshView, stepView, type StepRow } from './rowViews.ts';
import { meshes, models, steps } from './schema.ts';
import { sourceOf } from './sourceOf.ts';
import { StoreError } from './troubles.ts';
import type { Writer } from './Writer.ts';

const queriesOf = (db: Reading) => ({
  meshes: db.select().from(meshes).where(isNamed(meshes.hash)).prepare(),
  steps: db.select().from(steps).where(isNamed(steps.id)).prepare(),
});

/** Steps by their ids. */
export class KnownSteps extends Map<string, StepView> {
  /** those of a newer version, with the word that says so */
  readonly refused = new Map<string, StoreError>();

  /** Steps of a line. @throws StoreError where one is gone, or a newer version made it */
  lineOf(ids: readonly string[]): StepView[] {
    return ids.map((id) => {
      const step = this.get(id);
      if (step) return step;
      throw this.refused.get(id) ?? new StoreError('database-damaged', `step ${id.slice(0, 12)} of a line is gone`);
    });
  }
}

/** Meshes with what is known of them, and the steps that made them. */
export class Meshes {
  private readonly queries: ReturnType<typeof queriesOf>;

  constructor(
    private readonly db: Reading,
    private readonly writer: Writer,
    private readonly blobs: BlobStore,
  ) {
    this.queries = queriesOf(db);
  }

  async mesh(hash: string): Promise<MeshView> {
    const [row] = await rowsOf(this.queries.meshes, [hash]);
    if (!row) throw Refusal.notFound('mesh', hash);
    return meshView(row);
  }

  /** Meshes on record among those named. */
  async meshesOf(hashes: readonly string[]): Promise<Map<string, MeshView>> {
    const rows = await rowsOf(this.queries.meshes, hashes);
    return new Map(rows.map((row) => [row.hash, meshView(row)]));
  }

  /** Meshes that were inspected by another version of inspecting, newest first. */
  async outdated(): Promise<string[]> {
    const rows = await this.db
      .select({ hash: meshes.hash })
      .from(meshes)
      .where(sql`coalesce(json_extract(${meshes.facts}, '$.version'), 0) <> ${inspectionVersion}`)
      .orderBy(desc(meshes.createdAt));
    return rows.map((r) => r.hash);
  }

  /** Puts what was found of a mesh in the place of what was found earlier. */
  async keepFacts(hash: string, facts: Inspection): Promise<void> {
    await this.writer.commit('facts', [this.db.update(meshes).set({ facts }).where(eq(meshes.hash, hash))], {
      meshes: [hash],
    });
  }

  async step(id: string): Promise<StepView | null> {
    const [row] = await rowsOf(this.queries.steps, [id]);
    return row ? stepView(row) : null;
  }

  /** Steps on record among those named. */
  async stepsOf(ids: readonly string[]): Promise<KnownSteps> {
    const steps = new KnownSteps();
    for (const row of await rowsOf(this.queries.steps, ids))
      try {
        steps.set(row.id, stepView(row));
      } catch (error) {
        if (!(error instanceof StoreError)) throw error;
        steps.refused.set(row.id, error);
      }
    return steps;
  }

  /** Plans of cuts that are on record of a mesh, the last first. */
  async cutsOf(hash: string): Promise<StepOf<'cuts'>[]> {
    const rows = await this.db
      .select()
      .from(steps)
      .where(
        and(
          eq(steps.operation, catalogue.cuts.name),
          lte(steps.version, catalogue.cuts.version),
          eq(sql`json_extract(${steps.inputs}, '$[0]')`, hash),
        ),
      )
      .orderBy(desc(steps.createdAt));
    return rows.map(stepView).filter((s) => isStepOf(s, catalogue.cuts));
  }

  /** A step that is known and whose meshes are all there, whole; null when it has to be worked out. */
  async knownStep(id: string): Promise<{ step: StepView; outputs: StoredMesh[] } | null> {
    const step = await this.step(id);
    if (!step) return null;
    const rows = await rowsOf(this.queries.meshes, step.outputs);
    const byHash = new Map(rows.map((r) => [r.hash, r]));
    const outputs: StoredMesh[] = [];
    for (const hash of step.outputs) {
      const row = byHash.get(hash);
      if (!row || !(await this.blobs.isSound('meshes', hash))) return null;
      const { triangles, vertices, bytes, facts } = row;
      outputs.push({ hash, triangles, vertices, bytes, facts: codecs.facts.read(facts) });
    }
    return { step, outputs };
  }

  /** Steps on record that made a mesh, the last first, each with the name of the file that it read where it read one. */
  async makersOf(hash: string): Promise<{ step: StepRow; fileName: string }[]> {
    const rows = await this.db
      .select()
      .from(steps)
      .where(sql`${hash} in (select value from json_each(${steps.outputs}))`)
      .orderBy(desc(steps.createdAt));
    const sources = rows.flatMap((s) => s.inputs.flatMap((input) => sourceOf(input) ?? []));
    const named = await this.db
      .select({ hash: models.sourceHash, name: models.sourceName })
      .from(models)
      .where(isOneOf(models.sourceHash, sources));
    return rows.map((step) => {
      const source = step.inputs.map(sourceOf).find((s) => s !== null);
      return { step, fileName: named.find((n) => n.hash === source)?.name ?? '' };
    });
  }

  /** Statements that store a finished step with its meshes. */
  stepStatements(step: Omit<StepRow, 'createdAt'>, outputs: readonly StoredMesh[]): Statement[] {
    const createdAt = new Date().toISOString();
    return [
      ...outputs.map((m) =>
        this.db
          .insert(meshes)
          .values({ ...m, createdAt })
          // what was found just now counts, and not what another version found, or another computer
          .onConflictDoUpdate({
            target: meshes.hash,
            set: { facts: m.facts },
            setWhere: sql`coalesce(json_extract(${meshes.facts}, '$.version'), 0) <> ${m.facts.version}`,
          }),
      ),
      this.db
        .insert(steps)
        .values({ ...step, createdAt })
        // a step whose meshes were lost is worked out again
        .onConflictDoUpdate({
          target: steps.id,
          set: { outputs: step.outputs, report: step.report, elapsedMs: step.elapsedMs },
        }),
    ];
  }
}
