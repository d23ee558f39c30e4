import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import { styled } from '@mui/material/styles';
import type { DividedPart } from '@jasmorphe/core/operations/divide/describe';
import type { JoinPlace } from '@jasmorphe/core/params/checks';
import type { PlacedJoin } from '@jasmorphe/core/operations/divide/joins/Join';
import { joinWords } from '@jasmorphe/core/trade/joinKinds';
import { fixed, massText, sizeText } from '@jasmorphe/core/words/numbers';
import { useSpeaker } from '../../app/useLength.ts';
import { withOneMore, type JoinedFace } from './usePegs.ts';
import { CloseIcon } from '../../ui/icons.tsx';
import { FigurePairs } from '../../ui/layout.ts';
import { Row, Rows } from '../../ui/Rows.ts';

const Card = styled('section')({
  display: 'flex',
  flexDirection: 'column',
  gap: 4,
  borderTop: '1px solid var(--line2)',
  paddingTop: 6,
  fontSize: 12,
});

/** A join in a line: what it is, how large, how much flesh is beside it. */
function joinText(j: PlacedJoin, length: (mm: number) => string): string {
  const role = j.role === 'pin' || j.size !== '' ? '' : ' hole';
  const size = j.size !== '' ? ` ${j.size}` : ` ${fixed(j.diameterMm, 1)} × ${fixed(j.depthMm, 1)}`;
  return `${joinWords[j.kind].one}${role}${size}, ${length(j.wallMm)} beside${j.boss ? ', in a boss' : ''}`;
}

/** What there is to say of a part: size, mass, neighbours, printer, joins; and what can be done with its cuts and joins. */
export function PartCard({
  part,
  density,
  printer,
  faces,
  kind,
  onPick,
  onMerge,
  onPlaces,
  onAutomatic,
}: {
  part: DividedPart;
  /** g/cm³ */
  density: number;
  /** on which it is printed, where that is known */
  printer: string;
  /** its faces with what stands on them by hand */
  faces: readonly JoinedFace[];
  /** of a join that is added */
  kind: JoinPlace['kind'];
  onPick: (tag: string) => void;
  /** takes the cut away that parts it from a neighbour; null for the only cut, which Undo takes away */
  onMerge: ((cut: number) => void) | null;
  onPlaces: (face: JoinedFace, places: JoinPlace[]) => void;
  /** leaves the joins of a face to the program again; null where none were placed by hand */
  onAutomatic: (() => void) | null;
}) {
  const say = useSpeaker();
  const { length } = say;
  const byHand = faces.filter((f) => f.own);
  const shown = part.joins.filter((j) => !byHand.some((f) => f.cut === j.cut && f.to === j.to));
  return (
    <Card aria-label={`Part ${part.tag}`}>
      <div className="panelHead">
        <b>{part.tag}</b>
        <span className="figure">{sizeText(part.size, length)}</span>
      </div>
      <FigurePairs>
        <dt>Volume</dt>
        <dd className="figure">{say.volume(part.volumeMm3)}</dd>
        <dt>Mass, solid</dt>
        <dd className="figure">{massText((part.volumeMm3 / 1000) * density)}</dd>
        <dt>Lies</dt>
        <dd className="figure">{length(part.heightMm)} high</dd>
        <dt>Printer</dt>
        <dd>{printer || '—'}</dd>
      </FigurePairs>
      <Rows aria-label="Neighbours">
        {part.beside.map((b) => {
          const face = faces.find((f) => f.cut === b.cut && f.to === b.tag);
          const more = face && withOneMore(face, kind);
          return (
            <Row key={b.tag}>
              <Button variant="text" onClick={() => onPick(b.tag)}>
                {b.tag}
              </Button>
              <span className="figure">{say.area(b.areaMm2)}</span>
              {onMerge && (
                <Button variant="text" color="inherit" onClick={() => onMerge(b.cut)}>
                  Merge, without cut {b.cut}
                </Button>
              )}
              {face && more && (
                <Button
                  variant="text"
                  color="inherit"
                  aria-label={`Add a join to ${b.tag}`}
                  onClick={() => onPlaces(face, more)}
                >
                  Add a join
                </Button>
              )}
            </Row>
          );
        })}
      </Rows>
      {shown.length + byHand.length > 0 && (
        <Rows aria-label="Joins">
          {shown.map((j, i) => {
            const face = faces.find((f) => f.cut === j.cut && f.to === j.to);
            const at = face?.places.findIndex((p) => p.at[0] === j.at.x && p.at[1] === j.at.y && p.at[2] === j.at.z);
            return (
              <Row key={i}>
                <span>
                  <b>{j.to}</b> {joinText(j, length)}
                </span>
                {face && at !== undefined && at >= 0 && (
                  <IconButton
                    size="small"
                    aria-label={`Take join ${i + 1} away`}
                    onClick={() =>
                      onPlaces(
                        face,
                        face.places.filter((_, k) => k !== at),
                      )
                    }
                  >
                    <CloseIcon fontSize="inherit" />
                  </IconButton>
                )}
              </Row>
            );
          })}
          {byHand.flatMap((face) =>
            face.places.map((p, i) => (
              <Row key={`${face.to} ${i}`}>
                <span>
                  <b>{face.to}</b>{' '}
                  {p.kind === 'none' ? 'no join' : `${joinWords[p.kind ?? 'pin'].one} ${fixed(p.mm ?? 6, 1)}`}{' '}
                  <span className="quiet">yours</span>
                </span>
                {p.kind !== 'none' && (
                  <IconButton
                    size="small"
                    aria-label={`Take the join to ${face.to} away, ${i + 1}`}
                    onClick={() =>
                      onPlaces(
                        face,
                        face.places.filter((_, k) => k !== i),
                      )
                    }
                  >
                    <CloseIcon fontSize="inherit" />
                  </IconButton>
                )}
              </Row>
            )),
          )}
        </Rows>
      )}
      {faces.some((f) => f.places.some((p) => p.kind !== 'none')) && (
        <p className="quiet">Drag the pegs on the bench to move joins.</p>
      )}
      {onAutomatic && (
        <Button variant="text" sx={{ alignSelf: 'flex-start' }} onClick={onAutomatic}>
          Place its joins automatically
        </Button>
      )}
    </Card>
  );
}
