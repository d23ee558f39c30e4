import { jointsOf, waitsOf } from '@jasmorphe/contracts/reading/joints';
import { tipKeys } from '@jasmorphe/contracts/reading/poses';
import type { BodyView } from '@jasmorphe/contracts/views';
import type { Told } from '../store/Answers.ts';
import type { Library } from '../store/Library.ts';
import { Refusal } from '../store/Refusal.ts';
import type { Teller } from '../store/Teller.ts';
import { saidOf } from './said.ts';

/** What can be ticked off on the bench: a joint of a model that was joined, a support tip of a part that was cut away. */
export type Tickable = 'joint' | 'tip';

/** What was done on the bench, ticked off and taken back. */
export class BenchTicks {
  constructor(
    private readonly library: Library,
    private readonly teller: Teller,
  ) {}

  /**
   * @param anyway a joint, though parts of it are not off the bed yet
   * @throws Refusal `not-found` where there is none of that key; `parts-wait`, `key-used`
   */
  async tick(what: Tickable, bodyId: string, key: string, anyway: boolean, told: Told): Promise<BodyView> {
    return this.library.answers.once(told.key, ['tick', what, bodyId, key, anyway, told.at], {
      about: bodyId,
      act: async (once) => {
        if (what === 'joint') await this.mayJoin(bodyId, key, anyway);
        else await this.mustBeTip(bodyId, key);
        await this.ticks(what).tick(bodyId, key, saidOf(told).at, once);
        await this.tell(bodyId);
      },
      answer: (id) => this.library.views.view(id),
    });
  }

  /** What was ticked off was not done after all. @throws Refusal `not-found`, `key-used` */
  async untick(what: Tickable, bodyId: string, key: string, told: Told): Promise<BodyView> {
    return this.library.answers.once(told.key, ['untick', what, bodyId, key, told.at], {
      about: bodyId,
      act: async (once) => {
        if (what === 'tip' && !tipKeys.test(key)) throw Refusal.notFound('tip', key);
        await this.ticks(what).untick(bodyId, key, once);
        await this.tell(bodyId);
      },
      answer: (id) => this.library.views.view(id),
    });
  }

  private ticks(what: Tickable) {
    return what === 'joint' ? this.library.joints : this.library.tips;
  }

  private async mayJoin(bodyId: string, key: string, anyway: boolean): Promise<void> {
    const view = await this.library.views.view(bodyId);
    const joint = jointsOf(view).find((j) => j.key === key);
    if (!joint) throw Refusal.notFound('joint', key);
    const waits = waitsOf(joint, view);
    if (waits.length > 0 && !anyway)
      throw new Refusal(
        'state',
        'parts-wait',
        `${waits.slice(0, 6).join(', ')} ${waits.length === 1 ? 'is' : 'are'} not off the bed yet.`,
        'Say at Print how that ended, or that it is joined all the same (anyway=yes).',
        'anyway',
      );
  }

  private async mustBeTip(bodyId: string, key: string): Promise<void> {
    const { kind } = await this.library.bodies.body(bodyId);
    if (kind !== 'part' || !tipKeys.test(key)) throw Refusal.notFound('tip', key);
  }

  private async tell(bodyId: string): Promise<void> {
    const { projectId, model } = await this.library.bodies.body(bodyId);
    for (const id of new Set([bodyId, model.id])) this.teller.send({ type: 'body', bodyId: id, projectId });
  }
}
