import type { Triple } from '@jasmorphe/core/mesh/TriMesh';
import { useThree, type ThreeEvent } from '@react-three/fiber';
import { useEffect, useMemo, useRef, useState } from 'react';
import { Plane, Quaternion, Vector3 } from 'three';
import { useAppDispatch } from '../app/store.ts';
import type { Tokens } from '../app/tokens.ts';
import { movePeg, type Peg } from './benchSlice.ts';

const tidy = (x: number): number => Math.round(x * 100) / 100;

/** One join as a peg through its face; dragged, it stays in the plane of the face. */
function OnePeg({ peg, shift, least, colours }: { peg: Peg; shift: Triple; least: number; colours: Tokens }) {
  const dispatch = useAppDispatch();
  const { controls, invalidate } = useThree();
  const [dragged, setDragged] = useState<Triple | null>(null);
  const held = useRef<{ plane: Plane; grip: Vector3 } | null>(null);
  const turn = useMemo(
    () => new Quaternion().setFromUnitVectors(new Vector3(0, 1, 0), new Vector3(...peg.normal)),
    [peg],
  );
  const at = dragged ?? peg.at;
  useEffect(() => invalidate(), [at, shift, invalidate]);
  const orbit = controls as { enabled: boolean } | null;
  const down = (e: ThreeEvent<PointerEvent>) => {
    e.stopPropagation();
    (e.target as Element).setPointerCapture(e.pointerId);
    const place = new Vector3(...peg.at).add(new Vector3(...shift));
    const plane = new Plane().setFromNormalAndCoplanarPoint(new Vector3(...peg.normal), place);
    const hit = e.ray.intersectPlane(plane, new Vector3()) ?? place;
    held.current = { plane, grip: hit.sub(place) };
    if (orbit) orbit.enabled = false;
  };
  const move = (e: ThreeEvent<PointerEvent>) => {
    if (!held.current) return;
    e.stopPropagation();
    const hit = e.ray.intersectPlane(held.current.plane, new Vector3());
    if (hit)
      setDragged(
        hit
          .sub(held.current.grip)
          .sub(new Vector3(...shift))
          .toArray()
          .map(tidy) as Triple,
      );
  };
  const up = (e: ThreeEvent<PointerEvent>) => {
    if (!held.current) return;
    e.stopPropagation();
    (e.target as Element).releasePointerCapture(e.pointerId);
    held.current = null;
    if (orbit) orbit.enabled = true;
    if (dragged) dispatch(movePeg({ key: peg.key, at: dragged }));
    setDragged(null);
  };
  const r = Math.max(peg.acrossMm / 2, least);
  return (
    <mesh
      position={at.map((x, k) => x + shift[k]) as Triple}
      quaternion={turn}
      onPointerDown={down}
      onPointerMove={move}
      onPointerUp={up}
      renderOrder={3}
    >
      <cylinderGeometry args={[r, r, 4 * r, 20]} />
      <meshStandardMaterial
        color={peg.own ? colours.ochre : colours.ink}
        roughness={0.6}
        transparent
        opacity={0.85}
        depthTest={false}
      />
    </mesh>
  );
}

/** The joins of the part in hand, to be dragged. */
export function Pegs({
  pegs,
  shiftOf,
  least,
  colours,
}: {
  pegs: readonly Peg[];
  shiftOf: (partId: string) => Triple | null;
  /** radius under which a peg would be too small to be taken hold of, mm */
  least: number;
  colours: Tokens;
}) {
  return pegs.map((peg) => {
    const shift = shiftOf(peg.partId);
    return shift && <OnePeg key={peg.key} peg={peg} shift={shift} least={least} colours={colours} />;
  });
}
