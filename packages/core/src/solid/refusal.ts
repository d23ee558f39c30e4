import { isMeshError } from '../run/MeshError.ts';
import type { TriMesh } from '../mesh/TriMesh.ts';
import { toSolid, withSolids } from './kernel.ts';

/** What the solid kernel says against a mesh, or null. */
export async function refusalOf(mesh: TriMesh): Promise<string | null> {
  try {
    await withSolids((kernel, keep) => void keep(toSolid(kernel, mesh)));
    return null;
  } catch (error) {
    if (isMeshError(error)) return `the solid kernel refuses it (${error.message})`;
    throw error;
  }
}
