import { description } from './describe.ts';
import { makeOperation } from '../makeOperation.ts';
import { mediaTypes } from '../../formats/exportFormats.ts';
import { writeMesh } from '../../formats/writeMesh.ts';
import { inspectMesh } from '../../inspect/inspect.ts';
import { isSound } from '../../inspect/Inspection.ts';
import { triangleCount } from '../../mesh/TriMesh.ts';
import { layOnBed } from '../../planning/partPose.ts';

/** A mesh becomes a file. The mesh itself stays as it is. */
export const exportMesh = makeOperation(description, async ([mesh], params, context) => {
  context.progress(0, 'Writing the file');
  const name = safeFileName(params.name);
  const laid = params.rotation ? layOnBed(mesh, params.rotation) : mesh;
  const bytes = writeMesh(laid, params.format, name, params);
  const inspection = inspectMesh(laid, { skipSelfIntersections: true, brief: true });
  return {
    outputs: [],
    report: {
      format: params.format,
      triangles: triangleCount(mesh),
      shells: inspection.shells,
      bytes: bytes.length,
      sound: isSound(inspection),
    },
    files: [{ name: `${name}.${params.format}`, mediaType: mediaTypes[params.format], bytes }],
  };
});

/** A name that is safe on any disk: no folders, no control characters, never empty. */
export function safeFileName(name: string): string {
  const last = name.split(/[/\\]/).at(-1) ?? '';
  const clean = [...last]
    .filter((c) => c >= ' ' && c !== '\u007f' && !'<>:"|?*'.includes(c))
    .join('')
    .replace(/^\.+/, '')
    .trim();
  return clean.slice(0, 100) || 'part';
}
