import { xyz } from '../../../../mesh/TriMesh.ts';
import { fromPlane } from '../../../../planning/cuts/cutSolid.ts';
import { lieOf } from '../../../../section/rings.ts';
import { place } from '../../contact.ts';
import { reachOf } from '../decide.ts';
import type { JoinMethod } from '../JoinMethod.ts';
import { prism } from '../shapes.ts';

/** How deep a groove for glue is, how wide, and how far from the outline, mm (common practice). */
const groove = { depth: 1, width: 1.5, inset: 2 };
/** Outlines of grooves are drawn no finer, mm. */
const grooveMm = 0.05;

/** Grooves along the outlines of all faces, which take what glue is squeezed out. */
export const glueGroove: JoinMethod = {
  reach: reachOf,
  overMembranes: true,
  carried: 'loose',
  decide: () => [],
  cut: () => false,
  things: () => [],
  noted: () => ({ lengthMm: 0, size: '' }),
  afterwards(work) {
    const { maker } = work;
    const { keep } = maker;
    return work.sites.flatMap((site) => {
      if (site.over) return [];
      // corners that no nozzle draws would only make slivers
      const plain = keep(site.shared.simplify(grooveMm));
      const outer = keep(keep(plain.offset(-groove.inset, 'Round')).simplify(grooveMm));
      const inner = keep(keep(outer.offset(-groove.width, 'Round')).simplify(grooveMm));
      const rings = keep(outer.subtract(inner))
        .decompose()
        .map(keep)
        .filter((r) => r.area() > groove.width ** 2);
      if (inner.isEmpty() || rings.length === 0) return [];
      const ring = rings.reduce((a, b) => keep(a.add(b)));
      const cut = work.cutOf(site);
      for (const [part, way] of [
        [site.above, 1],
        [site.below, -1],
      ] as const)
        work.take(part, place(keep, prism(maker, ring, -1e-2, groove.depth, way), cut, 0, 0));
      const { x, y } = lieOf(site.shared.toPolygons());
      const join = {
        kind: 'groove' as const,
        at: xyz(fromPlane(cut, x, y)),
        diameterMm: groove.width,
        depthMm: groove.depth,
        lengthMm: 0,
        wallMm: groove.inset,
        size: '',
        boss: false,
        own: false,
      };
      return [{ site, join }];
    });
  },
};
