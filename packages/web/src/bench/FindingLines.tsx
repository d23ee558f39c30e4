import { useThree } from '@react-three/fiber';
import { useEffect, useMemo } from 'react';
import { BufferAttribute, BufferGeometry } from 'three';
import type { Tokens } from '../app/tokens.ts';
import type { BenchFlag } from './benchParts.ts';

/** The open loop, crossing curve or other lines of the finding that was picked, seen through the skin. */
export function FindingLines({ lines, tone, colours }: { lines: number[]; tone: BenchFlag['tone']; colours: Tokens }) {
  const invalidate = useThree((s) => s.invalidate);
  const geometry = useMemo(() => {
    const g = new BufferGeometry();
    g.setAttribute('position', new BufferAttribute(Float32Array.from(lines), 3));
    return g;
  }, [lines]);
  useEffect(() => {
    invalidate();
    return () => geometry.dispose();
  }, [geometry, invalidate]);
  const colour = { failure: colours.madder, attention: colours.ochre, note: colours.ink }[tone];
  return (
    <>
      <lineSegments geometry={geometry} renderOrder={3}>
        <lineBasicMaterial color={colour} depthTest={false} transparent opacity={0.35} />
      </lineSegments>
      <lineSegments geometry={geometry} renderOrder={4}>
        <lineBasicMaterial color={colour} />
      </lineSegments>
      <points geometry={geometry} renderOrder={4}>
        <pointsMaterial color={colour} size={3} sizeAttenuation={false} />
      </points>
    </>
  );
}
