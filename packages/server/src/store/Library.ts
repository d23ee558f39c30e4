import { Answers } from './Answers.ts';
import { Arrivals, type KeptFile } from './Arrivals.ts';
import { Attachments } from './Attachments.ts';
import { Batches } from './Batches.ts';
import { Bedfuls } from './Bedfuls.ts';
import type { BlobStore } from './BlobStore.ts';
import { Bodies } from './Bodies.ts';
import { BodyViews } from './BodyViews.ts';
import { collectUnneeded, needsOf, type Collected } from './collect.ts';
import type { Database } from './database.ts';
import { Dismissals } from './Dismissals.ts';
import { JobRows } from './JobRows.ts';
import { Kits } from './Kits.ts';
import { Meshes } from './Meshes.ts';
import { Parts } from './Parts.ts';
import { PrintLog } from './PrintLog.ts';
import { Projects } from './Projects.ts';
import { References } from './References.ts';
import { joints, tipTicks } from './schema.ts';
import { Shelf } from './Shelf.ts';
import { Stakes } from './Stakes.ts';
import { Ticks } from './Ticks.ts';
import { Twins } from './Twins.ts';
import { Workshop } from './Workshop.ts';
import { Writer } from './Writer.ts';

/**
 * Everything the server knows, a store by subject. They alone touch the database; what several of them change together
 * is handed out as statements and goes through the one writer.
 */
export class Library {
  readonly writer: Writer;
  readonly meshes: Meshes;
  readonly bodies: Bodies;
  readonly projects: Projects;
  readonly parts: Parts;
  readonly prints: PrintLog;
  readonly stakes: Stakes;
  readonly views: BodyViews;
  readonly shelf: Shelf;
  readonly references: References;
  readonly dismissals: Dismissals;
  readonly answers: Answers;
  readonly joints: Ticks;
  readonly tips: Ticks;
  readonly workshop: Workshop;
  readonly bedfuls: Bedfuls;
  readonly jobs: JobRows;
  readonly batches: Batches;
  readonly kits: Kits;
  readonly twins: Twins;
  readonly attachments: Attachments;
  readonly arrivals: Arrivals;

  constructor(
    readonly database: Database,
    readonly blobs: BlobStore,
  ) {
    const { db } = database;
    this.writer = new Writer(database, blobs);
    this.meshes = new Meshes(db, this.writer, blobs);
    this.bodies = new Bodies(db, this.writer, this.meshes);
    this.projects = new Projects(db, this.writer, this.bodies);
    this.prints = new PrintLog(db, this.writer);
    this.parts = new Parts(db, this.meshes, this.prints);
    this.stakes = new Stakes(this.bodies, this.parts, this.prints);
    this.views = new BodyViews(db, this.bodies, this.meshes, this.parts);
    this.shelf = new Shelf(db, this.views);
    this.references = new References(db, this.writer);
    this.dismissals = new Dismissals(db, this.writer);
    this.answers = new Answers(db, this.writer);
    this.joints = new Ticks(db, this.writer, joints, 'joint');
    this.tips = new Ticks(db, this.writer, tipTicks, 'tip');
    this.workshop = new Workshop(db, this.writer, this.prints);
    this.bedfuls = new Bedfuls(db, this.writer, this.views, this.workshop, this.prints);
    this.jobs = new JobRows(db, this.writer);
    this.batches = new Batches(db, this.jobs);
    this.kits = new Kits(db, this.writer, this.views, this.batches);
    this.twins = new Twins(db, this.writer, this.views);
    this.attachments = new Attachments(db, this.writer);
    this.arrivals = new Arrivals(blobs, (files) => this.forget(files));
  }

  /** Removes files that nothing on record needs, while nothing else is changed. */
  private async forget(files: readonly KeptFile[]): Promise<void> {
    if (files.length === 0) return;
    await this.writer.alone(async () => {
      const needed = await needsOf(this.database.db);
      for (const { kind, name } of files) if (!needed[kind].has(name)) await this.blobs.remove(kind, name);
    });
  }

  /** Moves what nothing can come back to into the trash, while nothing else is changed. */
  collect(youngerMs?: number): Promise<Collected> {
    return this.writer.alone((write) => collectUnneeded(this.database.db, write, this.blobs, youngerMs));
  }
}
