import { lastStepOf, meshHashAfter } from '@jasmorphe/contracts/steps';
import { heldWords, printedCount } from '@jasmorphe/contracts/reading/stakes';
import type { PartView, PrintsAtStake } from '@jasmorphe/contracts/views';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import { isHeld, standingOf } from '@jasmorphe/core/planning/printState';
import { Refusal } from './Refusal.ts';
import type { Bodies, Body } from './Bodies.ts';
import type { Parts } from './Parts.ts';
import type { PrintLog } from './PrintLog.ts';

/** A line as it stands, or would. */
type State = Pick<Body, 'line' | 'cursor'>;

/** A print, or what hangs on one: the part, and the mesh by which its prints are known. */
type Held = Pick<PartView, 'tag' | 'state'> & { mesh: string; made: string };

/** Prints that hang on lines: what a change of a line would make of no use. */
export class Stakes {
  constructor(
    private readonly bodies: Bodies,
    private readonly parts: Parts,
    private readonly prints: PrintLog,
  ) {}

  /** Parts that are in force where a model's line stands so. */
  private async partsUnder({ model }: Pick<Body, 'model'>, { line, cursor }: State): Promise<PartView[]> {
    const step = lastStepOf(line, cursor, catalogue.divide);
    const found = step && (await this.parts.viewsOf(new Map([[model.id, step]]))).get(model.id);
    if (found instanceof Error) throw found;
    return found ?? [];
  }

  /** What was said of the mesh that a part has where its line stands so; none where nothing was. */
  private async printUnder(body: Body, { line, cursor }: State): Promise<Held[]> {
    const mesh = meshHashAfter(line, cursor) ?? body.part!.meshHash;
    const { state } = standingOf((await this.prints.eventsOf([body.model.id])).get(body.model.id)?.get(mesh) ?? []);
    const rests = line.slice(0, cursor).filter((s) => s.operation === catalogue.recut.name).length;
    const tag = rests > 0 ? `${body.part!.tag}r${rests}` : body.part!.tag;
    return isHeld({ state, rests: 0 }) ? [{ tag, state, mesh, made: mesh }] : [];
  }

  private async heldUnder(body: Body, state: State): Promise<Held[]> {
    if (body.kind === 'part') return this.printUnder(body, state);
    const parts = await this.partsUnder(body, state);
    return parts.filter(isHeld).map((p) => ({ tag: p.tag, state: p.state, mesh: p.mesh.hash, made: p.meshHash }));
  }

  /** Meshes of what can be printed where a line stands so. */
  private async meshesUnder(body: Body, state: State): Promise<Set<string>> {
    if (body.kind === 'part') return new Set([meshHashAfter(state.line, state.cursor) ?? body.part!.meshHash]);
    return new Set((await this.partsUnder(body, state)).map((p) => p.mesh.hash));
  }

  /** What an undo, a redo, or going along the line would do to prints. @param final states that only a redo comes back to are forgotten by it */
  async ofMove(body: Body, next: State, final = false): Promise<PrintsAtStake> {
    const there = await this.meshesUnder(body, next);
    const held = [...(await this.heldUnder(body, body)), ...(final ? await this.ahead(body) : [])];
    return told(held, (h) => there.has(h.mesh));
  }

  /**
   * What new parts would mean for those that are printed, on the bed, or stopped with something to save. What comes out as it
   * was keeps what was done to it.
   *
   * @param outputs of the divide that would be in force; null where the one that is in force stays
   */
  async ofChange(body: Body, outputs: readonly string[] | null): Promise<PrintsAtStake> {
    const stays = new Set(outputs);
    // a recut of what stopped makes use of it
    const now = body.kind === 'part' || outputs === null ? [] : await this.heldUnder(body, body);
    return told([...now, ...(await this.ahead(body))], (h) => stays.has(h.made));
  }

  /** Prints that hang on states of a line which only a redo comes back to, and on none that is in force. */
  async ahead(body: Body): Promise<Held[]> {
    const states = await this.bodies.statesAhead(body);
    if (states.length === 0) return [];
    const there = await this.meshesUnder(body, body);
    const found = new Map<string, Held>();
    for (const state of states)
      for (const held of await this.heldUnder(body, state)) if (!there.has(held.mesh)) found.set(held.mesh, held);
    return [...found.values()];
  }
}

const told = (held: readonly Held[], stays: (held: Held) => boolean): PrintsAtStake => ({
  lost: held.filter((h) => !stays(h)).map(({ tag, state }) => ({ tag, state })),
  kept: held.filter(stays).map((h) => h.tag),
});

/** Refuses to make prints of no use by a slip: whoever changes the line says that it may be. @throws Refusal `prints-at-stake` */
export function refuseLoss({ lost }: PrintsAtStake): void {
  if (lost.length === 0) return;
  throw new Refusal(
    'state',
    'prints-at-stake',
    `${printedCount(lost)} would be of no use: ${heldWords(lost)}.`,
    'The log keeps what was said of them. Say lose to do it all the same.',
    'lose',
  );
}

/** Refuses to make it final that prints were undone. @throws Refusal `prints-at-stake` */
export function refuseFinal(ahead: PrintsAtStake['lost']): void {
  if (ahead.length === 0) return;
  throw new Refusal(
    'state',
    'prints-at-stake',
    `Only Redo brings ${printedCount(ahead)} back: ${heldWords(ahead)}. After another step it cannot.`,
    'Redo, or say lose to do it all the same.',
    'lose',
  );
}
