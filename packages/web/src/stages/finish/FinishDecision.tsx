import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import { styled } from '@mui/material/styles';
import { useEffect, useMemo, useState } from 'react';
import { cutTag, jointsOf, waitsOf, type Joint } from '@jasmorphe/contracts/reading/joints';
import { lastStepOf } from '@jasmorphe/contracts/steps';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import { countOf, whole } from '@jasmorphe/core/words/numbers';
import { useTickJointMutation } from '../../app/api.ts';
import { useAppDispatch } from '../../app/store.ts';
import { useSpeaker } from '../../app/useLength.ts';
import { setExplode, showJoint, type ShownJoint } from '../../bench/benchSlice.ts';
import { Note } from '../../ui/Note.tsx';
import type { StageProps } from '../Stage.ts';
import { adviceFor, joinsOf, wayWords } from '@jasmorphe/contracts/reading/jointWords';
import { isPrinted } from '@jasmorphe/core/planning/printState';
import { Actions, Bullets, FigurePairs } from '../../ui/layout.ts';
import { Row, Rows } from '../../ui/Rows.ts';

const JointCard = styled('div')({
  display: 'flex',
  flexDirection: 'column',
  gap: 6,
  borderLeft: '3px solid var(--verdigris)',
  background: 'var(--verdigrisGround)',
  padding: '8px 12px',
});

const Line = styled(Row)({
  display: 'grid',
  gridTemplateColumns: 'auto 1fr auto',
  alignItems: 'center',
  '& button': { justifyContent: 'flex-start', textAlign: 'left' },
});

/** How far the parts of a joint are held off on the bench. */
const heldOff = 0.6;

const viewOf = ({ parts, from, direction, rest }: Joint, idOf: (tags: readonly string[]) => string[]): ShownJoint => ({
  put: idOf(parts),
  // the stump is no body of its own
  on: rest ? [] : idOf(from),
  direction: [direction.x, direction.y, direction.z],
});

/** Shows a joint on the bench for as long as it is looked at. */
function useShownJoint(joint: Joint | undefined, ids: ReadonlyMap<string, string>): void {
  const dispatch = useAppDispatch();
  const idOf = (tags: readonly string[]): string[] => tags.flatMap((t) => ids.get(cutTag(t)) ?? []);
  // what else changes about the model does not show it anew
  const view = joint && JSON.stringify(viewOf(joint, idOf));
  useEffect(() => {
    if (!view) return;
    dispatch(showJoint(JSON.parse(view) as ShownJoint));
    dispatch(setExplode(heldOff));
    return () => {
      dispatch(showJoint(null));
      dispatch(setExplode(0));
    };
  }, [view, dispatch]);
}

/** One joint in the list: a box to tick, and what is put on what. */
function JointLine({
  joint,
  number,
  done,
  open,
  waits,
  onOpen,
  onTick,
}: {
  joint: Joint;
  number: number;
  done: boolean;
  open: boolean;
  /** tags that are not off the bed yet */
  waits: readonly string[];
  onOpen: () => void;
  onTick: (done: boolean) => void;
}) {
  const { area } = useSpeaker();
  return (
    <Line>
      <Checkbox
        size="small"
        checked={done}
        slotProps={{ input: { 'aria-label': `Joint ${number} is done` } }}
        onChange={(e) => onTick(e.target.checked)}
      />
      <Button variant="text" color={open ? 'primary' : 'inherit'} aria-pressed={open} onClick={onOpen}>
        {number}. {joint.parts.join(' + ')} on {joint.from.join(' + ')}
      </Button>
      <span className="figure">{waits.length > 0 ? `waits for ${waits.length}` : area(joint.glueMm2)}</span>
    </Line>
  );
}

/** What comes next on the bench: the parts in the order in which they go together, joint by joint. */
export function FinishDecision({ body }: StageProps) {
  const { area } = useSpeaker();
  const joints = useMemo(() => jointsOf(body), [body]);
  const report = lastStepOf(body.line, body.cursor, catalogue.divide)?.report;
  const ids = useMemo(() => new Map(body.parts.map((p) => [cutTag(p.tag), p.id])), [body.parts]);
  const [tick] = useTickJointMutation();
  const [picked, setPicked] = useState<string | null>(null);
  const done = new Set(body.joined);
  const printed = body.parts.filter(isPrinted).length;
  const waits = (j: Joint): string[] => waitsOf(j, body);
  const next = joints.find((j) => !done.has(j.key) && waits(j).length === 0) ?? joints.find((j) => !done.has(j.key));
  const shown = joints.find((j) => j.key === picked) ?? next ?? joints[0];
  useShownJoint(joints.length > 0 ? shown : undefined, ids);
  const at = shown ? joints.indexOf(shown) : -1;
  const own = report && shown ? joinsOf(report, shown) : [];
  // what cannot be yet is asked about first
  const [doubted, setDoubted] = useState<string | null>(null);
  const asked = joints.find((j) => j.key === doubted);
  const say = (j: Joint, isDone: boolean, anyway = false): void => {
    if (isDone && !anyway && waits(j).length > 0) {
      setDoubted(j.key);
      return;
    }
    setDoubted(null);
    void tick({ bodyId: body.id, key: j.key, done: isDone, anyway });
    if (j === shown) setPicked(isDone ? (joints[joints.indexOf(j) + 1]?.key ?? j.key) : j.key);
  };
  const ticked = joints.filter((j) => done.has(j.key)).length;
  return (
    <section className="decision" aria-label="Decision">
      <div className="label accent">Finish</div>
      <h2 className="question">What comes next on the bench?</h2>
      <p className="lead">
        {joints.length === 0
          ? body.parts.length === 0
            ? 'It is whole: nothing has to be put together.'
            : 'One part alone: nothing has to be put together.'
          : ticked === joints.length
            ? `All ${whole(joints.length)} joints are done.`
            : `${whole(ticked)} of ${countOf(joints.length, 'joint')} done, ${whole(printed)} of ${whole(body.parts.length)} parts off the bed.`}
      </p>
      {shown && (
        <JointCard aria-label={`Joint ${at + 1}`} role="group">
          <b>
            {at + 1}. Put {shown.parts.join(' + ')} on {shown.from.join(' + ')}
          </b>
          <FigurePairs>
            <dt>Comes</dt>
            <dd>{wayWords(shown.direction)}</dd>
            <dt>Glue</dt>
            <dd className="figure">{area(shown.glueMm2)}</dd>
          </FigurePairs>
          <Bullets>
            {adviceFor(shown, own, waits(shown)).map((a) => (
              <li key={a}>{a}</li>
            ))}
          </Bullets>
          <Actions>
            <Button variant="outlined" disabled={at <= 0} onClick={() => setPicked(joints[at - 1].key)}>
              Back
            </Button>
            <Button variant="contained" onClick={() => say(shown, !done.has(shown.key))}>
              {done.has(shown.key) ? 'Not done after all' : 'Done'}
            </Button>
            <Button variant="outlined" disabled={at >= joints.length - 1} onClick={() => setPicked(joints[at + 1].key)}>
              Next
            </Button>
          </Actions>
        </JointCard>
      )}
      {asked && (
        <Note tone="attention" role="alert">
          <b>
            {waits(asked).join(', ')} {waits(asked).length === 1 ? 'is' : 'are'} not off the bed yet.
          </b>{' '}
          Is {asked.parts.join(' + ')} on {asked.from.join(' + ')} joined all the same?
          <Actions>
            <Button variant="outlined" onClick={() => say(asked, true, true)}>
              It is joined
            </Button>
            <Button variant="text" onClick={() => setDoubted(null)}>
              Leave it
            </Button>
          </Actions>
        </Note>
      )}
      {joints.length > 0 && (
        <Rows component="ol" aria-label="Joints">
          {joints.map((j, i) => (
            <JointLine
              key={j.key}
              joint={j}
              number={i + 1}
              done={done.has(j.key)}
              open={j === shown}
              waits={waits(j)}
              onOpen={() => setPicked(j.key)}
              onTick={(on) => say(j, on)}
            />
          ))}
        </Rows>
      )}
      <Note>
        <b>Before sanding:</b> dust of resin above all harms the lungs: sand wet, wear a respirator. Cyanoacrylate:
        ventilation, eyes, never on cotton or wool. What is worn needs sight, breath and no sharp edges.
      </Note>
      <p className="foot">
        Drying, filling and paint are not planned here yet. Defer to product data sheets and local codes. Anything
        people stand on or under, or hung over them, is work for a licensed professional.
      </p>
    </section>
  );
}
