import { sliceContext } from '../run/context.ts';
import { edgesOf } from '../mesh/edges.ts';
import type { TriMesh } from '../mesh/TriMesh.ts';
import { weldExact } from '../mesh/weld.ts';
import { proveSolid, type Proof } from '../repair/proveSolid.ts';
import type { Description } from './Description.ts';
import type { Operation, Run } from './Operation.ts';

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

/** A run that tests what it made: its new triangles, against all. What is wrong is mended, or said in the report's `proof`. */
function proving<P extends object>(run: Run<P, object>): Run<P, object> {
  return async (inputs, params, context) => {
    const result = await run(inputs, params, sliceContext(context, 0, 0.92));
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
  };
}

/** An operation from its description and its run; where it makes solids of solids, what it made is tested after each run. */
export const makeOperation = <Name extends string, P extends object, R extends object>(
  description: Description<Name, P, R>,
  run: Run<P, Omit<R, 'proof'>>,
): Operation<P, R, Name> => ({
  ...description,
  run: (description.proves ? proving(run as Run<P, object>) : run) as unknown as Run<P, R>,
});
