import type { Triple } from '@jasmorphe/core/mesh/TriMesh';
import ButtonBase from '@mui/material/ButtonBase';
import { Canvas, useThree } from '@react-three/fiber';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { Box3, Plane, Vector3 } from 'three';
import type { Inspection } from '@jasmorphe/core/inspect/Inspection';
import type { PartView } from '@jasmorphe/contracts/views';
import { useLength } from '../app/useLength.ts';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import { tokens, type Tokens } from '../app/tokens.ts';
import type { BenchFlag, BenchPart } from './benchParts.ts';
import { Bed, bedLabels, type Bounds } from './Bed.tsx';
import { budget, partBudget } from './budget.ts';
import { pickFinding, pickPart, pickPoint } from './benchSlice.ts';
import { Camera } from './Camera.tsx';
import { Clay } from './Clay.tsx';
import { Companion } from './Companion.tsx';
import { CutFace, useCut } from './CutFace.tsx';
import { CutPlane } from './CutPlane.tsx';
import { Pegs } from './Pegs.tsx';
import { LyingPart, useLyingCut } from './LyingPart.tsx';
import { LabelPlaces, LabelSheet, type BenchLabel } from './Labels.tsx';
import { CompareSheet, ComparedSkins, useDistances } from './Compared.tsx';
import { PlacedBodyMesh } from './PlacedBodyMesh.tsx';
import { FindingLines } from './FindingLines.tsx';
import { useFlagsOnParts } from './holders.ts';
import { partTint, stoppedTint } from './partTint.ts';
import { rendererOn } from './rendererOn.ts';
import { MapSheet, ThicknessSkin } from './SkinMap.tsx';
import { useDisplay } from './useDisplay.ts';
import { laidLines, useLaid } from './useLaid.ts';
import { Swatch } from '../ui/layout.ts';

export interface BenchProps {
  /** the mesh of the whole; empty where there is none */
  hash: string;
  facts: Pick<Inspection, 'min' | 'max'>;
  parts: readonly BenchPart[];
  /** all parts of the whole, where only some of them are shown */
  whole?: readonly BenchPart[];
  flags: BenchFlag[];
  caption: string;
  /** the part that is shown alone, as it lies on the printer's bed */
  lying?: PartView | null;
  /** of that: skin that leans out more is painted, degrees; null paints nothing */
  overhangDeg?: number | null;
}

const boundsOfFacts = (facts: Pick<Inspection, 'min' | 'max'>): Bounds => ({
  min: [facts.min.x, facts.min.y, facts.min.z],
  max: [facts.max.x, facts.max.y, facts.max.z],
});

function Whole({
  hash,
  clip,
  colours,
  onFail,
}: {
  hash: string;
  clip: Plane | null;
  colours: Tokens;
  onFail: (failed: boolean) => void;
}) {
  const dispatch = useAppDispatch();
  const asks = useAppSelector((s) => s.bench.asks > 0 && s.bench.asksOn === 'model');
  const map = useAppSelector((s) => s.bench.map);
  const ghost = useAppSelector((s) => s.bench.body !== null);
  const { display, failed } = useDisplay(hash, budget);
  useEffect(() => onFail(failed), [failed, onFail]);
  if (map?.kind === 'thickness') return <ThicknessSkin hash={hash} map={map} clip={clip} colours={colours} />;
  return display ? (
    <Clay
      geometry={display.geometry}
      colour={colours.clay}
      clip={clip}
      opacity={ghost && !clip ? 0.38 : 1}
      onPick={asks ? (at) => dispatch(pickPoint(at)) : undefined}
      takesPaint
      colours={colours}
    />
  ) : null;
}

/** How far the farthest part goes when all are fully apart, as a share of the whole's diagonal. */
const farthest = 0.55;

/** Middle of a part, and how far it stands from its place when the parts are apart. */
function placeOf(
  part: BenchPart,
  centre: number[],
  diagonal: number,
  explode: number,
): { middle: Triple; shift: Triple } {
  const { min, max } = part.mesh.facts;
  const [x, y, z] = part.move ?? [0, 0, 0];
  const middle: Triple = [(min.x + max.x) / 2 + x, (min.y + max.y) / 2 + y, (min.z + max.z) / 2 + z];
  const way = part.apart && part.apart.some((a) => a !== 0) ? part.apart : null;
  return {
    middle,
    shift: middle.map((m, k) =>
      part.still ? 0 : way ? way[k] * explode * farthest * diagonal : (m - centre[k]) * explode * 0.75,
    ) as Triple,
  };
}

function Part({
  part,
  index,
  count,
  centre,
  diagonal,
  explode,
  clip,
  colours,
}: {
  part: BenchPart;
  index: number;
  count: number;
  centre: number[];
  diagonal: number;
  explode: number;
  clip: Plane | null;
  colours: Tokens;
}) {
  const dispatch = useAppDispatch();
  const picked = useAppSelector((s) => s.bench.partId);
  // a part stands where it stood in the whole, wherever it is shown
  const asks = useAppSelector((s) => s.bench.asks > 0 && s.bench.asksOn === 'model') && !part.move;
  const { display } = useDisplay(part.mesh.hash, partBudget(count));
  const { middle, shift } = placeOf(part, centre, diagonal, explode);
  const key = [...middle, ...shift].join();
  const axis = useMemo(() => {
    const [x, y, z, dx, dy, dz] = key.split(',').map(Number);
    return Float32Array.from([x, y, z, x + dx, y + dy, z + dz]);
  }, [key]);
  const invalidate = useThree((s) => s.invalidate);
  useEffect(() => invalidate(), [explode, invalidate]);
  if (!display) return null;
  const chosen = picked === part.id;
  return (
    <group>
      {explode > 0.02 && (
        <lineSegments>
          <bufferGeometry key={key}>
            <bufferAttribute attach="attributes-position" args={[axis, 3]} />
          </bufferGeometry>
          <lineBasicMaterial color={colours.ink3} transparent opacity={0.5} />
        </lineSegments>
      )}
      <group position={part.move ? (shift.map((x, k) => x + part.move![k]) as Triple) : shift}>
        <Clay
          geometry={display.geometry}
          colour={
            chosen ? colours.verdigris : part.state === 'failed' ? stoppedTint(colours) : partTint(index, colours)
          }
          clip={clip}
          onPick={(at) => dispatch(asks ? pickPoint(at) : pickPart(chosen ? null : part.id))}
          takesPaint={!part.move}
          colours={colours}
        />
      </group>
    </group>
  );
}

function Flag({ flag }: { flag: BenchFlag }) {
  const dispatch = useAppDispatch();
  const picked = useAppSelector((s) => s.bench.finding) === flag.number;
  return (
    <ButtonBase
      className={`benchFlag ${flag.tone}${picked ? ' picked' : ''}`}
      aria-label={`Finding ${flag.number}`}
      onClick={() => dispatch(pickFinding(picked ? null : flag.number))}
    >
      {flag.number}
    </ButtonBase>
  );
}

/** The 3D bench: the model in clay on squared paper, with real rulers, section, exploded parts and finding flags. */
export default function Bench({
  hash,
  facts,
  parts,
  whole = parts,
  flags,
  caption,
  lying = null,
  overhangDeg = null,
}: BenchProps) {
  const scheme = useAppSelector((s) => s.ui.scheme);
  const {
    section,
    explode,
    companion,
    finding,
    partId,
    comparison,
    points,
    marks,
    body,
    plane,
    pegs,
    map: skinMap,
  } = useAppSelector((s) => s.bench);
  const dispatch = useAppDispatch();
  const map = useDistances(comparison);
  // colours that stand for figures want an even light
  const mapped = comparison?.mode === 'map' || comparison?.mode === 'lost' || skinMap !== null;
  const unit = useAppSelector((s) => s.ui.unit);
  const sheet = useRef<HTMLDivElement>(null);
  const [failed, setFailed] = useState(false);
  const [company, setCompany] = useState<Box3 | null>(null);
  const colours = tokens[scheme];
  const length = useLength();
  const laid = useLaid(lying, overhangDeg, colours);
  const bounds = useMemo(() => laid?.bounds ?? boundsOfFacts(facts), [laid, facts]);
  const centre = useMemo(() => [0, 1, 2].map((k) => (bounds.min[k] + bounds.max[k]) / 2), [bounds]);
  const diagonal = useMemo(() => Math.hypot(...[0, 1, 2].map((k) => bounds.max[k] - bounds.min[k])), [bounds]);
  // parts that are drawn apart are framed with all that they reach
  const spread = useMemo(() => {
    if (lying || parts.length === 0 || explode < 0.02) return null;
    const box = new Box3();
    for (const part of parts) {
      const { shift } = placeOf(part, centre, diagonal, explode);
      const { min, max } = part.mesh.facts;
      box.expandByPoint(new Vector3(min.x + shift[0], min.y + shift[1], min.z + shift[2]));
      box.expandByPoint(new Vector3(max.x + shift[0], max.y + shift[1], max.z + shift[2]));
    }
    return box;
  }, [lying, parts, explode, centre, diagonal]);
  // sections are of the model; a part that lies on the bed is another sight
  const cut = useCut(hash, lying ? null : section);
  const shiftOf = useCallback(
    (id: string): Triple | null => {
      const part = parts.find((p) => p.id === id);
      return part ? placeOf(part, centre, diagonal, explode).shift : null;
    },
    [parts, centre, diagonal, explode],
  );
  const clip = useMemo(() => {
    if (!section || !cut) return null;
    const normal = new Vector3();
    // what stands towards the viewer of the corner view is taken away
    const sign = section.axis === 1 ? 1 : -1;
    normal.setComponent(section.axis, sign);
    return new Plane(normal, -sign * cut.at);
  }, [section, cut]);
  const partly = parts.length > 0 && (explode > 0.02 || parts.length < whole.length);
  const standing = useFlagsOnParts(flags, whole, partly, shiftOf);
  const picked = standing.find((f) => f.number === finding);
  const { tips, upTo } = useLyingCut(lying, laid);
  const place = useMemo(() => {
    if (tips) return { at: tips.place, span: 0.12 * diagonal };
    return picked && !lying ? { at: picked.at, span: picked.span } : null;
  }, [picked, lying, tips, diagonal]);
  const handled = body?.handles != null;
  const labels = useMemo<BenchLabel[]>(() => {
    const list = bedLabels(bounds, unit);
    for (const part of lying ? [] : parts) {
      if (explode <= 0.15 && part.id !== partId) continue;
      const { middle, shift } = placeOf(part, centre, diagonal, explode);
      list.push({
        key: part.id,
        at: middle.map((m, k) => m + shift[k]) as Triple,
        className: `partTag${part.id === partId ? ' picked' : ''}`,
        content: (
          <ButtonBase
            className="tagButton"
            aria-label={`Part ${part.tag}`}
            onClick={() => dispatch(pickPart(part.id === partId ? null : part.id))}
          >
            {part.tag}
          </ButtonBase>
        ),
        tag: part.id === partId ? 'first' : 'gives way',
      });
    }
    // flags would lie over the handles of a body
    for (const flag of handled || lying ? [] : standing)
      list.push({
        key: `flag${flag.number}`,
        at: flag.at,
        className: 'flagPlace',
        content: <Flag flag={flag} />,
        flag: true,
      });
    if (!lying) points.forEach((at, i) => list.push({ key: `point${i}`, at, className: 'pickedPoint', content: '✛' }));
    return list;
  }, [bounds, unit, parts, explode, partId, centre, diagonal, standing, handled, points, lying, dispatch]);
  return (
    <div className="bench" role="group" aria-label={`Bench: ${caption}. The findings say in words what is shown here.`}>
      <Canvas
        frameloop="demand"
        camera={{ fov: 32, up: [0, 0, 1], position: [1, -1.6, 0.8] }}
        gl={rendererOn}
        onCreated={({ gl }) => void (gl.localClippingEnabled = true)}
        dpr={[0.5, 2]}
      >
        <color attach="background" args={[colours.bench]} />
        <hemisphereLight
          args={
            mapped
              ? ['#ffffff', '#ffffff', 3.2]
              : ['#ffffff', scheme === 'dark' ? '#3a4448' : '#8f8776', scheme === 'dark' ? 1.5 : 1.75]
          }
        />
        <directionalLight position={[-1.2, -1.5, 2.2]} intensity={mapped ? 0.5 : 1.35} />
        <directionalLight position={[2, 1, 0.6]} intensity={0.35} />
        <Bed bounds={bounds} colours={colours} unit={unit} />
        {comparison ? (
          <ComparedSkins
            comparison={comparison}
            map={map}
            clip={clip}
            colours={colours}
            draw={(geometry, colour) => <Clay geometry={geometry} colour={colour} clip={clip} />}
          />
        ) : lying ? (
          laid && (
            <LyingPart
              part={lying}
              laid={laid}
              upTo={upTo}
              inColours={overhangDeg !== null}
              tips={tips?.shown ?? null}
              dot={0.0025 * diagonal}
              colours={colours}
            />
          )
        ) : parts.length > 0 ? (
          parts.map((part, i) => (
            <Part
              key={part.id}
              part={part}
              index={i}
              count={parts.length}
              centre={centre}
              diagonal={diagonal}
              explode={explode}
              clip={explode > 0 ? null : clip}
              colours={colours}
            />
          ))
        ) : (
          <Whole hash={hash} clip={clip} colours={colours} onFail={setFailed} />
        )}
        {picked?.lines && !lying && (
          <group position={picked.shift}>
            <FindingLines lines={picked.lines} tone={picked.tone} colours={colours} />
          </group>
        )}
        {marks.map((lines, i) => (
          <FindingLines key={i} lines={laid ? laidLines(lines, laid) : lines} tone="note" colours={colours} />
        ))}
        {body && !comparison && (
          <PlacedBodyMesh body={body} pieceHash={hash} clip={clip} colours={colours} onBounds={setCompany} />
        )}
        {cut && explode === 0 && !comparison && <CutFace cut={cut} colours={colours} />}
        {plane && !comparison && !lying && <CutPlane plane={plane} span={0.8 * diagonal} colours={colours} />}
        {pegs.length > 0 && !comparison && !lying && (
          <Pegs pegs={pegs} shiftOf={shiftOf} least={0.006 * diagonal} colours={colours} />
        )}
        {companion && <Companion bounds={bounds} colours={colours} />}
        <LabelPlaces labels={labels} sheet={sheet} />
        <Camera bounds={bounds} company={company ?? spread} place={place} />
      </Canvas>
      <LabelSheet labels={labels} sheet={sheet} />
      {skinMap && !comparison && <MapSheet map={skinMap} />}
      {comparison && <CompareSheet comparison={comparison} map={map} />}
      {failed && (
        <div className="benchWait">The mesh cannot be shown. The figures at the left are right all the same.</div>
      )}
      {lying && overhangDeg !== null && (
        <div className="benchReading figure">
          <Swatch style={{ background: colours.ochre }} /> leans out more than {overhangDeg}°
        </div>
      )}
      <div className="benchCaption label">{caption}</div>
      {section && cut && (
        <div className="benchReading figure" data-testid="cut-reading">
          {'xyz'[section.axis]} {length(cut.at)} · {(cut.areaMm2 / 100).toFixed(1)} cm² in {cut.regions}{' '}
          {cut.regions === 1 ? 'area' : 'areas'}
        </div>
      )}
    </div>
  );
}
