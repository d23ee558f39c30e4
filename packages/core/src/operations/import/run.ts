import { type ImportReport, description } from './describe.ts';
import { makeOperation } from '../makeOperation.ts';
import { guessUnit, mmPerStatedUnit, type StatedUnit } from '../../formats/units.ts';
import { readMesh } from '../../formats/readMesh.ts';
import { MeshError } from '../../run/MeshError.ts';
import { scaleMesh } from '../../mesh/transform.ts';
import { boundsOf, sizeOf, triangleCount, vertexCount, xyz } from '../../mesh/TriMesh.ts';
import { weldExact } from '../../mesh/weld.ts';

const unitNames: Record<StatedUnit, string> = {
  micron: 'micron',
  mm: 'mm',
  cm: 'cm',
  m: 'm',
  in: 'inch',
  ft: 'foot',
};

/** A file becomes a mesh in mm, corners with equal coordinates joined. */
export const importMesh = makeOperation(description, async (_inputs, params, context) => {
  const source = context.source;
  if (!source) throw new MeshError('bad-params', 'There is no file to import.', 'Choose one.');
  context.progress(0, 'Reading the file');
  const read = readMesh(source.bytes, context, params.object);
  const raw = boundsOf(read.mesh);
  const fileSize = sizeOf(raw);
  const largest = Math.max(...fileSize);
  if (!(largest > 0))
    throw new MeshError(
      'no-triangles',
      'All triangles of the file lie in one point.',
      'Export it again from the program that made it.',
    );
  let unit: StatedUnit;
  let unitFrom: ImportReport['unitFrom'];
  let unitReason: string;
  if (read.unit && params.unit === 'auto') {
    unit = read.unit;
    unitFrom = 'file';
    unitReason = `the file states its unit, ${unitNames[unit]}`;
  } else if (params.unit === 'auto') {
    const guess = guessUnit(largest);
    unit = guess.unit;
    unitFrom = 'guess';
    unitReason = guess.reason;
  } else {
    unit = params.unit;
    unitFrom = 'given';
    unitReason = read.unit ? `as you said, though the file states ${unitNames[read.unit]}` : 'as you said';
  }
  const f = mmPerStatedUnit[unit];
  if (!(largest * f < 1e7))
    throw new MeshError(
      'bad-number',
      `At ${unit} the model would be ${((largest * f) / 1e6).toPrecision(3)} km across.`,
      'Choose a smaller unit.',
      'unit',
    );
  const mesh = f === 1 ? read.mesh : weldExact(scaleMesh(read.mesh, [f, f, f]));
  context.progress(1, 'Imported');
  return {
    outputs: [mesh],
    report: {
      format: read.format,
      bytes: source.bytes.length,
      groups: read.groups,
      triangles: triangleCount(mesh),
      verticesRead: read.vertices,
      vertices: vertexCount(mesh),
      fileSize: xyz(fileSize),
      size: xyz(sizeOf(boundsOf(mesh))),
      unit,
      fileUnit: read.unit,
      objects: read.objects.map((o) => ({ name: o.name, triangles: triangleCount(o.mesh), colour: o.colour })),
      words: read.words,
      notes: read.notes,
      unitFrom,
      unitReason,
    },
  };
});
