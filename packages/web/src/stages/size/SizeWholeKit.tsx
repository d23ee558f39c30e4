import Button from '@mui/material/Button';
import type { BodyView } from '@jasmorphe/contracts/views';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import { countOf, fixed } from '@jasmorphe/core/words/numbers';
import { useProjectQuery, wordsOf } from '../../app/api.ts';
import { useKitQuery, useRunBatchMutation } from '../../app/kitApi.ts';
import { useAppDispatch } from '../../app/store.ts';
import { say } from '../../app/uiSlice.ts';

/** The factor that was found on this piece, for every piece of its kit; nothing where it stands alone. */
export function SizeWholeKit({ body, factor, shrinkage }: { body: BodyView; factor: number; shrinkage: number }) {
  const dispatch = useAppDispatch();
  const { data: project } = useProjectQuery(body.projectId);
  const several = (project?.models.length ?? 0) > 1;
  const { data: kit } = useKitQuery(body.projectId, { skip: !several });
  const [run, { isLoading }] = useRunBatchMutation();
  const ids = kit?.pieces.filter((p) => p.aside === null).map((p) => p.id) ?? [];
  if (ids.length < 2) return null;
  const size = async () => {
    const { error, data } = await run({
      projectId: body.projectId,
      operation: catalogue.size.name,
      params: { factor: Number(factor.toPrecision(9)), ...(shrinkage > 0 ? { shrinkage } : {}) },
      bodyIds: ids,
    });
    const hint = 'One undo on the page of the kit takes it back on all.';
    if (error) dispatch(say({ text: wordsOf(error).message, hint: wordsOf(error).hint, tone: 'failure' }));
    else dispatch(say({ text: `${data.title}.`, hint, tone: 'note' }));
  };
  return (
    <Button variant="outlined" disabled={isLoading} onClick={() => void size()} data-testid="size-kit">
      Size the whole kit, {countOf(ids.length, 'piece')}, by ×{fixed(factor, 3)}
    </Button>
  );
}
