import { relations } from 'drizzle-orm';
import { dismissals, jobs, models, parts, projects, references } from './schema.ts';

export const projectRelations = relations(projects, ({ many }) => ({ models: many(models) }));

export const modelRelations = relations(models, ({ one, many }) => ({
  project: one(projects, { fields: [models.projectId], references: [projects.id] }),
  parts: many(parts),
  references: many(references),
  dismissals: many(dismissals),
  jobs: many(jobs),
}));

export const partRelations = relations(parts, ({ one, many }) => ({
  model: one(models, { fields: [parts.modelId], references: [models.id] }),
  dismissals: many(dismissals),
  jobs: many(jobs),
}));

export const referenceRelations = relations(references, ({ one }) => ({
  model: one(models, { fields: [references.modelId], references: [models.id] }),
}));

/** A dismissal or a job is of a model or of a part: the id says which. */
export const dismissalRelations = relations(dismissals, ({ one }) => ({
  model: one(models, { fields: [dismissals.bodyId], references: [models.id] }),
  part: one(parts, { fields: [dismissals.bodyId], references: [parts.id] }),
}));

export const jobRelations = relations(jobs, ({ one }) => ({
  model: one(models, { fields: [jobs.bodyId], references: [models.id] }),
  part: one(parts, { fields: [jobs.bodyId], references: [parts.id] }),
}));
