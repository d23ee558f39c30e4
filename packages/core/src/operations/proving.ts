import { sliceContext } from '../mesh/context.ts';
import { edgesOf } from '../mesh/edges.ts';
import type { TriMesh } from '../mesh/TriMesh.ts';
import { weldExact } from '../mesh/weld.ts';
import { proveSolid, type Proof } from '../repair/proveSolid.ts';
import type { Operation } from './Operation.ts';

/** What a report says of the solids that were made; null where the mesh was no closed one to begin with. */
export interface Proven {
  proof: Proof | null;
}

const closed = (mesh: TriMesh): boolean => {
  const { start, count } = edgesOf(weldExact(mesh));
  for (let e = 0; e < count; e++) if (start[e + 1] - start[e] !== 2) return false;
  return count > 0;
};

/** All proofs as one: sound when each is. */
function together(proofs: Proof[]): Proof {
  const sum = (of: (p: Proof) => number) => proofs.reduce((n, p) => n + of(p), 0);
  return {
    sound: proofs.every((p) => p.sound),
    crossingPairs: sum((p) => p.crossingPairs),
    tears: sum((p) => p.tears),
    flatShells: sum((p) => p.flatShells),
    mended: proofs.some((p) => p.mended),
    volumeChange: proofs.reduce((most, p) => (Math.abs(p.volumeChange) > Math.abs(most) ? p.volumeChange : most), 0),
  };
}

/**
 * An operation that makes solids out of solids, made to test what it made: its new triangles, against all. What is wrong
 * is mended, or said in the report's `proof`.
 */
export function proving<P extends object, R extends object>(operation: Operation<P, R>): Operation<P, R & Proven> {
  return {
    ...operation,
    async run(inputs, params, context) {
      const result = await operation.run(inputs, params, sliceContext(context, 0, 0.92));
      const of = inputs[0];
      if (!of || !closed(of)) return { ...result, report: { ...result.report, proof: null } };
      const outputs: TriMesh[] = [];
      const proofs: Proof[] = [];
      for (const made of result.outputs) {
        context.checkCancelled();
        const { mesh, proof } = proveSolid(made, inputs, sliceContext(context, 0.92, 1));
        outputs.push(mesh);
        proofs.push(proof);
      }
      return { ...result, outputs, report: { ...result.report, proof: together(proofs) } };
    },
  };
}
