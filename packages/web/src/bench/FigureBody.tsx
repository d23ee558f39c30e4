import { useThree } from '@react-three/fiber';
import { useEffect, useMemo, useState } from 'react';
import { MathUtils, type Group, type Plane } from 'three';
import { TransformControls } from 'three/examples/jsm/controls/TransformControls.js';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import type { Tokens } from '../app/tokens.ts';
import { moveFigure, pickPoint, type Figure } from './benchSlice.ts';
import { rangeOf, ScalarSkin, useClearance } from './SkinMap.tsx';
import { useDisplay } from './useDisplay.ts';

const budget = 40_000;
const tidy = (x: number): number => Math.round(x * 100) / 100;

/** A reference body among the clay, in ink, with handles to move and turn it, coloured by the room around it if asked. */
export function FigureBody({
  figure,
  pieceHash,
  clip,
  colours,
}: {
  figure: Figure;
  pieceHash: string;
  clip: Plane | null;
  colours: Tokens;
}) {
  const dispatch = useAppDispatch();
  const { camera, gl, scene, invalidate, controls } = useThree();
  const map = useAppSelector((s) => s.bench.map);
  const asked = useAppSelector((s) => s.bench.asks > 0 && s.bench.asksOn === 'figure');
  const loaded = useDisplay(figure.hash, budget);
  const display = loaded.hash === figure.hash ? loaded.display : null;
  const shown = map?.kind === 'clearance' ? map : null;
  const gaps = useClearance(display, figure, pieceHash, shown ? shown.factor : null);
  const [group, setGroup] = useState<Group | null>(null);
  const rotation = useMemo(
    () => figure.turn.map((d) => MathUtils.degToRad(d)) as [number, number, number],
    [figure.turn],
  );
  useEffect(() => {
    if (!group || !figure.handles) return;
    const handles = new TransformControls(camera, gl.domElement);
    handles.setMode(figure.handles === 'move' ? 'translate' : 'rotate');
    handles.setSize(0.7);
    handles.attach(group);
    const root = handles.getHelper();
    scene.add(root);
    const orbit = controls as { enabled: boolean } | null;
    const drag = (e: { value: unknown }) => {
      if (orbit) orbit.enabled = e.value !== true;
      if (e.value === true) return;
      // turned about x, then y, then z of the bench
      const turn = group.rotation.clone().reorder('ZYX');
      dispatch(
        moveFigure({
          move: group.position.toArray().map(tidy) as [number, number, number],
          turn: [turn.x, turn.y, turn.z].map((r) => tidy(MathUtils.radToDeg(r))) as [number, number, number],
        }),
      );
    };
    const draw = () => invalidate();
    handles.addEventListener('dragging-changed', drag);
    handles.addEventListener('change', draw);
    invalidate();
    return () => {
      handles.removeEventListener('dragging-changed', drag);
      handles.removeEventListener('change', draw);
      if (orbit) orbit.enabled = true;
      handles.detach();
      scene.remove(root);
      handles.dispose();
      invalidate();
    };
  }, [group, figure.handles, camera, gl, scene, controls, invalidate, dispatch]);
  useEffect(() => invalidate(), [figure, display, gaps, invalidate]);
  if (!display) return null;
  return (
    <group
      ref={setGroup}
      position={figure.move}
      rotation={[...rotation, 'ZYX']}
      onClick={
        asked
          ? (e) => {
              if (e.delta > 4) return;
              e.stopPropagation();
              dispatch(pickPoint([e.point.x, e.point.y, e.point.z]));
            }
          : undefined
      }
    >
      {shown && gaps ? (
        <ScalarSkin display={display} values={gaps} range={rangeOf(shown)} clip={clip} colours={colours} />
      ) : (
        <mesh geometry={display.geometry}>
          <meshStandardMaterial
            key={clip ? 'cut' : 'whole'}
            color={colours.ink3}
            roughness={0.95}
            metalness={0}
            clippingPlanes={clip ? [clip] : []}
          />
        </mesh>
      )}
    </group>
  );
}
