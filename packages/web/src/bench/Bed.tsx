import { Html } from '@react-three/drei';
import { useMemo } from 'react';
import { BufferAttribute, BufferGeometry } from 'three';
import { useLength } from '../app/figures.ts';
import type { Tokens } from '../app/tokens.ts';

export interface Bounds {
  min: [number, number, number];
  max: [number, number, number];
}

/** A round length near a tenth of the span: 1, 2 or 5 times a power of ten. */
export function rulerStep(span: number): number {
  const raw = span / 8;
  const power = 10 ** Math.floor(Math.log10(raw));
  const lead = raw / power;
  return (lead < 1.5 ? 1 : lead < 3.5 ? 2 : lead < 7.5 ? 5 : 10) * power;
}

function linesOf(points: number[]): BufferGeometry {
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', new BufferAttribute(Float32Array.from(points), 3));
  return geometry;
}

/** Squared paper under the model, with rulers along two edges in real size and overall dimension lines. */
export function Bed({ bounds, colours }: { bounds: Bounds; colours: Tokens }) {
  const length = useLength();
  const { min, max } = bounds;
  const size = [max[0] - min[0], max[1] - min[1], max[2] - min[2]];
  const span = Math.max(size[0], size[1], size[2] * 0.6);
  const step = rulerStep(span);
  const margin = 0.18 * span;
  const x0 = Math.floor((min[0] - margin) / step) * step;
  const x1 = Math.ceil((max[0] + margin) / step) * step;
  const y0 = Math.floor((min[1] - margin) / step) * step;
  const y1 = Math.ceil((max[1] + margin) / step) * step;
  const z = min[2] - 0.002 * span;
  const { fine, bold, dims } = useMemo(() => {
    const thin: number[] = [];
    const thick: number[] = [];
    const small = step / 10;
    for (let i = 0; i <= Math.round((x1 - x0) / small); i++) (i % 10 ? thin : thick).push(x0 + i * small, y0, z, x0 + i * small, y1, z);
    for (let i = 0; i <= Math.round((y1 - y0) / small); i++) (i % 10 ? thin : thick).push(x0, y0 + i * small, z, x1, y0 + i * small, z);
    const d: number[] = [];
    const off = 0.07 * span;
    const tick = 0.018 * span;
    const yd = min[1] - off;
    const xd = min[0] - off;
    // width, in front
    d.push(min[0], yd, z, max[0], yd, z, min[0], yd - tick, z, min[0], min[1], z, max[0], yd - tick, z, max[0], min[1], z);
    // depth, on the right
    const xr = max[0] + off;
    d.push(xr, min[1], z, xr, max[1], z, xr + tick, min[1], z, max[0], min[1], z, xr + tick, max[1], z, max[0], max[1], z);
    // height, left in front
    d.push(xd, yd, min[2], xd, yd, max[2], xd - tick, yd, min[2], xd + tick, yd, min[2], xd - tick, yd, max[2], xd + tick, yd, max[2]);
    return { fine: linesOf(thin), bold: linesOf(thick), dims: linesOf(d) };
  }, [x0, x1, y0, y1, z, step, span, min, max]);
  const off = 0.07 * span;
  const ticks: { p: [number, number, number]; text: string; key: string }[] = [];
  for (let x = Math.ceil(min[0] / step) * step; x <= max[0] + 1e-6; x += step) ticks.push({ p: [x, y0, z], text: length(Math.abs(x) < 1e-9 ? 0 : x, false), key: `x${x}` });
  for (let y = Math.ceil(min[1] / step) * step; y <= max[1] + 1e-6; y += step) ticks.push({ p: [x1, y, z], text: length(Math.abs(y) < 1e-9 ? 0 : y, false), key: `y${y}` });
  return (
    <group>
      <lineSegments geometry={fine}>
        <lineBasicMaterial color={colours.line} transparent opacity={0.45} />
      </lineSegments>
      <lineSegments geometry={bold}>
        <lineBasicMaterial color={colours.line} />
      </lineSegments>
      <lineSegments geometry={dims}>
        <lineBasicMaterial color={colours.ink2} />
      </lineSegments>
      {ticks.map((t) => (
        <Html key={t.key} position={t.p} center className="tick" zIndexRange={[5, 0]}>
          {t.text}
        </Html>
      ))}
      <Html position={[(min[0] + max[0]) / 2, min[1] - off, z]} center className="dimension" zIndexRange={[6, 0]}>
        {length(size[0])}
      </Html>
      <Html position={[max[0] + off, (min[1] + max[1]) / 2, z]} center className="dimension" zIndexRange={[6, 0]}>
        {length(size[1])}
      </Html>
      <Html position={[min[0] - off, min[1] - off, (min[2] + max[2]) / 2]} center className="dimension" zIndexRange={[6, 0]}>
        {length(size[2])}
      </Html>
    </group>
  );
}
