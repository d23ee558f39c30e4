/** A mesh by its arrays: see `TriMesh`. */
interface Arrays {
  positions: Float32Array;
  triangles: Uint32Array;
}

/** Keeps what a function makes of a mesh for as long as the mesh lives, which is right because meshes never change. */
export function oncePerMesh<T>(make: (mesh: Arrays) => T): (mesh: Arrays) => T {
  const known = new WeakMap<Arrays, T>();
  return (mesh) => {
    let made = known.get(mesh);
    if (made === undefined) known.set(mesh, (made = make(mesh)));
    return made;
  };
}
