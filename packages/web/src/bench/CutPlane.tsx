import type { Triple } from '@jasmorphe/core/mesh/TriMesh';
import { useThree } from '@react-three/fiber';
import { useEffect, useMemo, useState } from 'react';
import { DoubleSide, Quaternion, Vector3, type Group } from 'three';
import { TransformControls } from 'three/examples/jsm/controls/TransformControls.js';
import { useAppDispatch } from '../app/store.ts';
import type { Tokens } from '../app/tokens.ts';
import { movePlane, type HeldPlane } from './benchSlice.ts';

const up = new Vector3(0, 0, 1);
const tidy = (x: number): number => Math.round(x * 100) / 100;

/** A cut in hand: a sheet on the bench that is drawn along its normal or leaned about its middle. */
export function CutPlane({ plane, span, colours }: { plane: HeldPlane; span: number; colours: Tokens }) {
  const dispatch = useAppDispatch();
  const { camera, gl, scene, invalidate, controls } = useThree();
  const [sheet, setSheet] = useState<Group | null>(null);
  const turn = useMemo(() => new Quaternion().setFromUnitVectors(up, new Vector3(...plane.normal)), [plane.normal]);
  useEffect(() => {
    if (!sheet) return;
    const handles = new TransformControls(camera, gl.domElement);
    handles.setMode(plane.handles === 'move' ? 'translate' : 'rotate');
    handles.setSpace('local');
    // a plane is the same wherever it is moved within itself, and however it is turned about its normal
    handles.showX = handles.showY = plane.handles === 'turn';
    handles.showZ = plane.handles === 'move';
    handles.setSize(0.7);
    handles.setColors(colours.madder, colours.verdigris, colours.ink, colours.ochre);
    handles.attach(sheet);
    const root = handles.getHelper();
    scene.add(root);
    const orbit = controls as { enabled: boolean } | null;
    const drag = (e: { value: unknown }) => {
      if (orbit) orbit.enabled = e.value !== true;
      if (e.value === true) return;
      const normal = new Vector3(0, 0, 1).applyQuaternion(sheet.quaternion).normalize();
      // so near to an axis it was meant along it
      for (const k of [0, 1, 2]) {
        if (Math.abs(Math.abs(normal.getComponent(k)) - 1) > 1e-4) continue;
        const s = Math.sign(normal.getComponent(k));
        normal.set(0, 0, 0).setComponent(k, s);
      }
      const at = sheet.position;
      dispatch(
        movePlane({
          normal: normal.toArray(),
          offset: tidy(normal.dot(at)),
          at: at.toArray().map(tidy) as Triple,
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
  }, [sheet, plane.handles, camera, gl, scene, controls, colours, invalidate, dispatch]);
  useEffect(() => invalidate(), [plane, invalidate]);
  return (
    <group ref={setSheet} position={plane.at} quaternion={turn}>
      <mesh renderOrder={2}>
        <planeGeometry args={[span, span]} />
        <meshBasicMaterial color={colours.verdigris} transparent opacity={0.22} side={DoubleSide} depthWrite={false} />
      </mesh>
    </group>
  );
}
