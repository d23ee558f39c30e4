import { useThree } from '@react-three/fiber';
import { useEffect } from 'react';
import { DoubleSide, FrontSide, type BufferGeometry, type Plane } from 'three';
import { useAppSelector } from '../app/store.ts';
import type { Tokens } from '../app/tokens.ts';
import { PaintedSkin, useBrush } from './Painted.tsx';

type Point = [number, number, number];

/** A body in clay: cut open by a plane, picked, painted. */
export function Clay({
  geometry,
  colour,
  clip,
  opacity = 1,
  onPick,
  takesPaint = false,
  inColours = false,
  colours,
}: {
  geometry: BufferGeometry;
  colour: string;
  clip: Plane | null;
  opacity?: number;
  onPick?: (at: Point) => void;
  /** can it be painted? */
  takesPaint?: boolean;
  /** its corners have colours of their own */
  inColours?: boolean;
  colours?: Tokens;
}) {
  const brush = useBrush();
  const painted = useAppSelector((s) => s.bench.painted);
  const invalidate = useThree((s) => s.invalidate);
  useEffect(() => invalidate(), [geometry, colour, clip, opacity, invalidate]);
  return (
    <>
      <mesh
        geometry={geometry}
        {...(takesPaint && brush)}
        onClick={
          onPick && !(takesPaint && brush)
            ? (e) => {
                if (e.delta > 4) return;
                e.stopPropagation();
                onPick(e.object.worldToLocal(e.point.clone()).toArray());
              }
            : undefined
        }
      >
        <meshStandardMaterial
          key={`${clip ? 'cut' : 'whole'}${inColours ? ' coloured' : ''}`}
          color={inColours ? '#ffffff' : colour}
          vertexColors={inColours}
          roughness={0.92}
          metalness={0}
          side={clip ? DoubleSide : FrontSide}
          clippingPlanes={clip ? [clip] : []}
          transparent={opacity < 1}
          opacity={opacity}
          depthWrite={opacity >= 1}
        />
      </mesh>
      {takesPaint && colours && painted.length > 0 && (
        <PaintedSkin geometry={geometry} spots={painted} clip={clip} colours={colours} />
      )}
    </>
  );
}
