import type { Triple } from '@jasmorphe/core/mesh/TriMesh';
import { useThree } from '@react-three/fiber';
import { useEffect, useMemo } from 'react';
import { DoubleSide, FrontSide, type BufferGeometry, type Plane } from 'three';
import { useAppSelector } from '../app/store.ts';
import type { Tokens } from '../app/tokens.ts';
import { shownHit } from './shownHit.ts';
import { PaintedSkin, useBrush } from './Painted.tsx';

const asItIs = (at: Triple): Triple => at;

/** A body in clay: cut open by a plane, picked, painted. */
export function Clay({
  geometry,
  colour,
  clip,
  opacity = 1,
  onPick,
  takesPaint = false,
  back = asItIs,
  onto = asItIs,
  inColours = false,
  colours,
}: {
  geometry: BufferGeometry;
  colour: string;
  clip: Plane | null;
  opacity?: number;
  onPick?: (at: Triple) => void;
  /** can it be painted? */
  takesPaint?: boolean;
  /** from a point of what is shown to that of the body, and the other way round: it may be shown as it lies */
  back?: (at: Triple) => Triple;
  onto?: (at: Triple) => Triple;
  /** its corners have colours of their own */
  inColours?: boolean;
  colours?: Tokens;
}) {
  const brush = useBrush(clip, back);
  const painted = useAppSelector((s) => s.bench.painted);
  const spots = useMemo(() => painted.map((s) => ({ ...s, at: onto(s.at) })), [painted, onto]);
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
                const hit = e.delta > 4 ? null : shownHit(e, clip);
                if (!hit) return;
                e.stopPropagation();
                onPick(back(e.object.worldToLocal(hit.clone()).toArray()));
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
        <PaintedSkin geometry={geometry} spots={spots} clip={clip} colours={colours} />
      )}
    </>
  );
}
