import Button from '@mui/material/Button';
import type { LaidModelView } from '@jasmorphe/contracts/dayViews';
import { gluedFaces } from '@jasmorphe/contracts/reading/poses';
import type { BodyView, PartView, PrinterView } from '@jasmorphe/contracts/views';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import { countOf } from '@jasmorphe/core/words/numbers';
import { isWaiting } from '@jasmorphe/core/planning/printState';
import { wordsOf } from '../../app/api.ts';
import { useKitQuery, useRunBatchMutation } from '../../app/kitApi.ts';
import { usePrinter } from '../../app/usePrinter.ts';
import { BatchLine } from '../../kit/BatchLine.tsx';
import { Note } from '../../ui/Note.tsx';
import { poseParams, printerOfPart } from './poseParams.ts';
import { useOtherModels } from './useOtherModels.ts';
import { Block } from '../../ui/layout.ts';

type Unlaid = Pick<LaidModelView, 'glued' | 'parts'>;

/** Parts that wait to be laid: those that are printed, on the bed or set aside stay as they are. */
const waiting = (parts: readonly PartView[]): PartView[] =>
  parts.filter((p) => p.posed === null && isWaiting(p) && p.rests === 0);

const countIn = (models: readonly Unlaid[]): number => models.reduce((n, m) => n + waiting(m.parts).length, 0);

/** All parts that are not laid yet, each in the best pose found: work of its own, told, cancelled and undone as one. */
export function LayAll({ body, printers }: { body: BodyView; printers: PrinterView[] }) {
  const { printer } = usePrinter(printers);
  const [run, running] = useRunBatchMutation();
  const { data: kit } = useKitQuery(body.projectId);
  const { models } = useOtherModels(body);
  const own: Unlaid = { parts: body.parts, glued: gluedFaces(body) };
  const all: Unlaid[] = [own, ...models];
  const batch = kit?.batches.find(
    (b) => b.kind === 'line' && b.operation === catalogue.pose.name && b.undoneAt === null,
  );
  const working = (batch?.open ?? 0) > 0;
  const lay = async (of: readonly Unlaid[]) => {
    // what is laid for the same printer, with no cut faces or the same, is one work
    const works = new Map<string, { params: object; bodyIds: string[] }>();
    for (const { glued, parts } of of)
      for (const part of waiting(parts)) {
        const params = { ...poseParams(glued, printerOfPart(part, printers, printer)), compare: false };
        const key = JSON.stringify(params);
        const work = works.get(key) ?? { params, bodyIds: [] };
        works.set(key, { params, bodyIds: [...work.bodyIds, part.id] });
      }
    for (const { params, bodyIds } of works.values())
      await run({ projectId: body.projectId, operation: catalogue.pose.name, params, bodyIds });
  };
  const [ours, everyone] = [countIn([own]), countIn(all)];
  const busy = running.isLoading || working;
  return (
    <Block>
      {ours > 1 && (
        <Button variant="outlined" disabled={busy} onClick={() => void lay([own])}>
          Lay all {countOf(ours, 'part')} as found best
        </Button>
      )}
      {everyone > ours && (
        <Button variant="outlined" disabled={busy} onClick={() => void lay(all)}>
          Lay {countOf(everyone, 'part')} of all models as found best
        </Button>
      )}
      {running.error && (
        <Note tone="failure">
          <b>{wordsOf(running.error).message}</b> {wordsOf(running.error).hint}
        </Note>
      )}
      {batch && <BatchLine batch={batch} />}
    </Block>
  );
}
