import { Ajv2020, type ValidateFunction } from 'ajv/dist/2020.js';
import { nameNow } from '@jasmorphe/core/operations/catalogue';
import { isMeshError } from '@jasmorphe/core/run/MeshError';
import { answerSchemas } from '@jasmorphe/contracts/responseSchemas';
import { isRotation } from '@jasmorphe/core/params/checks';
import { isOwner } from '@jasmorphe/core/planning/bedfuls/LaidPart';
import { bareView } from '../store/bedfulViews.ts';
import { mediaTypeOf } from '../store/Attachments.ts';
import { referenceView } from '../store/References.ts';
import { meshView, stepView } from '../store/rowViews.ts';
import { codecs } from '../store/codecs.ts';
import type { PackedRows } from './PackedProject.ts';

/*
 * What a pack says of its project is told on pages as it stands, so it is held to what our own answers look like: the
 * schemas that the API describes itself by. Values of JSON columns are read with their defaults first, so that a pack of
 * an earlier version is none the worse for it.
 */

let ajv: Ajv2020 | undefined;

/** Made by the first who asks: it takes a good part of the start of a server, and few packs come in. */
function ourAjv(): Ajv2020 {
  if (ajv) return ajv;
  ajv = new Ajv2020({ strict: false, validateFormats: false });
  return ajv.addSchema({ $id: 'api', components: { schemas: answerSchemas } });
}

const validators = new Map<string, ValidateFunction>();

/** Is a value such an answer, by the schema of that name? */
function isAnswer(name: keyof typeof answerSchemas, value: unknown): boolean {
  const known = validators.get(name);
  const validate = known ?? ourAjv().compile({ $ref: `api#/components/schemas/${name}` });
  validators.set(name, validate);
  return validate(value);
}

/** Can it be read, and is it such an answer then? */
function reads(name: keyof typeof answerSchemas, view: () => unknown): boolean {
  try {
    return isAnswer(name, view());
  } catch (error) {
    if (isMeshError(error) || error instanceof TypeError) return false;
    throw error;
  }
}

/** What of the rows is not as our own answers are, in words; null where all is well. */
export function oddRow(rows: PackedRows): string | null {
  const [project] = rows.projects;
  if (!isAnswer('SourceView', project.source)) return 'the source of the project is none';
  for (const m of rows.models) {
    if (!isAnswer('SourceView', m.source)) return `the source of "${m.name}" is none`;
    if (!Number.isInteger(m.copies) || m.copies < 1) return `"${m.name}" is printed ${m.copies} times`;
  }
  for (const m of rows.meshes)
    if (!reads('MeshView', () => meshView(m))) return `the facts of mesh ${m.hash.slice(0, 12)} are none`;
  for (const s of rows.steps)
    if (!reads('StepView', () => stepView({ ...s, operation: nameNow(s.operation) as string })))
      return `the report of a step "${s.operation.slice(0, 40)}" is none`;
  for (const r of rows.references)
    if (!reads('ReferenceView', () => referenceView(r))) return `the body "${r.name}" is none`;
  for (const p of rows.printers)
    if (!isAnswer('PrinterProfile', { ...codecs.profile.read(p.profile) })) return 'a printer is none';
  for (const b of rows.bedfuls)
    if (
      !(b.durationS >= 0 && b.materialG >= 0) ||
      !b.parts.every((p) => isRotation(p.rotation) && (p.of === undefined || isOwner(p.of))) ||
      !reads('BedfulView', () => bareView(b))
    )
      return `bedful ${b.number} is none`;
  for (const a of rows.attachments)
    if (a.kind === 'photo' && (a.hash === null || mediaTypeOf(a.name) !== a.mediaType))
      return `the photo "${a.name}" is none`;
  return null;
}
