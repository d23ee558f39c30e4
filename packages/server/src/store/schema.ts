import { index, integer, primaryKey, real, sqliteTable, text } from 'drizzle-orm/sqlite-core';
import { printOutcomes } from '@jasmorphe/core/planning/printState';

const id = () => text('id').primaryKey();
const at = (name: string) => text(name).notNull();

export const projects = sqliteTable('projects', {
  id: id(),
  name: text('name').notNull(),
  note: text('note').notNull().default(''),
  createdAt: at('created_at'),
  updatedAt: at('updated_at'),
});

export const meshes = sqliteTable('meshes', {
  hash: text('hash').primaryKey(),
  triangles: integer('triangles').notNull(),
  vertices: integer('vertices').notNull(),
  bytes: integer('bytes').notNull(),
  /** Inspection as JSON */
  facts: text('facts', { mode: 'json' }).notNull(),
  createdAt: at('created_at'),
});

/** One run of an operation. The id is the hash of operation, version, params and inputs. */
export const steps = sqliteTable('steps', {
  id: id(),
  operation: text('operation').notNull(),
  version: integer('version').notNull(),
  params: text('params', { mode: 'json' }).$type<object>().notNull(),
  inputs: text('inputs', { mode: 'json' }).$type<string[]>().notNull(),
  outputs: text('outputs', { mode: 'json' }).$type<string[]>().notNull(),
  report: text('report', { mode: 'json' }).notNull(),
  elapsedMs: integer('elapsed_ms').notNull(),
  createdAt: at('created_at'),
});

export const models = sqliteTable(
  'models',
  {
    id: id(),
    projectId: text('project_id')
      .notNull()
      .references(() => projects.id, { onDelete: 'cascade' }),
    name: text('name').notNull(),
    sourceName: text('source_name').notNull(),
    sourceHash: text('source_hash').notNull(),
    licence: text('licence').notNull().default(''),
    /** which of the line's states is in force */
    seq: integer('seq').notNull().default(1),
    createdAt: at('created_at'),
  },
  (t) => [index('models_project').on(t.projectId)],
);

/** A part made by a divide step of a model; it has a line of its own. */
export const parts = sqliteTable(
  'parts',
  {
    id: id(),
    modelId: text('model_id')
      .notNull()
      .references(() => models.id, { onDelete: 'cascade' }),
    stepId: text('step_id')
      .notNull()
      .references(() => steps.id),
    position: integer('position').notNull(),
    tag: text('tag').notNull(),
    meshHash: text('mesh_hash')
      .notNull()
      .references(() => meshes.hash),
    seq: integer('seq').notNull().default(1),
  },
  (t) => [index('parts_model').on(t.modelId, t.stepId)],
);

/** Every state a line has been in; undo and redo walk along them. */
export const lineStates = sqliteTable(
  'line_states',
  {
    /** a model or a part */
    bodyId: text('body_id').notNull(),
    seq: integer('seq').notNull(),
    stepIds: text('step_ids', { mode: 'json' }).$type<string[]>().notNull(),
    cursor: integer('cursor').notNull(),
  },
  (t) => [primaryKey({ columns: [t.bodyId, t.seq] })],
);

export const dismissals = sqliteTable(
  'dismissals',
  {
    bodyId: text('body_id').notNull(),
    code: text('code').notNull(),
    reason: text('reason').notNull(),
    at: at('at'),
  },
  (t) => [primaryKey({ columns: [t.bodyId, t.code] })],
);

export const jobs = sqliteTable('jobs', {
  id: id(),
  kind: text('kind', { enum: ['import', 'line', 'replay', 'preview', 'sample', 'reference'] }).notNull(),
  title: text('title').notNull(),
  projectId: text('project_id').references(() => projects.id, { onDelete: 'cascade' }),
  bodyId: text('body_id'),
  payload: text('payload', { mode: 'json' }).notNull(),
  state: text('state', { enum: ['queued', 'running', 'done', 'failed', 'cancelled'] }).notNull(),
  progress: real('progress').notNull().default(0),
  phase: text('phase').notNull().default(''),
  error: text('error', { mode: 'json' }),
  result: text('result', { mode: 'json' }),
  /** how often it was started; a job that takes the process down every time is given up */
  attempts: integer('attempts').notNull().default(0),
  heartbeatAt: text('heartbeat_at'),
  createdAt: at('created_at'),
  startedAt: text('started_at'),
  endedAt: text('ended_at'),
});

/** A body that a model is sized by. It is no model: nothing divides, plans or prints it. */
export const references = sqliteTable(
  'references',
  {
    id: id(),
    modelId: text('model_id')
      .notNull()
      .references(() => models.id, { onDelete: 'cascade' }),
    name: text('name').notNull(),
    kind: text('kind', { enum: ['head', 'hand', 'standing', 'seated', 'scan'] }).notNull(),
    measures: text('measures', { mode: 'json' }).$type<Record<string, number>>().notNull(),
    landmarks: text('landmarks', { mode: 'json' }).$type<Record<string, readonly [number, number, number]>>().notNull(),
    meshHash: text('mesh_hash')
      .notNull()
      .references(() => meshes.hash),
    /** where it stands in the model: x, y, z in mm, and turns about x, y, z in degrees */
    move: text('move', { mode: 'json' }).$type<[number, number, number]>().notNull(),
    turn: text('turn', { mode: 'json' }).$type<[number, number, number]>().notNull(),
    liningMm: real('lining_mm').notNull().default(0),
    wantMm: real('want_mm').notNull().default(2),
    createdAt: at('created_at'),
  },
  (t) => [index('references_model').on(t.modelId)],
);

/** Where models have to stand and pass. */
export const places = sqliteTable('places', {
  id: id(),
  name: text('name').notNull(),
  kind: text('kind', { enum: ['stand', 'pass', 'lie'] }).notNull(),
  widthMm: real('width_mm'),
  depthMm: real('depth_mm'),
  heightMm: real('height_mm'),
  createdAt: at('created_at'),
});

export const printers = sqliteTable('printers', {
  id: id(),
  profile: text('profile', { mode: 'json' }).notNull(),
  createdAt: at('created_at'),
});

export const materials = sqliteTable('materials', {
  id: id(),
  name: text('name').notNull(),
  kind: text('kind', { enum: ['filament', 'resin'] }).notNull(),
  densityGCm3: real('density_g_cm3').notNull(),
  pricePerKg: real('price_per_kg').notNull(),
  stockG: real('stock_g').notNull(),
  createdAt: at('created_at'),
});

/**
 * What happened at the printer. Rows are never changed: a wrong one is withdrawn by another. Each belongs to the mesh
 * that was printed, so that a part keeps its state for as long as its mesh stays the same, and no longer.
 */
export const logEntries = sqliteTable(
  'log_entries',
  {
    id: id(),
    projectId: text('project_id')
      .notNull()
      .references(() => projects.id, { onDelete: 'cascade' }),
    modelId: text('model_id').notNull().default(''),
    /** the part at that time; a changed divide makes new ones */
    partId: text('part_id').notNull(),
    meshHash: text('mesh_hash').notNull().default(''),
    tag: text('tag').notNull(),
    printerId: text('printer_id'),
    outcome: text('outcome', { enum: printOutcomes }).notNull(),
    heightMm: real('height_mm'),
    durationS: real('duration_s'),
    materialG: real('material_g'),
    note: text('note').notNull().default(''),
    /** the entry that this one takes back */
    correctsId: text('corrects_id'),
    at: at('at'),
  },
  (t) => [index('log_project').on(t.projectId, t.at), index('log_model').on(t.modelId, t.meshHash)],
);
