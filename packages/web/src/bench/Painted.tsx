import type { Triple } from '@jasmorphe/core/mesh/TriMesh';
import { useThree, type ThreeEvent } from '@react-three/fiber';
import { useEffect, useMemo, useRef } from 'react';
import { DataTexture, FloatType, GLSL3, NearestFilter, RGBAFormat, ShaderMaterial, Color, type Plane } from 'three';
import type { CleanSpot } from '@jasmorphe/core/planning/cuts/CleanBox';
import { useAppDispatch, useAppSelector } from '../app/store.ts';
import type { Tokens } from '../app/tokens.ts';
import { dab, endStroke } from './benchSlice.ts';
import { shownHit } from './shownHit.ts';
import type { DisplayGeometry } from './displayMesh.ts';

const vertex = `
#include <clipping_planes_pars_vertex>
out vec3 vAt;
void main() {
  vAt = position;
  vec4 mvPosition = modelViewMatrix * vec4(position, 1.0);
  #include <clipping_planes_vertex>
  gl_Position = projectionMatrix * mvPosition;
}`;

// skin within any of the balls is tinted and striped, so that colour does not stand alone
const fragment = `
#include <clipping_planes_pars_fragment>
precision highp float;
uniform highp sampler2D spots;
uniform int count;
uniform vec3 tint;
in vec3 vAt;
out vec4 pixel;
void main() {
  #include <clipping_planes_fragment>
  bool in_one = false;
  for (int i = 0; i < count; i++) {
    vec4 s = texelFetch(spots, ivec2(i, 0), 0);
    vec3 d = vAt - s.xyz;
    if (dot(d, d) < s.w * s.w) { in_one = true; break; }
  }
  if (!in_one) discard;
  float stripe = mod(gl_FragCoord.x - gl_FragCoord.y, 10.0) < 4.0 ? 0.62 : 0.34;
  pixel = vec4(tint, stripe);
}`;

/** Skin that was painted to stay clean, over the model it lies on. */
export function PaintedSkin({
  geometry,
  spots,
  clip,
  colours,
}: {
  geometry: DisplayGeometry['geometry'];
  spots: readonly CleanSpot[];
  clip: Plane | null;
  colours: Tokens;
}) {
  const invalidate = useThree((s) => s.invalidate);
  const material = useMemo(() => {
    const data = new Float32Array(4 * Math.max(1, spots.length));
    spots.forEach(({ at, radiusMm }, i) => data.set([...at, radiusMm], 4 * i));
    const texture = new DataTexture(data, Math.max(1, spots.length), 1, RGBAFormat, FloatType);
    texture.minFilter = texture.magFilter = NearestFilter;
    texture.needsUpdate = true;
    return new ShaderMaterial({
      glslVersion: GLSL3,
      vertexShader: vertex,
      fragmentShader: fragment,
      uniforms: {
        spots: { value: texture },
        count: { value: spots.length },
        tint: { value: new Color(colours.verdigris).convertLinearToSRGB() },
      },
      transparent: true,
      depthWrite: false,
      polygonOffset: true,
      polygonOffsetFactor: -1,
      polygonOffsetUnits: -1,
      clipping: clip !== null,
      clippingPlanes: clip ? [clip] : [],
    });
  }, [spots, clip, colours.verdigris]);
  useEffect(() => {
    invalidate();
    return () => {
      (material.uniforms.spots.value as DataTexture).dispose();
      material.dispose();
      invalidate();
    };
  }, [material, invalidate]);
  return <mesh geometry={geometry} material={material} renderOrder={1} raycast={() => undefined} />;
}

/**
 * What a mesh does under the brush: dabs where it is drawn over, the view held still meanwhile; nothing without a brush.
 *
 * @param back from a point of what is shown to that of the body
 */
export function useBrush(
  clip: Plane | null,
  back: (at: Triple) => Triple,
): Record<'onPointerDown' | 'onPointerMove' | 'onPointerUp', (e: ThreeEvent<PointerEvent>) => void> | null {
  const dispatch = useAppDispatch();
  const on = useAppSelector((s) => s.bench.brush !== null);
  const controls = useThree((s) => s.controls) as { enabled: boolean } | null;
  const drawing = useRef(false);
  useEffect(
    () => () => {
      if (drawing.current && controls) controls.enabled = true;
      drawing.current = false;
    },
    [on, controls],
  );
  if (!on) return null;
  // in the mesh's own place, wherever it is shown
  const dabAt = (e: ThreeEvent<PointerEvent>): void => {
    const hit = shownHit(e, clip);
    if (hit) dispatch(dab(back(e.object.worldToLocal(hit.clone()).toArray())));
  };
  return {
    onPointerDown(e) {
      if (e.button !== 0) return;
      e.stopPropagation();
      drawing.current = true;
      if (controls) controls.enabled = false;
      dabAt(e);
    },
    onPointerMove(e) {
      if (!drawing.current) return;
      e.stopPropagation();
      if (!(e.buttons & 1)) {
        // let go outside
        drawing.current = false;
        if (controls) controls.enabled = true;
        dispatch(endStroke());
        return;
      }
      dabAt(e);
    },
    onPointerUp(e) {
      if (!drawing.current) return;
      e.stopPropagation();
      drawing.current = false;
      if (controls) controls.enabled = true;
      dispatch(endStroke());
    },
  };
}
