import Button from '@mui/material/Button';
import Slider from '@mui/material/Slider';
import { styled } from '@mui/material/styles';
import type { ReactNode } from 'react';
import type { BodyView } from '@jasmorphe/contracts/views';
import { shownKey, useKeys, type KeyIdOf } from '../app/keys.ts';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { KeyCap } from '../ui/KeyCap.tsx';
import {
  look,
  setExplode,
  setSection,
  stepLayers,
  toggleCompanion,
  toggleLaid,
  toggleSection,
  type BenchView,
} from './benchSlice.ts';

const views: BenchView[] = ['front', 'right', 'top', 'corner'];
const axisNames = ['x', 'y', 'z'] as const;

const ToolButton = styled(Button)({
  padding: '3px 10px',
  minHeight: 30,
  minWidth: 0,
  gap: 7,
  fontStretch: '92%',
  '&[aria-pressed=true]': { background: 'var(--verdigrisGround)', borderColor: 'var(--verdigris)' },
});

/** A button of the bench with its key. `on` makes it a switch. */
function Tool({
  does,
  on,
  onClick,
  testId,
  children,
}: {
  does: KeyIdOf<'bench'>;
  on?: boolean;
  onClick: () => void;
  testId?: string;
  children: ReactNode;
}) {
  return (
    <ToolButton variant="outlined" aria-pressed={on} onClick={onClick} data-testid={testId}>
      {children} <KeyCap>{shownKey('bench', does)}</KeyCap>
    </ToolButton>
  );
}

/** What can be done with the bench: look, cut, take apart, hold something of known size beside it. */
export function BenchTools({ body, atPrinter }: { body: BodyView; atPrinter: boolean }) {
  const dispatch = useAppDispatch();
  const { section, explode, companion, view, laid, tips } = useAppSelector((s) => s.bench);
  const parts = body.parts.length > 0;
  const nextView = views[(views.indexOf(view.name) + 1) % views.length];
  const slide = (by: number) =>
    tips
      ? dispatch(stepLayers(Math.sign(by) * (Math.abs(by) < 0.01 ? 1 : 5)))
      : section && dispatch(setSection({ ...section, share: Math.min(1, Math.max(0, section.share + by)) }));
  const turnSection = () =>
    section && dispatch(setSection({ ...section, axis: ((section.axis + 1) % 3) as 0 | 1 | 2 }));
  useKeys('bench', {
    all: () => dispatch(look('fit')),
    view: () => dispatch(look(nextView)),
    section: () => dispatch(toggleSection()),
    axis: turnSection,
    beside: () => dispatch(toggleCompanion()),
    laid: () => atPrinter && dispatch(toggleLaid()),
    apart: () => parts && dispatch(setExplode(explode > 0 ? 0 : 0.6)),
    left: () => slide(-0.02),
    right: () => slide(0.02),
    leftABit: () => slide(-0.002),
    rightABit: () => slide(0.002),
  });
  return (
    <div className="benchTools" role="toolbar" aria-label="Bench">
      <Tool does="all" onClick={() => dispatch(look('fit'))}>
        All
      </Tool>
      <Tool does="view" onClick={() => dispatch(look(nextView))}>
        View
      </Tool>
      <Tool does="section" on={section !== null} onClick={() => dispatch(toggleSection())} testId="section">
        Section
      </Tool>
      {section && (
        <span className="tool">
          <Button
            variant="text"
            color="inherit"
            className="figure"
            aria-label={`Section along ${axisNames[section.axis]}, turn`}
            onClick={turnSection}
          >
            {axisNames[section.axis]}
          </Button>
          <Slider
            size="small"
            min={0}
            max={1}
            step={0.001}
            value={section.share}
            aria-label="Place of the section"
            onChange={(_e, share) => dispatch(setSection({ ...section, share: share }))}
          />
        </span>
      )}
      <Tool does="beside" on={companion} onClick={() => dispatch(toggleCompanion())}>
        Beside
      </Tool>
      {atPrinter && (
        <Tool does="laid" on={laid} onClick={() => dispatch(toggleLaid())} testId="laid">
          On the bed
        </Tool>
      )}
      {parts && !(atPrinter && laid) && (
        <span className="tool">
          <span id="explode">Apart</span>
          <Slider
            size="small"
            min={0}
            max={1}
            step={0.01}
            value={explode}
            aria-labelledby="explode"
            onChange={(_e, share) => dispatch(setExplode(share))}
          />
          <KeyCap>{shownKey('bench', 'apart')}</KeyCap>
        </span>
      )}
    </div>
  );
}
