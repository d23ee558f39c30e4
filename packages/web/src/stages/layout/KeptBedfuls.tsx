import Button from '@mui/material/Button';
import Link from '@mui/material/Link';
import { Link as RouteLink } from 'react-router';
import { tagsText } from '@jasmorphe/contracts/reading/tags';
import type { BedfulsView } from '@jasmorphe/contracts/dayViews';
import { fixed, massText, saidAgain, secondsText } from '@jasmorphe/core/words/numbers';
import { hrefOf } from '../../app/addresses.ts';
import { useRemoveBedfulMutation, useUndoBedfulsMutation } from '../../app/daysApi.ts';
import { useSpeaker } from '../../app/useLength.ts';
import { troubleText } from '../../days/bedfulWords.ts';
import { Note } from '../../ui/Note.tsx';
import { BedDrawing } from './BedDrawing.tsx';
import { drawnOf } from './beds.ts';
import { Actions } from '../../ui/layout.ts';
import { BedfulList } from './BedfulList.ts';

const stateWords = { waiting: 'waits', printing: 'on the bed', done: 'off the bed' } as const;

/** Bedfuls as they were decided: what waits, what is on a bed, what came off. */
export function KeptBedfuls({
  modelId,
  kept: { bedfuls, canUndo },
  onArrange,
}: {
  modelId: string;
  kept: BedfulsView;
  onArrange: () => void;
}) {
  const say = useSpeaker();
  const [undo, undoing] = useUndoBedfulsMutation();
  const [remove, removing] = useRemoveBedfulMutation();
  const busy = undoing.isLoading || removing.isLoading;
  const waiting = bedfuls.some((b) => b.state === 'waiting');
  return (
    <>
      <BedfulList aria-label="Bedfuls that were kept">
        {bedfuls.map((bedful) => {
          const odd = bedful.parts.filter((p) => p.trouble !== null);
          return (
            <li key={bedful.id}>
              <BedDrawing bed={drawnOf(bedful)} />
              <div>
                <b>Bedful {bedful.number}</b> {bedful.printer}, {stateWords[bedful.state]}
                <br />
                {tagsText(bedful)}
                <br />
                <span className="figure">
                  {secondsText(bedful.durationS)} · {massText(bedful.materialG)} · {fixed(bedful.fillPct, 0)} % full
                </span>
                {bedful.settings && <small>{saidAgain(bedful.settings, say)}</small>}
                {odd.length > 0 && (
                  <Note tone="attention">
                    {odd.map((p) => `${p.tag} ${troubleText[p.trouble!]}`).join(', ')}: plan the bedfuls anew.
                  </Note>
                )}
                {bedful.state === 'waiting' && bedful.printerId === null && (
                  <Note tone="attention">Its printer is gone, or no longer printed with: plan the bedfuls anew.</Note>
                )}
                <div>
                  <Link href={hrefOf('GET /bedfuls/{id}/file', { id: bedful.id })} underline="hover" download>
                    Fetch it as 3MF
                  </Link>
                  {bedful.state === 'waiting' && (
                    <Button
                      variant="text"
                      disabled={busy}
                      onClick={() => void remove({ id: bedful.id, modelId: bedful.modelId })}
                    >
                      Take it apart
                    </Button>
                  )}
                </div>
              </div>
            </li>
          );
        })}
      </BedfulList>
      <Actions>
        {waiting && (
          <Button variant="outlined" onClick={onArrange}>
            Move parts by hand
          </Button>
        )}
        {canUndo && (
          <Button variant="text" disabled={busy} onClick={() => void undo(modelId)}>
            Bedfuls as before
          </Button>
        )}
        <Link component={RouteLink} to="/days" underline="hover">
          When each is printed: Days
        </Link>
      </Actions>
    </>
  );
}
