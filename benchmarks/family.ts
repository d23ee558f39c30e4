import type { TriMesh } from '@jasmorphe/core/mesh/TriMesh';
import { fromSolid, withSolids } from '@jasmorphe/core/solid/kernel';

/** Bodies full of holes, made by the solid kernel, each at about so many triangles as are asked for. */
export const families: Record<string, (triangles: number) => Promise<TriMesh>> = {
  /** a plate of 200 mm, 12 mm thick, drilled through */
  'drilled plate': (triangles) => plate(triangles, 12, 40),
  /** the same, 4 mm thin, its holes finer */
  'thin plate': (triangles) => plate(triangles, 4, 24),
  /** bars along three axes */
  lattice: (triangles) =>
    withSolids((kernel, keep) => {
      // a node of three round bars of 24 sides comes to about 620 triangles
      const n = Math.max(2, Math.round(Math.cbrt(triangles / 620)));
      const pitch = 200 / n;
      const bars = [];
      for (let i = 0; i < n; i++)
        for (let k = 0; k < n; k++) {
          const bar = keep(kernel.Manifold.cylinder(200, pitch / 5, pitch / 5, 24, true));
          const [u, v] = [(i + 0.5) * pitch - 100, (k + 0.5) * pitch - 100];
          bars.push(
            keep(bar.translate([u, v, 0])),
            keep(keep(bar.rotate([90, 0, 0])).translate([u, 0, v])),
            keep(keep(bar.rotate([0, 90, 0])).translate([0, u, v])),
          );
        }
      return fromSolid(keep(kernel.Manifold.union(bars)));
    }),
};

const plate = (triangles: number, thick: number, sides: number): Promise<TriMesh> =>
  withSolids((kernel, keep) => {
    // a hole costs four triangles a side
    const n = Math.max(2, Math.round(Math.sqrt(triangles / (4 * sides))));
    const pitch = 200 / n;
    const holes = [];
    for (let i = 0; i < n; i++)
      for (let k = 0; k < n; k++)
        holes.push(
          keep(
            keep(kernel.CrossSection.circle(0.28 * pitch, sides)).translate([
              (i + 0.5) * pitch - 100,
              (k + 0.5) * pitch - 100,
            ]),
          ),
        );
    const flat = keep(
      keep(kernel.CrossSection.square([200, 200], true)).subtract(keep(kernel.CrossSection.union(holes))),
    );
    return fromSolid(keep(flat.extrude(thick)));
  });
