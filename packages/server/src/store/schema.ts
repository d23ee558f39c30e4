import { index, integer, primaryKey, real, sqliteTable, text } from 'drizzle-orm/sqlite-core';
import { printOutcomes } from '@jasmorphe/core/planning/printState';
import type { OperationName } from '@jasmorphe/core/operations/catalogue';
import type { LaidPart } from '@jasmorphe/core/planning/bedfuls/LaidPart';
import { licenceIds } from '@jasmorphe/core/trade/licences';

const id = () => text('id').primaryKey();
const at = (name: string) => text(name).notNull();

/** Where a work came from: whence, by whom, its address and the day. */
export interface SourceWords {
  from: string;
  by: string;
  address: string;
  date: string;
}
/** One operation on many bodies, as they stood when it was asked for. */
export interface BatchPlan {
  operation: OperationName;
  params: object;
  members: { bodyId: string; input: string }[];
}
/** Source and terms, of a project and of a piece; a piece without its own has its project's. */
const origin = {
  source: text('source', { mode: 'json' }).$type<Partial<SourceWords>>().notNull().default({}),
  terms: text('terms', { enum: licenceIds }).notNull().default('unknown'),
};

export const projects = sqliteTable('projects', {
  id: id(),
  name: text('name').notNull(),
  note: text('note').notNull().default(''),
  ...origin,
  /** the words of its licence */
  licence: text('licence').notNull().default(''),
  /** day by which it is to be ready to paint */
  dueOn: text('due_on'),
  archivedAt: text('archived_at'),
  /** off the shelf since then; gone for good after thirty days */
  removedAt: text('removed_at'),
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
    ...origin,
    /** its file's path within the kit that it came with */
    path: text('path').notNull().default(''),
    /** how many of it are printed */
    copies: integer('copies').notNull().default(1),
    /** colour or material, in the maker's words */
    colour: text('colour').notNull().default(''),
    /** why it is not printed; null while it is */
    aside: text('aside'),
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

/** Something of a body that was ticked off, by a key. */
const tick = () => ({
  bodyId: text('body_id').notNull(),
  key: text('key').notNull(),
  at: at('at'),
});

/** Joints of a model that are done on the bench, each by a key of the meshes that it joins. */
export const joints = sqliteTable('joints', tick(), (t) => [primaryKey({ columns: [t.bodyId, t.key] })]);

/** Support tips of a part that were seen to, each by the mesh and the place. */
export const tipTicks = sqliteTable('tip_ticks', tick(), (t) => [primaryKey({ columns: [t.bodyId, t.key] })]);

/**
 * Forms of one thing of which all are printed, as the maker decided: by the paths of their files, beside one of the pieces. Where one
 * of them is printed instead, the others are set aside, and no row is kept.
 */
export const variantChoices = sqliteTable('variant_choices', tick(), (t) => [
  primaryKey({ columns: [t.bodyId, t.key] }),
]);

export const jobs = sqliteTable(
  'jobs',
  {
    id: id(),
    kind: text('kind', { enum: ['import', 'line', 'replay', 'preview', 'sample', 'reference'] }).notNull(),
    title: text('title').notNull(),
    projectId: text('project_id').references(() => projects.id, { onDelete: 'cascade' }),
    bodyId: text('body_id'),
    /** work that it is part of */
    batchId: text('batch_id'),
    payload: text('payload', { mode: 'json' }).notNull(),
    state: text('state', { enum: ['queued', 'running', 'done', 'failed', 'cancelled'] }).notNull(),
    progress: real('progress').notNull().default(0),
    phase: text('phase').notNull().default(''),
    error: text('error', { mode: 'json' }),
    result: text('result', { mode: 'json' }),
    /** how often it was started; a job that takes the process down every time is given up */
    attempts: integer('attempts').notNull().default(0),
    /** who is at work on it, while it runs */
    owner: text('owner'),
    /** when its owner last said that it is still at work; some time after that anybody may take it */
    heartbeatAt: text('heartbeat_at'),
    createdAt: at('created_at'),
    startedAt: text('started_at'),
    endedAt: text('ended_at'),
  },
  (t) => [index('jobs_batch').on(t.batchId)],
);

/** Work asked for at once: a kit's files, or one operation on many pieces. One progress, one undo. */
export const batches = sqliteTable(
  'batches',
  {
    id: id(),
    projectId: text('project_id')
      .notNull()
      .references(() => projects.id, { onDelete: 'cascade' }),
    kind: text('kind', { enum: ['import', 'line', 'preview'] }).notNull(),
    title: text('title').notNull(),
    /** the operation that is run on each, and what it is run on; null for the files of a kit */
    plan: text('plan', { mode: 'json' }).$type<BatchPlan>(),
    /** files that could not even be tried, with why */
    refused: text('refused', { mode: 'json' }).$type<{ file: string; message: string }[]>().notNull(),
    undoneAt: text('undone_at'),
    createdAt: at('created_at'),
  },
  (t) => [index('batches_project').on(t.projectId, t.createdAt)],
);

/** A part where it lies in a bedful, with what it was worked out from; without `of` it is of the bedful's model. */
export interface KeptPart extends LaidPart {
  partId: string;
  at: { x: number; y: number };
  turnDeg: number;
  /** its shadow, as a path */
  path: string;
}

/**
 * What goes on one bed in one go, as it was decided. Rows are never changed but for when it is wanted: an arrangement
 * that takes the place of another ends its rows, so that it can be taken back.
 */
export const bedfuls = sqliteTable(
  'bedfuls',
  {
    id: id(),
    projectId: text('project_id')
      .notNull()
      .references(() => projects.id, { onDelete: 'cascade' }),
    /** of its parts; of several models one of them */
    modelId: text('model_id')
      .notNull()
      .references(() => models.id, { onDelete: 'cascade' }),
    number: integer('number').notNull(),
    kind: text('kind', { enum: ['filament', 'resin'] }).notNull(),
    /** the printer may be gone; its name stays */
    printerId: text('printer_id').notNull(),
    printerName: text('printer_name').notNull(),
    bedMm: text('bed_mm', { mode: 'json' }).$type<[number, number]>().notNull(),
    parts: text('parts', { mode: 'json' }).$type<KeptPart[]>().notNull(),
    /** its parts are printed one after the other, in their order */
    inTurn: integer('in_turn', { mode: 'boolean' }).notNull().default(false),
    fillPct: real('fill_pct').notNull(),
    durationS: real('duration_s').notNull(),
    materialG: real('material_g').notNull(),
    /** not to be started before */
    wantedAt: text('wanted_at'),
    /** what it was decided with; begins with the time, so that the last is the greatest */
    arrangement: text('arrangement').notNull(),
    /** the arrangement that took its place */
    endedBy: text('ended_by'),
    createdAt: at('created_at'),
  },
  (t) => [index('bedfuls_model').on(t.modelId)],
);

/** Photos and notes of a project, a piece or a part. */
export const attachments = sqliteTable(
  'attachments',
  {
    id: id(),
    projectId: text('project_id')
      .notNull()
      .references(() => projects.id, { onDelete: 'cascade' }),
    /** a model or a part; null for the whole project */
    bodyId: text('body_id'),
    kind: text('kind', { enum: ['photo', 'note'] }).notNull(),
    text: text('text').notNull().default(''),
    /** the file of a photo, among the sources */
    hash: text('hash'),
    mediaType: text('media_type').notNull().default(''),
    name: text('name').notNull().default(''),
    createdAt: at('created_at'),
  },
  (t) => [index('attachments_project').on(t.projectId)],
);

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
  /** no longer printed with; its log stays */
  retiredAt: text('retired_at'),
  createdAt: at('created_at'),
});

export const materials = sqliteTable('materials', {
  id: id(),
  name: text('name').notNull(),
  kind: text('kind', { enum: ['filament', 'resin'] }).notNull(),
  densityGCm3: real('density_g_cm3').notNull(),
  pricePerKg: real('price_per_kg').notNull(),
  stockG: real('stock_g').notNull(),
  shrinkagePct: real('shrinkage_pct').notNull().default(0),
  cautions: text('cautions').notNull().default(''),
  /** no longer printed with; its spools and what was taken from them stay */
  retiredAt: text('retired_at'),
  createdAt: at('created_at'),
});

/** A spool or a bottle. What is left follows from its entries. */
export const spools = sqliteTable('spools', {
  id: id(),
  materialId: text('material_id')
    .notNull()
    .references(() => materials.id, { onDelete: 'cascade' }),
  name: text('name').notNull(),
  colour: text('colour').notNull().default(''),
  /** with what it is wound on, or the bottle, g */
  grossG: real('gross_g').notNull(),
  emptyG: real('empty_g').notNull(),
  openedOn: text('opened_on'),
  whereabouts: text('whereabouts').notNull().default(''),
  /** used up, or thrown away */
  endedAt: text('ended_at'),
  createdAt: at('created_at'),
});

/** What was taken from a spool, or what it weighed. Rows are never changed. */
export const spoolEntries = sqliteTable(
  'spool_entries',
  {
    id: id(),
    spoolId: text('spool_id')
      .notNull()
      .references(() => spools.id, { onDelete: 'cascade' }),
    kind: text('kind', { enum: ['weighed', 'used'] }).notNull(),
    /** gross where it was weighed, g */
    grams: real('grams').notNull(),
    note: text('note').notNull().default(''),
    /** the entry of the print log that said so; taken back with it */
    logEntryId: text('log_entry_id'),
    at: at('at'),
  },
  (t) => [index('spool_entries_spool').on(t.spoolId, t.at)],
);

/** Bodies with their measures, for all projects. */
export const savedBodies = sqliteTable('saved_bodies', {
  id: id(),
  name: text('name').notNull(),
  kind: text('kind', { enum: ['head', 'hand', 'standing', 'seated'] }).notNull(),
  measures: text('measures', { mode: 'json' }).$type<Record<string, number>>().notNull(),
  createdAt: at('created_at'),
});

/** The maker's choices: one row. */
export const settings = sqliteTable('settings', {
  id: id(),
  value: text('value', { mode: 'json' }).notNull(),
});

/** What was answered to a word that came with a key of its sender's, so that the same word is not taken twice. */
export const answers = sqliteTable(
  'answers',
  {
    key: text('key').primaryKey(),
    /** a hash of what was said */
    asked: text('asked').notNull(),
    /** id of what was made by it */
    about: text('about').notNull(),
    /** null until it is given, and where the process ended before */
    answer: text('answer', { mode: 'json' }),
    at: at('at'),
  },
  (t) => [index('answers_at').on(t.at)],
);

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
    /** the bedful that it was started, or came off, with */
    bedfulId: text('bedful_id'),
    /** the same for all that was said in one go; null of entries that were made before that was kept */
    saidId: text('said_id'),
    at: at('at'),
  },
  (t) => [index('log_project').on(t.projectId, t.at), index('log_model').on(t.modelId, t.meshHash)],
);
