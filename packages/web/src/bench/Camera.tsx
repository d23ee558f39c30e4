import { useThree } from '@react-three/fiber';
import { useEffect, useEffectEvent, useRef } from 'react';
import { type PerspectiveCamera, Box3, Vector3 } from 'three';
import { OrbitControls } from 'three/examples/jsm/controls/OrbitControls.js';
import { useAppSelector } from '../app/store.ts';
import type { BenchView } from './benchSlice.ts';
import type { Bounds } from './Bed.tsx';

const directions: Record<Exclude<BenchView, 'fit'>, [number, number, number]> = {
  front: [0, -1, 0.0001],
  right: [1, 0, 0.0001],
  top: [0, -0.0001, 1],
  corner: [0.62, -1, 0.5],
};

const calm = () => matchMedia('(prefers-reduced-motion: reduce)').matches;

/** Orbit by drag, standard views, and flights to the place of a finding. Draws only while something moves. */
export function Camera({
  bounds,
  company,
  place,
}: {
  bounds: Bounds;
  /** where a body stands that is shown with the model, to be framed too */
  company: Box3 | null;
  place: { at: [number, number, number]; span: number } | null;
}) {
  const view = useAppSelector((s) => s.bench.view);
  const { camera, invalidate, size, gl, set } = useThree();
  const controls = useRef<OrbitControls>(null);
  useEffect(() => {
    const orbit = new OrbitControls(camera, gl.domElement);
    const redraw = () => invalidate();
    orbit.addEventListener('change', redraw);
    controls.current = orbit;
    // handles on the bench stop it while they are dragged
    set({ controls: orbit });
    return () => orbit.dispose();
  }, [camera, gl, invalidate, set]);
  const flight = useRef(0);
  const key = [...bounds.min, ...bounds.max].map((x) => x.toPrecision(4)).join();
  const all = new Box3(new Vector3(...bounds.min), new Vector3(...bounds.max));
  if (company) all.union(company);
  const middle = all.getCenter(new Vector3());
  const sides = all.getSize(new Vector3());
  // the ruler and the tools below want some room too
  middle.z -= 0.06 * sides.z;
  const radius = sides.length() / 2 || 1;

  const fly = (target: Vector3, direction: Vector3, reach: number, jump: boolean) => {
    const cam = camera as PerspectiveCamera;
    const aspect = Math.min(1, size.width / Math.max(1, size.height));
    const distance = (reach * 1.12) / Math.sin((cam.fov * Math.PI) / 360) / aspect;
    const end = target.clone().addScaledVector(direction.clone().normalize(), distance);
    cam.near = radius / 200;
    cam.far = radius * 40;
    cam.updateProjectionMatrix();
    const orbit = controls.current;
    const from = cam.position.clone();
    const fromTarget = orbit?.target.clone() ?? target.clone();
    const began = performance.now();
    const id = ++flight.current;
    const frame = () => {
      if (id !== flight.current) return;
      const s = jump ? 1 : Math.min(1, (performance.now() - began) / 320);
      const e = s * s * (3 - 2 * s);
      cam.position.lerpVectors(from, end, e);
      orbit?.target.lerpVectors(fromTarget, target, e);
      orbit?.update();
      invalidate();
      if (s < 1) requestAnimationFrame(frame);
    };
    frame();
  };

  /** The way one looks now, from the target to the eye. */
  const outlook = () => camera.position.clone().sub(controls.current?.target ?? middle);
  const first = useRef(true);
  const frameAll = useEffectEvent(() => {
    fly(middle, new Vector3(...directions.corner), radius, true);
    first.current = true;
  });
  const look = useEffectEvent((name: BenchView) =>
    fly(middle, name === 'fit' ? outlook() : new Vector3(...directions[name]), radius, calm()),
  );
  const reframe = useEffectEvent(() => fly(middle, outlook(), radius, calm()));
  const goTo = useEffectEvent((at: readonly [number, number, number], span: number) => {
    const target = new Vector3(...at);
    const outward = target.clone().sub(middle);
    if (outward.length() < 0.05 * radius) outward.set(0.6, -1, 0.5);
    outward.normalize().add(new Vector3(0.25, -0.45, 0.35));
    fly(target, outward, Math.min(radius, Math.max(span * 0.9, radius * 0.32)), calm());
  });
  const sized = size.width > 0;
  useEffect(() => {
    // bounds and a bench to draw on decide; everything else is read when it happens
    if (key !== '' && sized) frameAll();
  }, [key, sized]);
  useEffect(() => {
    if (first.current) return void (first.current = false);
    look(view.name);
  }, [view]);
  const accompanied = company !== null;
  const alone = useRef(true);
  useEffect(() => {
    if (alone.current === !accompanied) return;
    alone.current = !accompanied;
    // framed anew when a body comes or goes, not when it moves
    reframe();
  }, [accompanied]);
  const placed = place ? JSON.stringify(place) : '';
  useEffect(() => {
    if (placed === '') return;
    const { at, span } = JSON.parse(placed) as NonNullable<typeof place>;
    goTo(at, span);
  }, [placed]);
  return null;
}
