import type { BodyView } from '@jasmorphe/contracts/views';
import { divide } from './divide/stage.ts';
import { finish } from './finish/stage.ts';
import { hollow } from './hollow/stage.ts';
import { intake } from './intake/stage.ts';
import { layout } from './layout/stage.ts';
import { mend } from './mend/stage.ts';
import { print } from './print/stage.ts';
import { size } from './size/stage.ts';
import { stageIds, type Stage, type StageId, type StageStop } from './Stage.ts';

/** Every stop of the route. */
export const stages: Record<StageId, Stage> = { intake, mend, size, hollow, divide, layout, print, finish };

/** Each stop of the route with its one figure and its state. */
export const routeOf = (body: BodyView, length: (mm: number) => string): StageStop[] =>
  stageIds.map((id) => ({ id, title: stages[id].title, ...stages[id].stand(body, length) }));
