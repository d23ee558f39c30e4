import { eq, or, sql, type Table } from 'drizzle-orm';
import { createHash, randomUUID } from 'node:crypto';
import { isDeepStrictEqual } from 'node:util';
import { descriptionOf, nameNow, operationNames, type OperationName } from '@jasmorphe/core/operations/catalogue';
import { Refusal } from '../store/Refusal.ts';
import { isOneOf } from '../store/named.ts';
import type { Reading, Statement } from '../store/database.ts';
import {
  attachments,
  bedfuls,
  dismissals,
  joints,
  lineStates,
  logEntries,
  meshes,
  models,
  parts,
  printers,
  projects,
  references,
  steps,
  tipTicks,
  variantChoices,
} from '../store/schema.ts';
import { canonicalJson, stepId } from '../store/stepId.ts';
import type { Library } from '../store/Library.ts';
import type { Writer } from '../store/Writer.ts';
import {
  damagedPack,
  filesOf,
  packedTables,
  packFormat,
  packVersion,
  type PackedProject,
  type PackedRows,
  type PackedTable,
} from './PackedProject.ts';

/** What projects have in common: a row that is there already is the same. */
const shared = new Set<Table>([meshes, steps, printers]);

/** Whole projects as rows: out of the tables, and into them under new ids. */
export class Packs {
  private readonly db: Reading;
  private readonly writer: Writer;

  constructor({ database, writer }: Pick<Library, 'database' | 'writer'>) {
    this.db = database.db;
    this.writer = writer;
  }

  /** All rows of a project, and of the meshes and steps that its lines can come back to. @throws Refusal `not-found` */
  async snapshot(projectId: string): Promise<PackedProject> {
    const { db } = this;
    const project = await db.query.projects.findFirst({ where: eq(projects.id, projectId) });
    if (!project) throw Refusal.notFound('project', projectId);
    const ofModels = await db.select().from(models).where(eq(models.projectId, projectId));
    const modelIds = ofModels.map((m) => m.id);
    const ofParts = await db.select().from(parts).where(isOneOf(parts.modelId, modelIds));
    const bodyIds = [...modelIds, ...ofParts.map((p) => p.id)];
    const states = await db.select().from(lineStates).where(isOneOf(lineStates.bodyId, bodyIds));
    // what was said later counts: entries keep their order
    const log = await db
      .select()
      .from(logEntries)
      .where(eq(logEntries.projectId, projectId))
      .orderBy(sql`rowid`);
    const bodies = await db.select().from(references).where(isOneOf(references.modelId, modelIds));
    const stepIds = [...states.flatMap((s) => s.stepIds), ...ofParts.map((p) => p.stepId)];
    const ofSteps = await db.select().from(steps).where(isOneOf(steps.id, stepIds));
    const kept = await db.select().from(bedfuls).where(eq(bedfuls.projectId, projectId));
    const hashes = [
      ...kept.flatMap((b) => b.parts.map((p) => p.mesh)),
      ...ofSteps.flatMap((s) => [...s.inputs, ...s.outputs]).filter((h) => !h.startsWith('source:')),
      ...ofParts.map((p) => p.meshHash),
      ...bodies.map((b) => b.meshHash),
      ...log.map((e) => e.meshHash).filter((h) => h !== ''),
    ];
    const printerIds = [...log.flatMap((e) => (e.printerId ? [e.printerId] : [])), ...kept.map((b) => b.printerId)];
    const rows: PackedRows = {
      meshes: await db.select().from(meshes).where(isOneOf(meshes.hash, hashes)),
      steps: ofSteps,
      projects: [{ ...project, archivedAt: null, removedAt: null }],
      models: ofModels,
      parts: ofParts,
      lineStates: states,
      dismissals: await db.select().from(dismissals).where(isOneOf(dismissals.bodyId, bodyIds)),
      joints: await db.select().from(joints).where(isOneOf(joints.bodyId, bodyIds)),
      tipTicks: await db.select().from(tipTicks).where(isOneOf(tipTicks.bodyId, bodyIds)),
      variantChoices: await db.select().from(variantChoices).where(isOneOf(variantChoices.bodyId, modelIds)),
      references: bodies,
      attachments: await db.select().from(attachments).where(eq(attachments.projectId, projectId)),
      logEntries: log,
      bedfuls: kept,
      printers: await db.select().from(printers).where(isOneOf(printers.id, printerIds)),
    };
    return { format: packFormat, version: packVersion, madeAt: new Date().toISOString(), rows };
  }

  /** The id of a project by its id or its name. @throws Refusal where none or several have it */
  async find(idOrName: string): Promise<string> {
    const rows = await this.db
      .select({ id: projects.id, removedAt: projects.removedAt })
      .from(projects)
      .where(or(eq(projects.id, idOrName), eq(projects.name, idOrName)));
    const there = rows.filter((r) => r.removedAt === null);
    if (there.length === 1) return there[0].id;
    if (there.length > 1)
      throw new Refusal(
        'state',
        'not-one',
        `${there.length} projects are called "${idOrName}".`,
        `Name it by its id: ${there.map((r) => r.id).join(', ')}.`,
      );
    throw Refusal.notFound('project', idOrName);
  }

  /**
   * Puts a project in, under ids of its own, at once or not at all. Its meshes and sources must be in their places.
   *
   * @returns the id that it has here
   * @throws MeshError `pack-damaged` where a step is not what its id says
   */
  async put(packed: PackedProject, name?: string): Promise<string> {
    const rows = renamed(await this.apart(packed.rows));
    const [project] = rows.projects;
    const at = new Date().toISOString();
    const put: PackedRows = { ...rows, projects: [{ ...project, name: name ?? project.name, updatedAt: at }] };
    const statements: Statement[] = [];
    for (const [table, of] of Object.entries(packedTables)) {
      const list = put[table as PackedTable];
      // SQLite takes so many values in one statement
      for (let from = 0; from < list.length; from += 40) {
        const insert = this.db.insert(of).values(list.slice(from, from + 40));
        statements.push(shared.has(of) ? insert.onConflictDoNothing() : insert);
      }
    }
    await this.writer.commit('unpack', statements, filesOf(rows));
    return project.id;
  }

  /**
   * Steps by ids under which only what is known here is taken for known: what a step of this name gave elsewhere counts for the
   * project that brings it, and no other takes it for its own. What was found of meshes elsewhere is looked at anew.
   *
   * @throws MeshError `pack-damaged` where a step is not what its id says
   */
  private async apart(rows: PackedRows): Promise<PackedRows> {
    const plain = new Map(rows.steps.map((s) => [s.id, plainIdOf(s)]));
    const local = await this.db
      .select({ id: steps.id, outputs: steps.outputs })
      .from(steps)
      .where(isOneOf(steps.id, [...plain.values()]));
    const known = new Map(local.map((s) => [s.id, s.outputs]));
    const ids = new Map(
      rows.steps.map((s) => {
        const id = plain.get(s.id)!;
        return [s.id, isDeepStrictEqual(known.get(id), s.outputs) ? id : broughtId(id, s.outputs, s.report)];
      }),
    );
    const idNow = (id: string): string => ids.get(id) ?? id;
    const there = await this.db
      .select({ hash: meshes.hash })
      .from(meshes)
      .where(
        isOneOf(
          meshes.hash,
          rows.meshes.map((m) => m.hash),
        ),
      );
    const looked = new Set(there.map((m) => m.hash));
    return {
      ...rows,
      meshes: rows.meshes.map((m) =>
        looked.has(m.hash) ? m : { ...m, facts: { ...(m.facts as object), version: 0 } },
      ),
      // several may come to the same
      steps: [...new Map(rows.steps.map((s) => [idNow(s.id), { ...s, id: idNow(s.id) }])).values()],
      lineStates: rows.lineStates.map((s) => ({ ...s, stepIds: s.stepIds.map(idNow) })),
      parts: rows.parts.map((p) => ({ ...p, stepId: idNow(p.stepId) })),
    };
  }

  /** A copy of a project with its lines, prints, photos and notes. */
  async copy(id: string, name: string | undefined): Promise<string> {
    const packed = await this.snapshot(id);
    const [{ name: old }] = packed.rows.projects;
    return this.put(packed, name ?? `${old.slice(0, 112)} (copy)`);
  }
}

/** Identity of a step whose results came from elsewhere: they are part of it. */
const broughtId = (plainId: string, outputs: readonly string[], report: unknown): string =>
  createHash('sha256')
    .update(canonicalJson(['brought', plainId, outputs, report]))
    .digest('hex');

/**
 * What the id of a step of a pack is without its results: by what it was asked for.
 *
 * @throws MeshError `pack-damaged` where it is not what its id says
 */
function plainIdOf({ id, operation, version, params, inputs, outputs, report }: PackedRows['steps'][number]): string {
  const known = nameNow(operation);
  // a step of an operation that was since renamed has an id that its old name made
  const names = [operation, ...operationNames.flatMap((n) => (n === known ? [n, descriptionOf(n).formerly] : []))];
  const plain = names.flatMap((n) => (n === undefined ? [] : [stepId(n, version, params, inputs)]));
  const found = plain.find((p) => p === id || broughtId(p, outputs, report) === id);
  if (found === undefined || !operationNames.includes(known as OperationName))
    throw damagedPack(`a step "${String(operation).slice(0, 40)}" is not what its id says`);
  return found;
}

/**
 * The rows under new ids, so that a project may be there twice. Steps and meshes keep theirs: they are named by what
 * they hold.
 */
function renamed(rows: PackedRows): PackedRows {
  const ids = new Map<string, string>();
  const fresh = (id: string): string => {
    const known = ids.get(id);
    if (known) return known;
    const made = randomUUID();
    ids.set(id, made);
    return made;
  };
  for (const list of [
    rows.projects,
    rows.models,
    rows.parts,
    rows.references,
    rows.attachments,
    rows.logEntries,
    rows.bedfuls,
  ])
    for (const row of list) fresh(row.id);
  const kept = (id: string): string => ids.get(id) ?? id;
  return {
    ...rows,
    steps: rows.steps.map((s) => ({ ...s, operation: nameNow(s.operation) as string })),
    projects: rows.projects.map((p) => ({ ...p, id: kept(p.id), archivedAt: null, removedAt: null })),
    models: rows.models.map((m) => ({ ...m, id: kept(m.id), projectId: kept(m.projectId) })),
    parts: rows.parts.map((p) => ({ ...p, id: kept(p.id), modelId: kept(p.modelId) })),
    lineStates: rows.lineStates.map((s) => ({ ...s, bodyId: kept(s.bodyId) })),
    dismissals: rows.dismissals.map((d) => ({ ...d, bodyId: kept(d.bodyId) })),
    joints: rows.joints.map((j) => ({ ...j, bodyId: kept(j.bodyId) })),
    tipTicks: rows.tipTicks.map((t) => ({ ...t, bodyId: kept(t.bodyId) })),
    variantChoices: rows.variantChoices.map((c) => ({ ...c, bodyId: kept(c.bodyId) })),
    references: rows.references.map((r) => ({ ...r, id: kept(r.id), modelId: kept(r.modelId) })),
    attachments: rows.attachments.map((a) => ({
      ...a,
      id: kept(a.id),
      projectId: kept(a.projectId),
      bodyId: a.bodyId === null ? null : kept(a.bodyId),
    })),
    logEntries: rows.logEntries.map((e) => ({
      ...e,
      id: kept(e.id),
      projectId: kept(e.projectId),
      modelId: kept(e.modelId),
      partId: kept(e.partId),
      correctsId: e.correctsId === null ? null : kept(e.correctsId),
      bedfulId: e.bedfulId === null ? null : kept(e.bedfulId),
    })),
    bedfuls: rows.bedfuls.map((b) => ({
      ...b,
      id: kept(b.id),
      projectId: kept(b.projectId),
      modelId: kept(b.modelId),
      parts: b.parts.map((p) => ({
        ...p,
        partId: kept(p.partId),
        ...(p.of ? { of: { ...p.of, model: kept(p.of.model), part: kept(p.of.part) } } : {}),
      })),
    })),
  };
}
