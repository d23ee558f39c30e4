import { xyz, type Vec3 } from '../../mesh/TriMesh.ts';
import { applyMat3, placeMesh } from '../../mesh/transform.ts';
import { findTips } from '../../planning/tips/findTips.ts';
import { layStruts, strutBody, strutVolume } from '../../planning/tips/struts.ts';
import { proveSolid } from '../../repair/proveSolid.ts';
import { sliceContext } from '../../run/context.ts';
import { figures } from '../../trade/figures.ts';
import { layDown } from '../layDown.ts';
import { makeOperation } from '../makeOperation.ts';
import { description, type TipPlace } from './describe.ts';

/** Lists the tips of a part as it lies, and lays struts under them as a body of its own, in the part's place. */
export const tips = makeOperation(
  description,
  async ([source], { lift, struts, onPart, bare = [], ...how }, context) => {
    const { profile, lying, rows, back, floor } = layDown(source, how);
    const liftMm = lift ?? (profile.kind === 'resin' ? figures.liftMm.value : 0);
    const own = (at: Vec3): Vec3 => applyMat3(back, at);
    const found = findTips(lying, { profile, bare, back: own, liftMm }, sliceContext(context, 0, 0.6));
    const bedZ = floor - liftMm;
    const scaffold = struts ? layStruts(lying, found, profile, bedZ, onPart, sliceContext(context, 0.6, 1)) : null;
    const stands = new Map(scaffold?.struts.map((s) => [s.tip, s.onPart ? ('part' as const) : ('bed' as const)]));
    const told = found.map(({ at, layer, size, reason, areaMm2, overPart }, i): TipPlace => ({
      at: xyz(own(at)),
      layer,
      zMm: at[2] - floor,
      size,
      reason,
      areaMm2,
      overPart,
      strut: scaffold ? (stands.get(i) ?? 'none') : null,
    }));
    const joined =
      scaffold && scaffold.struts.length > 0 ? await strutBody(scaffold, bedZ, sliceContext(context, 0.6, 0.8)) : null;
    const proven = joined && proveSolid(joined, [], sliceContext(context, 0.8, 1));
    return {
      outputs: proven ? [placeMesh(proven.mesh, back)] : [],
      report: {
        tips: told,
        rotation: rows.map((r) => [...r]),
        liftMm,
        struts: scaffold && {
          count: scaffold.struts.length,
          braces: scaffold.braces.length,
          unreached: scaffold.unreached.length,
          volumeMm3: strutVolume(scaffold),
          bedZMm: bedZ,
          sound: proven?.proof.sound ?? true,
        },
      },
    };
  },
);
