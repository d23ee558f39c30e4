import { useThree } from '@react-three/fiber';
import { useEffect, useMemo, useState } from 'react';
import {
  BufferAttribute,
  BufferGeometry,
  Color,
  DoubleSide,
  type Plane,
  type WebGLProgramParametersWithUniforms,
} from 'three';
import { useAppSelector } from '../app/store.ts';
import type { Tokens } from '../app/tokens.ts';
import { useLength } from '../app/useLength.ts';
import { fullMesh } from '../worker/fullMesh.ts';
import type { PlacedBody, SkinMap } from './benchSlice.ts';
import { cividis, cividisGradient } from './cividis.ts';
import type { DisplayGeometry } from './displayMesh.ts';
import { useDisplay } from './useDisplay.ts';

const budget = 100_000;

/** Ends of the colours, mm; what lies below `fails` is hatched. */
export interface ColourRange {
  low: number;
  high: number;
  fails: number;
}

export function rangeOf(map: SkinMap): ColourRange {
  return map.kind === 'thickness'
    ? { low: 0, high: 4 * map.leastMm, fails: map.leastMm }
    : { low: 0, high: Math.max(20, 3 * map.liningMm), fails: map.liningMm };
}

/** Stripes over what fails, so that colour does not stand alone. */
function hatch(shader: WebGLProgramParametersWithUniforms): void {
  shader.vertexShader = shader.vertexShader
    .replace('#include <common>', '#include <common>\nattribute float failing;\nvarying float vFailing;')
    .replace('#include <begin_vertex>', '#include <begin_vertex>\nvFailing = failing;');
  shader.fragmentShader = shader.fragmentShader
    .replace('#include <common>', '#include <common>\nvarying float vFailing;')
    .replace(
      '#include <color_fragment>',
      '#include <color_fragment>\nif (vFailing > 0.5 && mod(gl_FragCoord.x + gl_FragCoord.y, 9.0) < 3.0) diffuseColor.rgb = vec3(0.35, 0.04, 0.02);',
    );
}

/** A display mesh coloured by a figure at each of its vertices; NaN is drawn in clay. */
export function ScalarSkin({
  display,
  values,
  range,
  clip,
  colours,
}: {
  display: DisplayGeometry;
  values: Float32Array;
  range: ColourRange;
  clip: Plane | null;
  colours: Tokens;
}) {
  const invalidate = useThree((s) => s.invalidate);
  const { low, high, fails } = range;
  const geometry = useMemo(() => {
    const g = new BufferGeometry();
    for (const name of ['position', 'normal']) g.setAttribute(name, display.geometry.getAttribute(name));
    const n = display.index.length;
    const colour = new Float32Array(3 * n);
    const failing = new Float32Array(n);
    const clay = new Color(colours.clay);
    const c = new Color();
    for (let i = 0; i < n; i++) {
      const v = values[display.index[i]];
      if (Number.isNaN(v)) c.copy(clay);
      else c.setRGB(...cividis((v - low) / (high - low)), 'srgb');
      c.toArray(colour, 3 * i);
      failing[i] = v < fails ? 1 : 0;
    }
    g.setAttribute('color', new BufferAttribute(colour, 3));
    g.setAttribute('failing', new BufferAttribute(failing, 1));
    return g;
  }, [display, values, low, high, fails, colours.clay]);
  useEffect(() => {
    invalidate();
    return () => {
      // position and normal belong to the display mesh
      geometry.deleteAttribute('position');
      geometry.deleteAttribute('normal');
      geometry.dispose();
    };
  }, [geometry, invalidate]);
  return (
    <mesh geometry={geometry}>
      <meshStandardMaterial
        key={clip ? 'cut' : 'whole'}
        vertexColors
        roughness={0.95}
        metalness={0}
        side={DoubleSide}
        clippingPlanes={clip ? [clip] : []}
        onBeforeCompile={hatch}
      />
    </mesh>
  );
}

/** The model coloured by how thick its walls are. */
export function ThicknessSkin({
  hash,
  map,
  clip,
  colours,
}: {
  hash: string;
  map: Extract<SkinMap, { kind: 'thickness' }>;
  clip: Plane | null;
  colours: Tokens;
}) {
  const loaded = useDisplay(hash, budget);
  const display = loaded.hash === hash ? loaded.display : null;
  const [held, setHeld] = useState<{ hash: string; depths: Float32Array } | null>(null);
  useEffect(() => {
    if (!display) return;
    let live = true;
    void fullMesh()
      .thickness(hash, display.positions)
      .then((depths) => live && setHeld({ hash, depths }))
      .catch(() => undefined);
    return () => void (live = false);
  }, [display, hash]);
  const depths = held?.hash === hash ? held.depths : null;
  const values = useMemo(() => depths?.map((d) => (Number.isFinite(d) ? d * map.factor : NaN)), [depths, map.factor]);
  if (!display) return null;
  return (
    <ScalarSkin
      display={display}
      values={values ?? new Float32Array(display.positions.length / 3).fill(NaN)}
      range={rangeOf(map)}
      clip={clip}
      colours={colours}
    />
  );
}

/** Distances from the vertices of a body on the bench to the inside of the piece, mm; null while they are worked out. */
export function useClearance(
  display: DisplayGeometry | null,
  body: PlacedBody,
  pieceHash: string,
  factor: number | null,
): Float32Array | null {
  const placed = JSON.stringify([body.move, body.turn]);
  const { hash } = body;
  const key = `${hash}|${pieceHash}|${placed}|${factor}`;
  const [held, setHeld] = useState<{ key: string; gaps: Float32Array } | null>(null);
  useEffect(() => {
    if (!display || factor === null) return;
    let live = true;
    // not at every step of a drag
    const timer = setTimeout(() => {
      const [moveMm, turnDeg] = JSON.parse(placed) as [PlacedBody['move'], PlacedBody['turn']];
      void fullMesh()
        .clearance(pieceHash, hash, { moveMm, turnDeg }, factor, display.positions)
        .then((gaps) => live && setHeld({ key, gaps }))
        .catch(() => undefined);
    }, 250);
    return () => {
      live = false;
      clearTimeout(timer);
    };
  }, [display, key, placed, hash, pieceHash, factor]);
  return held?.key === key ? held.gaps : null;
}

/** Legend of the map on the bench. */
export function MapSheet({ map }: { map: SkinMap }) {
  const length = useLength();
  const unit = useAppSelector((s) => s.ui.unit);
  const { low, high, fails } = rangeOf(map);
  return (
    <div className="mapLegend" role="status" data-testid="map-legend" data-unit={unit}>
      <div className="label">
        {map.kind === 'thickness'
          ? `Wall thickness${map.factor === 1 ? '' : ' at the size chosen'}`
          : `Room around the body, ${length(map.liningMm)} of lining not taken off`}
      </div>
      <div className="scale" style={{ background: cividisGradient }}>
        <b style={{ width: `${(100 * (fails - low)) / (high - low)}%` }} />
      </div>
      <div className="ends figure">
        <span>{length(low, false)}</span>
        <span>hatched &lt; {length(fails, false)}</span>
        <span>≥ {length(high)}</span>
      </div>
    </div>
  );
}
