import { useEffect, useRef, useState } from 'react';
import {
  DirectionalLight,
  HemisphereLight,
  Mesh,
  MeshStandardMaterial,
  OrthographicCamera,
  Scene,
  Vector3,
  WebGLRenderer,
} from 'three';
import { figures } from '@jasmorphe/core/trade/figures';
import { loadDisplay } from '../bench/displayMesh.ts';
import { useAppSelector } from '../app/store.ts';
import { tokens } from '../app/tokens.ts';

/** Pieces up to this size are held, mm; a hand is about so long, mm. */
const smallMm = 420;
const handMm = figures.handMm.value;

let renderer: WebGLRenderer | null = null;
const drawn = new Map<string, string>();
let queue: Promise<unknown> = Promise.resolve();

/** Draws one model to a picture; all portraits share one context, one after another. */
async function draw(hash: string, clay: string, dark: boolean): Promise<string> {
  const key = hash + clay;
  const known = drawn.get(key);
  if (known) return known;
  const { geometry } = await loadDisplay(hash, 12_000);
  renderer ??= new WebGLRenderer({ antialias: true, alpha: true, preserveDrawingBuffer: true });
  renderer.setSize(360, 240, false);
  const scene = new Scene();
  scene.add(new Mesh(geometry, new MeshStandardMaterial({ color: clay, roughness: 0.92 })));
  scene.add(new HemisphereLight('#ffffff', dark ? '#3a4448' : '#8f8776', 1.7));
  const sun = new DirectionalLight('#ffffff', 1.3);
  sun.position.set(-1.2, -1.5, 2.2);
  scene.add(sun);
  geometry.computeBoundingBox();
  const box = geometry.boundingBox!;
  const c = box.getCenter(new Vector3());
  const r = box.getSize(new Vector3()).length() / 2 || 1;
  const camera = new OrthographicCamera(-r * 1.35, r * 1.35, r * 0.9, -r * 0.9, 0.01 * r, 10 * r);
  camera.up.set(0, 0, 1);
  camera.position.copy(c).add(new Vector3(0.55, -1, 0.35).normalize().multiplyScalar(4 * r));
  camera.lookAt(c);
  renderer.render(scene, camera);
  const url = renderer.domElement.toDataURL('image/png');
  drawn.set(key, url);
  return url;
}

/** A picture of a mesh, drawn after those asked for before. */
export function pictureOf(hash: string, clay: string, dark: boolean): Promise<string> {
  const drawing = queue.then(() => draw(hash, clay, dark));
  queue = drawing.catch(() => undefined);
  return drawing;
}

/** A model's picture, with the outline of a 1.75 m figure, or of a hand, to the same scale. */
export default function Portrait({ hash, sizeMm }: { hash: string; sizeMm: { x: number; y: number; z: number } }) {
  const scheme = useAppSelector((s) => s.ui.scheme);
  const [url, setUrl] = useState<string | null>(null);
  const alive = useRef(true);
  useEffect(() => {
    alive.current = true;
    void pictureOf(hash, tokens[scheme].clay, scheme === 'dark')
      .then((u) => alive.current && setUrl(u))
      .catch(() => undefined);
    return () => void (alive.current = false);
  }, [hash, scheme]);
  const radius = Math.hypot(sizeMm.x, sizeMm.y, sizeMm.z) / 2;
  // beside a whole figure small pieces would be lost: they stand beside a hand
  const small = Math.max(sizeMm.x, sizeMm.y, sizeMm.z) < smallMm;
  // the picture shows 1.8 radii from top to bottom; the other stands to the same scale, or the other way about
  const tall = (small ? handMm : figures.personMm.value) / (1.8 * radius);
  const model = Math.min(1, 1 / tall);
  return (
    <>
      {url && <img src={url} alt="" style={{ transform: `scale(${Math.max(0.12, Math.min(1, model))})` }} />}
      <svg
        viewBox={small ? '0 0 56 100' : '-15 0 30 100'}
        className="person"
        style={{ height: `${100 * Math.min(0.94, tall)}%` }}
        aria-hidden
      >
        <path
          d={
            small
              ? 'M16 100 16 78C12 70 8 62 3 54 1 50 5 47 8 50L16 58 15 22C15 17 22 17 22 22L24 48 25 10C25 5 32 5 32 10L33 47 36 13C36 8 43 9 43 14L42 50 46 26C47 21 53 22 52 27L49 62C48 72 45 78 44 84L44 100Z'
              : 'M0 1a6 7 0 0 1 4 12l-1 4 9 3 1 26-2 6-2-1-1-16-1 22 0 40 2 2-6 0-3-46-3 46-6 0 2-2 0-40-1-22-1 16-2 1-2-6 1-26 9-3-1-4A6 7 0 0 1 0 1Z'
          }
        />
      </svg>
    </>
  );
}
