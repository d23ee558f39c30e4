import { useFrame } from '@react-three/fiber';
import { useMemo, useRef } from 'react';
import { BufferAttribute, BufferGeometry, type Group } from 'three';
import { fixed, lengthText } from '@jasmorphe/core/words/numbers';
import type { DisplayUnit } from '../app/uiSlice.ts';
import type { Tokens } from '../app/tokens.ts';
import type { BenchLabel } from './Labels.tsx';

export interface Bounds {
  min: [number, number, number];
  max: [number, number, number];
}

/** A round length near a tenth of the span: 1, 2 or 5 times a power of ten. */
function rulerStep(span: number): number {
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

interface BedLayout {
  size: [number, number, number];
  span: number;
  step: number;
  perUnit: number;
  x0: number;
  x1: number;
  y0: number;
  y1: number;
  z: number;
  /** how far outside the model the dimension lines run */
  off: number;
}

/** Where the paper, the rulers and the dimension lines go: ruler steps are round in the unit on display. */
function layoutOf({ min, max }: Bounds, unit: DisplayUnit): BedLayout {
  const size = [max[0] - min[0], max[1] - min[1], max[2] - min[2]] as [number, number, number];
  const perUnit = unit === 'in' ? 25.4 : 1;
  const span = Math.max(size[0], size[1], size[2] * 0.6);
  const step = rulerStep(span / perUnit) * perUnit;
  const margin = 0.18 * span;
  return {
    size,
    span,
    step,
    perUnit,
    x0: Math.floor((min[0] - margin) / step) * step,
    x1: Math.ceil((max[0] + margin) / step) * step,
    y0: Math.floor((min[1] - margin) / step) * step,
    y1: Math.ceil((max[1] + margin) / step) * step,
    z: min[2] - 0.002 * span,
    off: 0.07 * span,
  };
}

/** Figures along the rulers and on the three overall dimension lines. */
export function bedLabels(bounds: Bounds, unit: DisplayUnit): BenchLabel[] {
  const { min, max } = bounds;
  const { size, step, perUnit, y0, x1, z, off } = layoutOf(bounds, unit);
  const digits = Math.max(0, -Math.floor(Math.log10(step / perUnit) + 1e-9));
  const out: BenchLabel[] = [];
  const ruler = (axis: 0 | 1, place: (v: number) => [number, number, number]) => {
    for (let i = Math.ceil(min[axis] / step); i * step <= max[axis] + 1e-6; i++)
      out.push({
        key: `${axis}:${i}`,
        at: place(i * step),
        className: 'tick',
        content: fixed((i * step) / perUnit, digits),
      });
  };
  ruler(0, (x) => [x, y0, z]);
  ruler(1, (y) => [x1, y, z]);
  const middle = (k: number) => (min[k] + max[k]) / 2;
  out.push(
    { key: 'width', at: [middle(0), min[1] - off, z], className: 'dimension', content: lengthText(size[0], unit) },
    { key: 'depth', at: [max[0] + off, middle(1), z], className: 'dimension', content: lengthText(size[1], unit) },
    {
      key: 'height',
      at: [min[0] - off, min[1] - off, middle(2)],
      className: 'dimension',
      content: lengthText(size[2], unit),
    },
  );
  return out;
}

/** Squared paper under the model and the dimension lines, all in real size; `bedLabels` gives their figures. */
export function Bed({ bounds, colours, unit }: { bounds: Bounds; colours: Tokens; unit: DisplayUnit }) {
  const paper = useRef<Group>(null);
  // from below, the paper would hide the underside of the model
  const floor = bounds.min[2];
  useFrame(({ camera }) => {
    if (paper.current) paper.current.visible = camera.position.z > floor;
  });
  const { fine, bold, dims } = useMemo(() => {
    const { min, max } = bounds;
    const { span, step, x0, x1, y0, y1, z, off } = layoutOf(bounds, unit);
    const thin: number[] = [];
    const thick: number[] = [];
    const small = step / 10;
    for (let i = 0; i <= Math.round((x1 - x0) / small); i++)
      (i % 10 ? thin : thick).push(x0 + i * small, y0, z, x0 + i * small, y1, z);
    for (let i = 0; i <= Math.round((y1 - y0) / small); i++)
      (i % 10 ? thin : thick).push(x0, y0 + i * small, z, x1, y0 + i * small, z);
    const d: number[] = [];
    const tick = 0.018 * span;
    const yd = min[1] - off;
    const xd = min[0] - off;
    const xr = max[0] + off;
    // width in front, depth on the right, height on the left in front
    d.push(
      min[0],
      yd,
      z,
      max[0],
      yd,
      z,
      min[0],
      yd - tick,
      z,
      min[0],
      min[1],
      z,
      max[0],
      yd - tick,
      z,
      max[0],
      min[1],
      z,
    );
    d.push(
      xr,
      min[1],
      z,
      xr,
      max[1],
      z,
      xr + tick,
      min[1],
      z,
      max[0],
      min[1],
      z,
      xr + tick,
      max[1],
      z,
      max[0],
      max[1],
      z,
    );
    d.push(
      xd,
      yd,
      min[2],
      xd,
      yd,
      max[2],
      xd - tick,
      yd,
      min[2],
      xd + tick,
      yd,
      min[2],
      xd - tick,
      yd,
      max[2],
      xd + tick,
      yd,
      max[2],
    );
    return { fine: linesOf(thin), bold: linesOf(thick), dims: linesOf(d) };
  }, [bounds, unit]);
  return (
    <group>
      <group ref={paper}>
        <lineSegments geometry={fine}>
          <lineBasicMaterial color={colours.line} transparent opacity={0.45} />
        </lineSegments>
        <lineSegments geometry={bold}>
          <lineBasicMaterial color={colours.line} />
        </lineSegments>
      </group>
      <lineSegments geometry={dims}>
        <lineBasicMaterial color={colours.ink2} />
      </lineSegments>
    </group>
  );
}
