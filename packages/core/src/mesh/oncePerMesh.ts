import type { TriMesh } from './TriMesh.ts';

/** Keeps what a function makes of a mesh for as long as the mesh lives, which is right because meshes never change. */
export function oncePerMesh<T>(make: (mesh: TriMesh) => T): (mesh: TriMesh) => T {
  const known = new WeakMap<TriMesh, T>();
  return (mesh) => {
    let made = known.get(mesh);
    if (made === undefined) known.set(mesh, (made = make(mesh)));
    return made;
  };
}
