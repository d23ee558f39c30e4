import { getTableColumns, type Column, type Table } from 'drizzle-orm';
import { nameNow } from '@jasmorphe/core/operations/catalogue';
import { MeshError } from '@jasmorphe/core/run/MeshError';
import { codecs } from '../store/codecs.ts';
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
import { troubleOf } from '../store/troubles.ts';

/** The tables of a project, in the order in which their rows can be put in. */
export const packedTables = {
  meshes,
  steps,
  projects,
  models,
  parts,
  lineStates,
  dismissals,
  joints,
  tipTicks,
  variantChoices,
  references,
  attachments,
  logEntries,
  bedfuls,
  printers,
} as const;

export type PackedTable = keyof typeof packedTables;
export type PackedRows = { [T in PackedTable]: (typeof packedTables)[T]['$inferSelect'][] };

export const packFormat = 'jasmorphe-pack';
/** 1 kept ticks of tips among the joints, and choices among variants among the reasons. */
export const packVersion = 2;

/** The list of a pack: who made it, and the rows of one project. */
export interface PackedProject {
  format: typeof packFormat;
  version: number;
  madeAt: string;
  rows: PackedRows;
}

export const damagedPack = (what: string): MeshError =>
  new MeshError('pack-damaged', `The pack is damaged: ${what}.`, 'Nothing was unpacked. Fetch the archive again.');

const fits = (value: unknown, type: string): boolean => {
  if (type === 'json') return value !== undefined && value !== null;
  if (type === 'number') return typeof value === 'number' && Number.isFinite(value);
  return typeof value === type;
};

/** One row with the columns that the table has: those that came later have their defaults, others are left out. */
function readRow<Row>(table: Table, name: string, given: unknown): Row {
  if (typeof given !== 'object' || given === null || Array.isArray(given))
    throw damagedPack(`a row of ${name} is none`);
  const row: Record<string, unknown> = {};
  for (const [key, column] of Object.entries(getTableColumns(table) as Record<string, Column>)) {
    const value = (given as Record<string, unknown>)[key];
    if (value === undefined || value === null) {
      if (!column.notNull) row[key] = null;
      else if (column.hasDefault) row[key] = column.default;
      else throw damagedPack(`a row of ${name} has no ${key}`);
      continue;
    }
    if (!fits(value, column.dataType)) throw damagedPack(`${key} of a row of ${name} is of the wrong kind`);
    if (column.enumValues && (typeof value !== 'string' || !column.enumValues.includes(value)))
      throw damagedPack(`${key} of a row of ${name} is none of those there are`);
    row[key] = value;
  }
  return row as Row;
}

const hashes = (rows: readonly unknown[]): boolean =>
  rows.every((h) => typeof h === 'string' && /^(source:)?[0-9a-f]{64}$/.test(h));

/**
 * Reads the list of a pack and holds it to what our tables take: kinds of values, that ids which are named are there,
 * and one project.
 *
 * @throws MeshError `pack-damaged`, `pack-newer`, `no-pack`
 */
export function readPackList(text: string): PackedProject {
  let given: { format?: unknown; version?: unknown; madeAt?: unknown; rows?: Record<string, unknown> };
  try {
    given = JSON.parse(text) as typeof given;
  } catch {
    throw damagedPack('its list is no JSON');
  }
  if (typeof given !== 'object' || given === null || given.format !== packFormat)
    throw new MeshError(
      'no-pack',
      'This is no pack of a project.',
      'To read meshes of an archive, drop it into a project.',
    );
  if (typeof given.version !== 'number' || given.version > packVersion) throw newerPack();
  const rows = {} as Record<PackedTable, unknown[]>;
  for (const [name, table] of Object.entries(packedTables)) {
    const list = given.rows?.[name] ?? [];
    if (!Array.isArray(list)) throw damagedPack(`${name} is no list`);
    rows[name as PackedTable] = list.map((row) => readRow(table, name, row));
  }
  const read = rows as unknown as PackedRows;
  if (given.version < 2) tellApart(read);
  holdTogether(read);
  mustBeKnown(read);
  return { format: packFormat, version: packVersion, madeAt: String(given.madeAt), rows: read };
}

const newerPack = (): MeshError =>
  new MeshError(
    'pack-newer',
    'The pack was made by a later version of this program.',
    'Unpack it there, or update this one.',
  );

/** @throws MeshError `pack-newer` where a step is of a version that is to come */
function mustBeKnown(rows: PackedRows): void {
  try {
    for (const step of rows.steps)
      codecs.report.read(step.report, { ...step, operation: nameNow(step.operation) as string });
    for (const { facts } of rows.meshes) codecs.facts.read(facts);
  } catch (error) {
    throw troubleOf(error)?.code === 'database-newer' ? newerPack() : damagedPack('what was found cannot be read');
  }
}

/** Names of version 1 among keys of joints and codes of reasons. */
const oldTip = 'tip:';
/** One that names its pieces in another way stands for nothing any more. */
const oldChoice = /^variants\/([0-9a-f]{32})$/;

/** Moves what version 1 kept in tables of other things into its own. */
function tellApart(rows: PackedRows): void {
  rows.tipTicks = rows.joints.filter((j) => j.key.startsWith(oldTip));
  rows.joints = rows.joints.filter((j) => !j.key.startsWith(oldTip));
  rows.variantChoices = rows.dismissals
    .filter((d) => oldChoice.test(d.code))
    .map(({ bodyId, code, at }) => ({ bodyId, key: oldChoice.exec(code)![1], at }));
  rows.dismissals = rows.dismissals.filter((d) => !d.code.startsWith('variants/'));
}

/** Ids by which rows are told apart; all of a project's own are apart from one another, since each is given another. */
const idsOf = (rows: PackedRows): [what: string, ids: string[]][] => [
  ['mesh', rows.meshes.map((m) => m.hash)],
  ['step', rows.steps.map((s) => s.id)],
  [
    'row',
    [rows.projects, rows.models, rows.parts, rows.references, rows.attachments, rows.logEntries, rows.bedfuls].flatMap(
      (list) => list.map((row) => row.id),
    ),
  ],
  ['state of a line', rows.lineStates.map((s) => `${s.bodyId} ${s.seq}`)],
  ['reason', rows.dismissals.map((d) => `${d.bodyId} ${d.code}`)],
  ['joint', rows.joints.map((j) => `${j.bodyId} ${j.key}`)],
  ['tip', rows.tipTicks.map((t) => `${t.bodyId} ${t.key}`)],
  ['choice', rows.variantChoices.map((c) => `${c.bodyId} ${c.key}`)],
  ['printer', rows.printers.map((p) => p.id)],
];

/** @throws MeshError where rows name what is not there */
function holdTogether(rows: PackedRows): void {
  if (rows.projects.length !== 1) throw damagedPack(`it holds ${rows.projects.length} projects`);
  const [{ id: projectId }] = rows.projects;
  const modelIds = new Set(rows.models.map((m) => m.id));
  const bodyIds = new Set([...modelIds, ...rows.parts.map((p) => p.id)]);
  const stepIds = new Set(rows.steps.map((s) => s.id));
  const meshHashes = new Set(rows.meshes.map((m) => m.hash));
  const need = (ok: boolean, what: string) => {
    if (!ok) throw damagedPack(what);
  };
  const list = (value: unknown): unknown[] => (Array.isArray(value) ? value : [null]);
  for (const [what, ids] of idsOf(rows)) need(new Set(ids).size === ids.length, `it holds one ${what} twice`);
  need(hashes(rows.meshes.map((m) => m.hash)), 'a mesh is named by no hash');
  for (const m of rows.models) {
    need(m.projectId === projectId, `the piece "${m.name}" is of another project`);
    need(hashes([m.sourceHash]), `the piece "${m.name}" has no file`);
    const state = rows.lineStates.find((s) => s.bodyId === m.id && s.seq === m.seq);
    need(state !== undefined && list(state.stepIds).length > 0, `the line of "${m.name}" is gone`);
  }
  for (const s of rows.steps) {
    need(hashes(list(s.inputs)) && hashes(list(s.outputs)), 'a step names no meshes');
    for (const h of [...s.inputs, ...s.outputs])
      need(h.startsWith('source:') || meshHashes.has(h), 'a mesh of a step is not listed');
  }
  for (const s of rows.lineStates) {
    need(bodyIds.has(s.bodyId), 'a line is of nothing');
    need(
      list(s.stepIds).every((id) => stepIds.has(id as string)),
      'a step of a line is gone',
    );
    need(Number.isInteger(s.cursor) && s.cursor >= 0 && s.cursor <= s.stepIds.length, 'a line ends nowhere');
  }
  const steps = new Map(rows.steps.map((s) => [s.id, s]));
  for (const p of rows.parts)
    // a part is what stands at its place in the divide that made it, and in the report of it
    need(
      modelIds.has(p.modelId) &&
        steps.get(p.stepId)?.outputs[p.position] === p.meshHash &&
        list((steps.get(p.stepId)!.report as { parts?: unknown } | null)?.parts)[p.position] instanceof Object,
      `part ${p.tag} hangs in the air`,
    );
  for (const r of rows.references)
    need(modelIds.has(r.modelId) && meshHashes.has(r.meshHash), `the body "${r.name}" hangs in the air`);
  for (const d of rows.dismissals) need(bodyIds.has(d.bodyId), 'a reason is of nothing');
  for (const j of rows.joints) need(bodyIds.has(j.bodyId), 'a joint is of nothing');
  for (const t of rows.tipTicks) need(bodyIds.has(t.bodyId), 'a tip is of nothing');
  for (const c of rows.variantChoices) need(modelIds.has(c.bodyId), 'a choice is of nothing');
  for (const a of rows.attachments)
    need(
      a.projectId === projectId &&
        (a.hash === null || hashes([a.hash])) &&
        (a.bodyId === null || bodyIds.has(a.bodyId)),
      'a photo or note is of nothing',
    );
  for (const b of rows.bedfuls) {
    need(b.projectId === projectId && modelIds.has(b.modelId), `bedful ${b.number} is of nothing`);
    for (const p of list(b.parts) as { mesh?: unknown }[])
      need(typeof p?.mesh === 'string' && meshHashes.has(p.mesh), `a part of bedful ${b.number} is not listed`);
  }
  for (const e of rows.logEntries) need(e.projectId === projectId, 'an entry of the log is of nothing');
}

/** Files that a pack holds besides its list. */
export function filesOf(rows: PackedRows): { meshes: string[]; sources: string[] } {
  const sources = new Set<string>();
  for (const m of rows.models) sources.add(m.sourceHash);
  for (const s of rows.steps) for (const h of s.inputs) if (h.startsWith('source:')) sources.add(h.slice(7));
  for (const a of rows.attachments) if (a.hash) sources.add(a.hash);
  return { meshes: rows.meshes.map((m) => m.hash), sources: [...sources] };
}
