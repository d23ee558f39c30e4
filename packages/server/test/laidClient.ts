import { expect } from 'chai';
import { laidPart } from '@jasmorphe/contracts/reading/laidPart';
import type { BedfulsView, BedfulView } from '@jasmorphe/contracts/dayViews';
import type { ErrorBody, JobView, LogEntryView, PartView, PrinterView, StepView } from '@jasmorphe/contracts/views';
import type { LaidPart } from '@jasmorphe/core/planning/bedfuls/LaidPart';
import type { PlacedOnBed } from '@jasmorphe/core/planning/bedfuls/PlacedOnBed';
import { KitClient } from './kitClient.ts';
import { ownServer, type OwnServer } from './ownServer.ts';

/** Room of the printers that slabs are laid for. */
export const bed = { bedMm: [80, 80, 80], marginMm: 2 };

/** Parts of a cube that was cut, laid, and put on beds, as a page does it. */
export class LaidClient extends KitClient {
  /** A printer of one's own, so that nothing stands on it. */
  ownPrinter = async (bedMm = bed.bedMm): Promise<PrinterView> =>
    (await this.call<PrinterView>('POST', '/api/printers', { ...bed, name: `Long bed ${Math.random()}`, bedMm })).body;

  /** One that takes two slabs side by side. */
  widePrinter = (): Promise<PrinterView> => this.ownPrinter([120, 70, 80]);

  /** A cube of 50.8 mm cut into slabs that lie on a low bed; two of up to 30 mm, or four of up to 15. */
  async slabs(high: 30 | 15 = 30, into?: string) {
    const { projectId, id } = await this.importedCube('in', undefined, into);
    await this.step(id, 'divide', { bed: [60, 60, high], join: 'none' });
    const parts = async () => (await this.body(id)).parts;
    const say = (part: PartView, outcome: string, more: object = {}) =>
      this.call<LogEntryView & ErrorBody>('POST', `/api/projects/${projectId}/log`, {
        partId: part.id,
        outcome,
        ...more,
      });
    return { projectId, id, parts, say };
  }

  /** The same, each laid. @param printer that they are put on */
  async laidSlabs(printer: PrinterView, high: 30 | 15 = 30, into?: string) {
    const slabs = await this.slabs(high, into);
    const { id, parts } = slabs;
    for (const part of await parts())
      expect((await this.step(part.id, 'pose', { up: [0, 0, 1], printer: bed, compare: false })).state).equal('done');
    const work = async (placed: PlacedOnBed[] = []): Promise<StepView> =>
      this.put(id, printer, (await parts()).map(laidPart), placed);
    const keep = (step: StepView) =>
      this.call<BedfulsView & ErrorBody>('POST', `/api/bodies/${id}/bedfuls`, { stepId: step.id });
    const kept = async () => (await this.call<BedfulsView>('GET', `/api/bodies/${id}/bedfuls`)).body;
    return { ...slabs, work, keep, kept };
  }

  /** Works out what goes on which bed. */
  async put(id: string, printer: PrinterView, parts: LaidPart[], placed: PlacedOnBed[] = []): Promise<StepView> {
    const asked = await this.call<JobView | StepView>('POST', `/api/bodies/${id}/previews`, {
      operation: 'bedfuls',
      params: { printers: [printer.profile], placed, parts },
    });
    if (asked.status === 200) return asked.body as StepView;
    await this.of().queue.idle();
    const { result, error } = await this.job(asked.body.id);
    expect(error).equal(null);
    return (await this.call<StepView>('GET', `/api/steps/${result!.stepId}`)).body;
  }

  /** Says something of a bedful: start, end or undo. */
  on = (b: BedfulView, what: 'start' | 'end' | 'undo', body?: object) =>
    this.call<BedfulView & ErrorBody>('POST', `/api/bedfuls/${b.id}/${what}`, body);
}

/** A server of its own for a block of tests, and who calls it. */
export function laidServer(): OwnServer & { client: LaidClient } {
  const own = ownServer();
  return Object.defineProperty(own, 'client', { value: new LaidClient(() => own.server) }) as never;
}

export const message = ({ body }: { body: ErrorBody }): string => body.error.message;
export const tagsOf = (list: readonly BedfulView[]): string[][] => list.map((b) => b.parts.map((p) => p.tag).sort());
