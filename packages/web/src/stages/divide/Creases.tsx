import Button from '@mui/material/Button';
import { useEffect, useState } from 'react';
import type { CreaseLoop } from '@jasmorphe/core/planning/cuts/creaseLoops';
import { alongLoop } from '@jasmorphe/core/planning/cuts/loopPlane';
import type { PlaneCut } from '@jasmorphe/core/planning/cuts/PlaneCut';
import { fixed } from '@jasmorphe/core/words/numbers';
import { useLength } from '../../app/useLength.ts';
import { fullMesh } from '../../worker/fullMesh.ts';
import { Row, Rows } from '../../ui/Rows.ts';

/** How many creases are offered before the rest is asked for. */
const offered = 3;

/** Closed creases of the model, to be cut along: the seam is then where the eye expects one. */
export function Creases({
  hash,
  onLook,
  onCut,
}: {
  hash: string;
  /** looked at on the bench; null when no longer */
  onLook: (cut: PlaneCut | null) => void;
  onCut: (cut: PlaneCut) => void;
}) {
  const length = useLength();
  const [found, setFound] = useState<{ hash: string; loops: CreaseLoop[] } | null>(null);
  const [all, setAll] = useState(false);
  useEffect(() => {
    let live = true;
    void fullMesh()
      .creases(hash)
      .then((loops) => live && setFound({ hash, loops }))
      .catch(() => undefined);
    return () => void (live = false);
  }, [hash]);
  const loops = found?.hash === hash ? found.loops : [];
  if (loops.length === 0) return null;
  return (
    <div>
      <Rows aria-label="Closed creases">
        {(all ? loops : loops.slice(0, offered)).map((l, i) => (
          <Row key={i} onMouseEnter={() => onLook(alongLoop(l.points))} onMouseLeave={() => onLook(null)}>
            <span>
              A crease of <span className="figure">{length(l.lengthMm)}</span> closes around{' '}
              <span className="figure">{fixed(100 * l.share, l.share < 0.1 ? 1 : 0)} %</span> of the skin.
            </span>
            <Button
              variant="text"
              size="small"
              onFocus={() => onLook(alongLoop(l.points))}
              onBlur={() => onLook(null)}
              onClick={() => {
                onLook(null);
                onCut(alongLoop(l.points));
              }}
            >
              Cut along it
            </Button>
          </Row>
        ))}
      </Rows>
      {loops.length > offered && !all && (
        <Button variant="text" size="small" onClick={() => setAll(true)}>
          {loops.length - offered} more creases
        </Button>
      )}
    </div>
  );
}
