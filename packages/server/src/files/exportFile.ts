import { mediaTypes, type ExportFormat } from '@jasmorphe/core/formats/exportFormats';
import { writeArchive } from '@jasmorphe/core/formats/archive';
import { writeThreeMf, type FileWords } from '@jasmorphe/core/formats/threeMf';
import { poseAfter } from '@jasmorphe/contracts/reading/poses';
import { boundsOf, concatMeshes } from '@jasmorphe/core/mesh/TriMesh';
import { identity3, placeMesh, type Mat3 } from '@jasmorphe/core/mesh/transform';
import { fromCanonical } from '@jasmorphe/core/mesh/canonical';
import { catalogue, descriptionOf } from '@jasmorphe/core/operations/catalogue';
import { safeFileName } from '@jasmorphe/core/operations/export/run';
import { placeOnBed } from '@jasmorphe/core/planning/bedfuls/placeOnBed';
import type { PlacedOnBed } from '@jasmorphe/core/planning/bedfuls/PlacedOnBed';
import { layApart, layOnBed } from '@jasmorphe/core/planning/partPose';
import { isStepOf, makesSkin } from '@jasmorphe/contracts/steps';
import type { DivideReport } from '@jasmorphe/core/operations/divide/describe';
import { mapSvg } from '@jasmorphe/core/operations/divide/mapSvg';
import { looseMeshes } from '@jasmorphe/core/operations/divide/joins/looseMesh';
import { Refusal } from '../store/Refusal.ts';
import type { BodyView } from '@jasmorphe/contracts/views';
import { csvOf } from './csv.ts';
import type { ComputePort } from '../compute/ComputePort.ts';
import type { Services } from '../Services.ts';

/** A name that says what the file is: model, largest side, what was done to it last. */
export function fileNameOf(body: Pick<BodyView, 'name' | 'line' | 'cursor' | 'mesh'>): string {
  const { x, y, z } = body.mesh.facts.size;
  const last = body.line.slice(0, body.cursor).findLast(makesSkin)?.operation;
  return safeFileName(
    [body.name, `${Math.round(Math.max(x, y, z))}mm`, last && descriptionOf(last).words.fileWord]
      .filter(Boolean)
      .join('_'),
  );
}

/** What file is wanted of a body. */
export interface WantedFile {
  format: ExportFormat;
  /**
   * parts: each an object of the 3MF, or a file of an archive with a table of them; whole: the model in one piece; loose:
   * what is printed apart for the joins
   */
  what: 'parts' | 'whole' | 'loose';
  /** model: as they stand in the model; bed: each as it lies on the printer */
  pose: 'model' | 'bed';
  /** tags of the parts that are wanted; all if left out */
  only?: readonly string[];
  /** what a 3MF says of the work */
  words: FileWords;
}

/**
 * The file of a body: the mesh, or all its parts.
 *
 * @param model that it is or is a part of
 */
export async function exportFile(
  { remaker, compute }: Pick<Services, 'remaker' | 'compute'>,
  view: BodyView,
  model: BodyView,
  { format, what, pose, only, words }: WantedFile,
): Promise<{ name: string; type: string; bytes: Uint8Array }> {
  const meshOf = async (hash: string) => fromCanonical(await remaker.read(hash));
  const lying = pose === 'bed';
  const write = (name: string, hash: string, lie?: number[][]) =>
    written(compute, { format, name, ...words }, hash, lie);
  if (view.kind === 'part') {
    const part = model.parts.find((p) => p.id === view.id);
    const name = safeFileName(`${model.name}_${part?.tag ?? view.name}${lying ? '_on-bed' : ''}`);
    const { bytes } = await write(name, view.mesh.hash, lying ? part?.rotation : undefined);
    return { name: `${name}.${format}`, type: mediaTypes[format], bytes };
  }
  const base = fileNameOf(view);
  const cut = view.line.slice(0, view.cursor).findLast((s) => s.operation === catalogue.divide.name);
  const report = cut && isStepOf(cut, catalogue.divide) ? cut.report : null;
  if (what === 'loose') {
    const loose = report ? await looseMeshes(report.loose) : [];
    if (loose.length === 0)
      throw new Refusal(
        'state',
        'nothing-loose',
        'Nothing is printed apart for these parts.',
        'Dowels are; choose them as joins.',
      );
    return { name: `${base}_dowels.3mf`, type: mediaTypes['3mf'], bytes: writeThreeMf(loose, words) };
  }
  if (view.parts.length === 0 || what === 'whole') {
    const { bytes } = await write(base, view.mesh.hash);
    return { name: `${base}.${format}`, type: mediaTypes[format], bytes };
  }
  const unknown = only?.find((tag) => !view.parts.some((p) => p.tag === tag));
  if (unknown !== undefined)
    throw new Refusal('unknown', 'no-part', `There is no part ${unknown}.`, 'Its tag may have changed.', 'only');
  const wanted = only ? view.parts.filter((p) => only.includes(p.tag)) : view.parts;
  const all = `${base}_${wanted.length}-${wanted.length === 1 ? 'part' : 'parts'}${lying ? '_on-bed' : ''}`;
  if (format === '3mf') {
    const meshes = await Promise.all(wanted.map((p) => meshOf(p.mesh.hash)));
    const laid = lying ? layApart(meshes.map((mesh, i) => layOnBed(mesh, wanted[i].rotation))) : meshes;
    const objects = laid.map((mesh, i) => ({ name: wanted[i].tag, mesh }));
    return { name: `${all}.3mf`, type: mediaTypes['3mf'], bytes: writeThreeMf(objects, words) };
  }
  const entries: Record<string, Uint8Array> = report
    ? {
        'parts.csv': partsTable(
          report,
          wanted.map((p) => p.tag),
        ),
        ...(report.map ? { 'map.svg': new TextEncoder().encode(mapSvg(report.map)) } : {}),
      }
    : {};
  for (const p of wanted) {
    const { bytes } = await write(p.tag, p.mesh.hash, lying ? p.rotation : undefined);
    entries[`${safeFileName(`${view.name}_${p.tag}`)}.${format}`] = bytes;
  }
  return { name: `${all}.zip`, type: 'application/zip', bytes: writeArchive(entries) };
}

/**
 * A part as it lies with struts under its support tips, each an object of one 3MF, so that either may be printed with other
 * settings or left out.
 *
 * @throws Refusal `cannot` for a whole model, or where no strut is wanted or reaches
 */
export async function exportWithStruts(
  { remaker, compute }: Pick<Services, 'remaker' | 'compute'>,
  view: BodyView,
  model: BodyView,
  onPart: boolean,
  words: FileWords,
): Promise<{ name: string; type: string; bytes: Uint8Array }> {
  const part = model.parts.find((p) => p.id === view.id);
  if (!part)
    throw new Refusal(
      'state',
      'cannot',
      'Struts stand under a part as it lies.',
      'Divide the model, and lay its parts.',
      'struts',
    );
  const { printer, bare } = poseAfter(part.line, part.cursor)?.params ?? {};
  const { rotation } = part;
  const params = { ...(printer ? { printer } : {}), ...(bare ? { bare } : {}), rotation, struts: true, onPart };
  const inputs = [part.mesh.hash];
  const { outputs } = await compute.run({ kind: 'run', operation: catalogue.tips.name, params, inputs }).result;
  if (outputs.length === 0)
    throw new Refusal(
      'state',
      'cannot',
      `${part.tag} has no tip that a strut reaches as it lies.`,
      'It may need none: list its tips.',
      'struts',
    );
  const meshes = await Promise.all(
    [part.mesh.hash, outputs[0].hash].map(async (hash) =>
      placeMesh(fromCanonical(await remaker.read(hash)), rotation as unknown as Mat3),
    ),
  );
  const { min } = boundsOf(concatMeshes(meshes));
  const objects = meshes.map((mesh, i) => ({
    name: i === 0 ? part.tag : `${part.tag} struts`,
    mesh: placeMesh(mesh, identity3, [-min[0], -min[1], -min[2]]),
  }));
  const name = safeFileName(`${model.name}_${part.tag}_on-bed_struts`);
  return { name: `${name}.3mf`, type: mediaTypes['3mf'], bytes: writeThreeMf(objects, words) };
}

/**
 * One bedful of a plan, for `exportPlaced`.
 *
 * @param n from 1
 * @throws Refusal `not-found` where there is no such plan or bedful
 */
export async function bedfulOfPlan({ library }: Services, stepId: string, n: number) {
  const step = (await library.meshes.stepsOf([stepId])).get(stepId);
  const bedful = step && isStepOf(step, catalogue.bedfuls) ? step.report.bedfuls[n - 1] : undefined;
  if (!step || !isStepOf(step, catalogue.bedfuls) || !bedful)
    throw Refusal.notFound('bedful', `${stepId.slice(0, 12)}, ${n}`);
  const placed = bedful.parts.map((p) => ({ ...step.params.parts.find((q) => q.tag === p.tag)!, ...p }));
  return { n, printer: bedful.printer, placed };
}

/** A bedful as a 3MF: its parts in their places on the bed, by their tags. */
export async function exportPlaced(
  { remaker }: Pick<Services, 'remaker'>,
  model: string,
  n: number,
  printer: string,
  parts: readonly (PlacedOnBed['parts'][number] & { mesh: string; rotation: number[][] })[],
  words: FileWords,
): Promise<{ name: string; type: string; bytes: Uint8Array }> {
  const objects = await Promise.all(
    parts.map(async ({ tag, mesh, rotation, at, turnDeg }) => ({
      name: tag,
      mesh: placeOnBed(fromCanonical(await remaker.read(mesh)), rotation as unknown as Mat3, { at, turnDeg }),
    })),
  );
  const name = safeFileName(`${model}_bedful-${n}_${printer}`);
  return { name: `${name}.3mf`, type: mediaTypes['3mf'], bytes: writeThreeMf(objects, words) };
}

/** The parts as a table: what each is, what it lies beside, on what it is printed. */
function partsTable({ parts }: DivideReport, tags: readonly string[]): Uint8Array {
  const mm = (x: number): string => x.toFixed(2);
  const rows = parts
    .filter((p) => tags.includes(p.tag))
    .map((p) => [
      p.tag,
      mm(p.size.x),
      mm(p.size.y),
      mm(p.size.z),
      mm(p.min.x),
      mm(p.min.y),
      mm(p.min.z),
      mm(p.volumeMm3 / 1000),
      p.beside.map((b) => b.tag).join(' '),
      p.printer,
      p.joins.length,
    ]);
  const sides = ['x', 'y', 'z'];
  const lengths = [...sides.map((k) => `size ${k} mm`), ...sides.map((k) => `at ${k} mm`)];
  return new TextEncoder().encode(csvOf(['tag', ...lengths, 'volume cm3', 'beside', 'printer', 'joins'], rows));
}

/** The file of one mesh, written in a thread; lying on the bed where a rotation is given. */
async function written(
  compute: ComputePort,
  said: { format: ExportFormat; name: string } & FileWords,
  hash: string,
  lie?: number[][],
) {
  const params = { ...said, ...(lie ? { rotation: lie } : {}) };
  const { files } = await compute.run({ kind: 'run', operation: catalogue.export.name, params, inputs: [hash] }).result;
  return files[0];
}
