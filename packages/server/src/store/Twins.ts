import { eq } from 'drizzle-orm';
import { randomUUID } from 'node:crypto';
import { mostPieces } from '@jasmorphe/contracts/kitRequests';
import { Refusal } from './Refusal.ts';
import type { BodyViews } from './BodyViews.ts';
import { isOneOf } from './named.ts';
import type { Reading, Statement } from './database.ts';
import { dismissals, lineStates, models, parts } from './schema.ts';
import type { Writer } from './Writer.ts';

type ModelRow = typeof models.$inferSelect;

/** A path of which a running number tells a further piece, not another form of it: `axles/wheel.stl`, `axles/wheel 2.stl`. */
const numbered = (path: string, n: number): string => path.replace(/(\.[^./]*)?$/, (ending) => ` ${n}${ending}`);

const refused = (message: string, hint: string): Refusal => new Refusal('state', 'cannot', message, hint, 'copies');

/** One piece that several are printed of, made as many pieces. */
export class Twins {
  constructor(
    private readonly db: Reading,
    private readonly writer: Writer,
    private readonly views: BodyViews,
  ) {}

  /**
   * Makes twins of a model, each with its line, its parts and its reasons, and with no print yet. Of each one is printed
   * then; meshes are shared.
   *
   * @param copies how many of it were to be printed, itself included
   * @returns ids of the twins
   * @throws Refusal where that number is another by now, something is at work on it, or a part of it was recut
   */
  async make(modelId: string, copies: number): Promise<string[]> {
    const { model, names, statements, ids } = await this.planned(modelId, copies);
    await this.writer.commit('twins', statements, {
      bodies: [modelId],
      holds: async () => {
        const now = await this.planned(modelId, copies);
        if (
          now.model.seq !== model.seq ||
          now.statements.length !== statements.length ||
          now.names.join() !== names.join()
        )
          throw refused(`${model.name} has changed meanwhile.`, 'Look again, and repeat it.');
      },
    });
    return ids;
  }

  private async planned(modelId: string, copies: number) {
    const view = await this.views.view(modelId);
    const model = await this.db.query.models.findFirst({ where: eq(models.id, modelId) });
    if (!model || view.kind !== 'model')
      throw new Refusal('request', 'cannot', 'A part has as many copies as its piece.', 'Say it of the piece.');
    if (model.copies !== copies)
      throw refused(
        `${model.copies} of ${model.name} ${model.copies === 1 ? 'is' : 'are'} to be printed by now.`,
        'Look again.',
      );
    if (view.busyJobId !== null)
      throw new Refusal(
        'state',
        'busy',
        `Something is at work on ${model.name} just now.`,
        'Wait for it, or cancel it.',
      );
    const recut = view.parts.find((p) => p.rests > 0);
    if (recut)
      throw refused(
        `${recut.tag} is what a print left missing of one of them.`,
        'Take the recut back first, at Print.',
      );
    const beside = await this.db
      .select({ name: models.name })
      .from(models)
      .where(eq(models.projectId, model.projectId));
    if (beside.length + copies - 1 > mostPieces)
      throw refused(`A project has at most ${mostPieces} pieces.`, 'Print them in two projects.');
    const taken = new Set(beside.map((b) => b.name));
    const ids: string[] = [];
    const names: string[] = [];
    const statements: Statement[] = [this.db.update(models).set({ copies: 1 }).where(eq(models.id, modelId))];
    for (let n = 2; ids.length < copies - 1; n++) {
      const name = `${model.name.slice(0, 120 - ` ${n}`.length)} ${n}`;
      if (taken.has(name)) continue;
      const id = randomUUID();
      ids.push(id);
      names.push(name);
      statements.push(...(await this.twin(model, { id, name, path: model.path && numbered(model.path, n) })));
    }
    return { model, names, statements, ids };
  }

  /** Statements that make one twin. */
  private async twin(model: ModelRow, own: Pick<ModelRow, 'id' | 'name' | 'path'>): Promise<Statement[]> {
    const ofParts = await this.db.select().from(parts).where(eq(parts.modelId, model.id));
    const bodies = new Map([[model.id, own.id], ...ofParts.map((p) => [p.id, randomUUID()] as const)]);
    const ids = [...bodies.keys()];
    const lines = await this.db.select().from(lineStates).where(isOneOf(lineStates.bodyId, ids));
    const reasons = await this.db.select().from(dismissals).where(isOneOf(dismissals.bodyId, ids));
    return [
      this.db.insert(models).values({ ...model, ...own, copies: 1, createdAt: new Date().toISOString() }),
      ...ofParts.map((p) => this.db.insert(parts).values({ ...p, id: bodies.get(p.id)!, modelId: own.id })),
      ...lines.map((l) => this.db.insert(lineStates).values({ ...l, bodyId: bodies.get(l.bodyId)! })),
      ...reasons.map((d) => this.db.insert(dismissals).values({ ...d, bodyId: bodies.get(d.bodyId)! })),
    ];
  }
}
