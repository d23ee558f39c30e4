import { isStepOf } from '@jasmorphe/contracts/steps';
import type { BodyView } from '@jasmorphe/contracts/views';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import { printOf } from './PrintLog.ts';

/** Prints of parts that stopped and were recut, as far as that is in force: their rests go on. */
export const recutsOf = (bodies: Iterable<BodyView | Error>): Set<string> =>
  new Set(
    [...bodies].flatMap((body) =>
      body instanceof Error
        ? []
        : body.parts.flatMap(({ line, cursor }) =>
            line
              .slice(0, cursor)
              .filter((step) => isStepOf(step, catalogue.recut))
              .map((step) => printOf({ modelId: body.id, meshHash: step.inputs[0] })),
          ),
    ),
  );
