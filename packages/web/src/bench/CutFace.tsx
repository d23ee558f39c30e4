import { useEffect, useMemo, useState } from 'react';
import { BufferAttribute, BufferGeometry, Color, DoubleSide, ShaderMaterial } from 'three';
import { useThree } from '@react-three/fiber';
import type { Tokens } from '../app/tokens.ts';
import type { CutView } from '../worker/workshop.ts';
import { fullMesh } from '../worker/fullMesh.ts';

/** Asks the worker for the cut through the full mesh; the newest question wins. */
export function useCut(hash: string, section: { axis: 0 | 1 | 2; share: number } | null): CutView | null {
  const [held, setHeld] = useState<{ hash: string; axis: number; cut: CutView } | null>(null);
  const [ready, setReady] = useState('');
  const on = section !== null;
  useEffect(() => {
    if (!on) return;
    let live = true;
    void fullMesh()
      .load(hash)
      .then(() => live && setReady(hash))
      .catch(() => undefined);
    return () => void (live = false);
  }, [hash, on]);
  const axis = section?.axis;
  const share = section?.share;
  useEffect(() => {
    if (axis === undefined || share === undefined || ready !== hash) return;
    let live = true;
    void fullMesh()
      .cut(hash, axis, share)
      .then((cut) => live && setHeld({ hash, axis, cut }))
      .catch(() => undefined);
    return () => void (live = false);
  }, [axis, share, ready, hash]);
  // while the next one is on its way the last one along the same axis stands
  return held && held.hash === hash && held.axis === axis ? held.cut : null;
}

/** The face of a cut, hatched as in a workshop drawing, with its outline. */
export function CutFace({ cut, colours }: { cut: CutView; colours: Tokens }) {
  const invalidate = useThree((s) => s.invalidate);
  const { face, lines } = useMemo(() => {
    const of = (points: Float32Array) => {
      const g = new BufferGeometry();
      g.setAttribute('position', new BufferAttribute(points, 3));
      return g;
    };
    return { face: of(cut.face), lines: of(cut.lines) };
  }, [cut]);
  useEffect(() => {
    invalidate();
    return () => {
      face.dispose();
      lines.dispose();
    };
  }, [face, lines, invalidate]);
  const hatch = useMemo(
    () =>
      new ShaderMaterial({
        side: DoubleSide,
        uniforms: {
          ground: { value: new Color(colours.verdigrisGround) },
          ink: { value: new Color(colours.verdigris) },
        },
        vertexShader: 'void main() { gl_Position = projectionMatrix * modelViewMatrix * vec4(position, 1.0); }',
        fragmentShader:
          'uniform vec3 ground; uniform vec3 ink; void main() { float d = mod(gl_FragCoord.x + gl_FragCoord.y, 9.0); gl_FragColor = vec4(mix(ink, ground, smoothstep(0.6, 1.6, d)), 1.0); \n#include <colorspace_fragment>\n }',
      }),
    [colours],
  );
  return (
    <group>
      <mesh geometry={face} material={hatch} renderOrder={1} />
      <lineSegments geometry={lines} renderOrder={2}>
        <lineBasicMaterial color={colours.ink} />
      </lineSegments>
    </group>
  );
}
