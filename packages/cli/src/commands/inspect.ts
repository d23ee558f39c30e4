import { pairsText } from '@jasmorphe/core/mesh/crossingCount';
import type { Inspection } from '@jasmorphe/core/inspect/Inspection';
import { areaText, countOf, inMm, sizeText, volumeText, whole } from '@jasmorphe/core/words/numbers';
import type { Card, CliCommand } from '../Command.ts';
import { spoken, spokenFindings } from '../spoken.ts';

/** What was measured of a mesh, and what is wrong with it. */
function inspectionCard(r: Inspection): Card {
  const crossings = r.selfIntersectingPairs;
  return {
    rows: [
      ['Watertight', r.watertight ? 'yes' : 'no'],
      ['Size', sizeText(r.size, inMm.length)],
      ['Volume', r.volumeMm3 === null ? '—' : volumeText(r.volumeMm3), 'of a closed and oriented mesh only'],
      ['Area', areaText(r.areaMm2)],
      ['Triangles', whole(r.triangles)],
      ['Vertices', whole(r.vertices), 'after corners with equal coordinates were joined'],
      ['Shells', whole(r.shells)],
      ['Open edges', `${whole(r.openEdges)} in ${countOf(r.openLoops, 'loop')}`],
      ['Crossing pairs', crossings === null ? '—' : pairsText(crossings), 'exact predicates'],
      ['Other faults', faults(r)],
    ],
    findings: spokenFindings(r.findings),
  };
}

function faults(r: Inspection): string {
  const list: [number, string, string][] = [
    [r.nonManifoldEdges, 'edge', 'of more than two sides'],
    [r.nonManifoldVertices, 'point', 'where sheets touch'],
    [r.inconsistentEdges, 'edge', 'turned round'],
    [r.degenerateTriangles, 'triangle', 'without area'],
    [r.duplicateTriangles, 'triangle', 'there twice'],
  ];
  return (
    list
      .filter(([n]) => n > 0)
      .map(([n, thing, how]) => `${countOf(n, thing)} ${how}`)
      .join(', ') || 'none'
  );
}

export const inspect: CliCommand = {
  name: 'inspect',
  files: '<files...>',
  summary: 'measures a mesh and lists what is wrong with it',
  example: 'jasmorphe inspect kit/*.stl',
  options: [],
  each: true,
  async run({ files, load, context }) {
    const { beginInspection } = await import('@jasmorphe/core/inspect/inspect');
    const report = await beginInspection(await load(files[0]), {}, context)();
    return { report: spoken(report), card: inspectionCard(report) };
  },
};
