import Button from '@mui/material/Button';
import type { BodyView, PartView, PrinterView } from '@jasmorphe/contracts/views';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import { countOf } from '@jasmorphe/core/words/numbers';
import { wordsOf } from '../../app/api.ts';
import { useKitQuery, useRunBatchMutation } from '../../app/kitApi.ts';
import { usePrinter } from '../../app/usePrinter.ts';
import { BatchLine } from '../../kit/BatchLine.tsx';
import { Note } from '../../ui/Note.tsx';
import { poseParams, printerOfPart } from './poseParams.ts';

/** Parts that wait to be laid: those that are printed, on the bed or set aside stay as they are. */
const waiting = (parts: readonly PartView[]): PartView[] =>
  parts.filter((p) => p.posed === null && p.state === 'planned' && p.rests === 0);

/** All parts that are not laid yet, each in the best pose found: work of its own, told, cancelled and undone as one. */
export function LayAll({ body, printers }: { body: BodyView; printers: PrinterView[] }) {
  const { printer } = usePrinter(printers);
  const [run, running] = useRunBatchMutation();
  const { data: kit } = useKitQuery(body.projectId);
  const parts = waiting(body.parts);
  const batch = kit?.batches.find(
    (b) => b.kind === 'line' && b.operation === catalogue.pose.name && b.undoneAt === null,
  );
  const working = (batch?.open ?? 0) > 0;
  const layAll = async () => {
    const byPrinter = new Map<PrinterView | undefined, string[]>();
    for (const part of parts) {
      const own = printerOfPart(part, printers, printer);
      byPrinter.set(own, [...(byPrinter.get(own) ?? []), part.id]);
    }
    for (const [own, bodyIds] of byPrinter) {
      const params = { ...poseParams(body, own), compare: false };
      await run({ projectId: body.projectId, operation: catalogue.pose.name, params, bodyIds });
    }
  };
  return (
    <div className="layAll">
      {parts.length > 1 && (
        <Button variant="outlined" disabled={running.isLoading || working} onClick={() => void layAll()}>
          Lay all {countOf(parts.length, 'part')} as found best
        </Button>
      )}
      {running.error && (
        <Note tone="failure">
          <b>{wordsOf(running.error).message}</b> {wordsOf(running.error).hint}
        </Note>
      )}
      {batch && <BatchLine batch={batch} />}
    </div>
  );
}
