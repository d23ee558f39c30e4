import { useThree } from '@react-three/fiber';
import { useEffect, useMemo, useState } from 'react';
import {
  Box3,
  type BufferAttribute,
  type BufferGeometry,
  MathUtils,
  Object3D,
  Vector3,
  type Group,
  type Plane,
} from 'three';
import { TransformControls } from 'three/examples/jsm/controls/TransformControls.js';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import type { Tokens } from '../app/tokens.ts';
import { moveBody, pickPoint, type PlacedBody } from './benchSlice.ts';
import { rangeOf, ScalarSkin, useClearance } from './SkinMap.tsx';
import { useDisplay } from './useDisplay.ts';

const budget = 40_000;
const positionsOf = (geometry: BufferGeometry) => geometry.getAttribute('position') as BufferAttribute;
const tidy = (x: number): number => Math.round(x * 100) / 100;

/**
 * A reference body among the clay, in ink, with handles about its middle to move and turn it, coloured by the room around
 * it if asked.
 *
 * @param onBounds told where the body stands on the bench
 */
export function PlacedBodyMesh({
  body,
  pieceHash,
  clip,
  colours,
  onBounds,
}: {
  body: PlacedBody;
  pieceHash: string;
  clip: Plane | null;
  colours: Tokens;
  onBounds: (box: Box3 | null) => void;
}) {
  const dispatch = useAppDispatch();
  const { camera, gl, scene, invalidate, controls } = useThree();
  const map = useAppSelector((s) => s.bench.map);
  const asked = useAppSelector((s) => s.bench.asks > 0 && s.bench.asksOn === 'body');
  const loaded = useDisplay(body.hash, budget);
  const display = loaded.hash === body.hash ? loaded.display : null;
  const shown = map?.kind === 'clearance' ? map : null;
  const gaps = useClearance(display, body, pieceHash, shown ? shown.factor : null);
  const [group, setGroup] = useState<Group | null>(null);
  const rotation = useMemo(() => body.turn.map((d) => MathUtils.degToRad(d)) as [number, number, number], [body.turn]);
  const middle = useMemo(
    () => (display ? new Box3().setFromBufferAttribute(positionsOf(display.geometry)).getCenter(new Vector3()) : null),
    [display],
  );
  // handles hold an anchor in the middle of the body; its origin, at a wrist or on the floor, may be out of sight
  const anchor = useMemo(() => new Object3D(), []);
  useEffect(() => {
    if (!group || !middle || !display) return;
    anchor.quaternion.copy(group.quaternion);
    anchor.position.copy(middle).applyQuaternion(group.quaternion).add(group.position);
    group.updateMatrixWorld();
    onBounds(new Box3().setFromBufferAttribute(positionsOf(display.geometry)).applyMatrix4(group.matrixWorld));
  }, [group, middle, display, anchor, body.move, rotation, onBounds]);
  useEffect(() => () => onBounds(null), [onBounds]);
  useEffect(() => {
    if (!group || !middle || !body.handles) return;
    const handles = new TransformControls(camera, gl.domElement);
    handles.setMode(body.handles === 'move' ? 'translate' : 'rotate');
    handles.setSize(0.7);
    handles.setColors(colours.madder, colours.verdigris, colours.ink, colours.ochre);
    scene.add(anchor);
    handles.attach(anchor);
    const root = handles.getHelper();
    scene.add(root);
    const orbit = controls as { enabled: boolean } | null;
    const follow = () => {
      group.quaternion.copy(anchor.quaternion);
      group.position.copy(middle).applyQuaternion(anchor.quaternion).negate().add(anchor.position);
    };
    const drag = (e: { value: unknown }) => {
      if (orbit) orbit.enabled = e.value !== true;
      if (e.value === true) return;
      // turned about x, then y, then z of the bench
      const turn = group.rotation.clone().reorder('ZYX');
      dispatch(
        moveBody({
          move: group.position.toArray().map(tidy) as [number, number, number],
          turn: [turn.x, turn.y, turn.z].map((r) => tidy(MathUtils.radToDeg(r))) as [number, number, number],
        }),
      );
    };
    const draw = () => invalidate();
    handles.addEventListener('objectChange', follow);
    handles.addEventListener('dragging-changed', drag);
    handles.addEventListener('change', draw);
    invalidate();
    return () => {
      handles.removeEventListener('objectChange', follow);
      handles.removeEventListener('dragging-changed', drag);
      handles.removeEventListener('change', draw);
      if (orbit) orbit.enabled = true;
      handles.detach();
      scene.remove(root, anchor);
      handles.dispose();
      invalidate();
    };
  }, [group, middle, anchor, body.handles, camera, gl, scene, controls, colours, invalidate, dispatch]);
  useEffect(() => invalidate(), [body, display, gaps, invalidate]);
  if (!display) return null;
  return (
    <group
      ref={setGroup}
      position={body.move}
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
