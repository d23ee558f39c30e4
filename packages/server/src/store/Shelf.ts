import { desc } from 'drizzle-orm';
import { attentionOf } from '@jasmorphe/contracts/reading/findings';
import type { BodyView, ProjectSummary } from '@jasmorphe/contracts/views';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import { isPrinted } from '@jasmorphe/core/planning/printState';
import { log } from '../log.ts';
import type { BodyViews } from './BodyViews.ts';
import type { Reading } from './database.ts';
import { projects } from './schema.ts';
import { troubleOf } from './troubles.ts';

/** All projects at a glance, read in the same number of queries however many there are. */
export class Shelf {
  constructor(
    private readonly db: Reading,
    private readonly views: BodyViews,
  ) {}

  async projects(): Promise<ProjectSummary[]> {
    const rows = await this.db.query.projects.findMany({ orderBy: desc(projects.updatedAt) });
    const all = await this.views.allModels();
    const views = await this.views.viewsOf(all.map((m) => m.id));
    return rows.map(({ source: _s, terms: _t, licence: _l, ...row }) => {
      const blank = { ...row, models: [], pieces: 0, parts: 0, printed: 0, attention: [], trouble: null };
      const bodies: BodyView[] = [];
      for (const { id } of all.filter((m) => m.projectId === row.id)) {
        const view = views.get(id);
        if (view instanceof Error) {
          // one bad row must not take the others away
          log.error(view, `Project ${row.id} cannot be read`);
          const what = troubleOf(view)?.message ?? 'Part of its record cannot be read.';
          return { ...blank, trouble: `${what} "jasmorphe doctor" tells more.` };
        }
        if (view) bodies.push(view);
      }
      return { ...blank, ...summaryOf(bodies) };
    });
  }
}

/** What stands out about the models of a project. */
function summaryOf(
  bodies: readonly BodyView[],
): Pick<ProjectSummary, 'models' | 'pieces' | 'parts' | 'printed' | 'attention'> {
  const parts = bodies.flatMap((b) => b.parts);
  return {
    models: bodies.map((b) => ({
      id: b.id,
      name: b.name,
      meshHash: b.mesh.hash,
      sizeMm: b.mesh.facts.size,
      stage: b.line[b.cursor - 1]?.operation ?? catalogue.import.name,
    })),
    pieces: bodies.length,
    parts: parts.length,
    printed: parts.filter(isPrinted).length,
    // what is not printed worries nobody
    attention: bodies.filter((b) => b.aside === null).flatMap(attentionOf),
  };
}
