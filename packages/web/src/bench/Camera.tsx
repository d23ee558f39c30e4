import { useThree } from '@react-three/fiber';
import { useEffect, useRef } from 'react';
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

  const first = useRef(true);
  useEffect(() => {
    fly(middle, new Vector3(...directions.corner), radius, true);
    first.current = true;
    // bounds decide; everything else is read when it happens
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [key, size.width > 0]);
  useEffect(() => {
    if (first.current) return void (first.current = false);
    const now = camera.position.clone().sub(controls.current?.target ?? middle);
    fly(middle, view.name === 'fit' ? now : new Vector3(...directions[view.name]), radius, calm());
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [view]);
  const accompanied = company !== null;
  const alone = useRef(true);
  useEffect(() => {
    if (alone.current === !accompanied) return;
    alone.current = !accompanied;
    fly(middle, camera.position.clone().sub(controls.current?.target ?? middle), radius, calm());
    // framed anew when a body comes or goes, not when it moves
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [accompanied]);
  const placeKey = place ? place.at.join() : '';
  useEffect(() => {
    if (!place) return;
    const target = new Vector3(...place.at);
    const outward = target.clone().sub(middle);
    if (outward.length() < 0.05 * radius) outward.set(0.6, -1, 0.5);
    outward.normalize().add(new Vector3(0.25, -0.45, 0.35));
    fly(target, outward, Math.min(radius, Math.max(place.span * 0.9, radius * 0.32)), calm());
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [placeKey]);
  return null;
}
