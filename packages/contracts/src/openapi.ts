import { targetConstructorToSchema, validationMetadatasToSchemas } from 'class-validator-jsonschema';
import { checkNames } from '@jasmorphe/core/params/checks';

import { descriptionOf, operationNames } from '@jasmorphe/core/operations/catalogue';
import { wordsOf } from '@jasmorphe/core/params/Param';
import { PrinterProfile } from '@jasmorphe/core/planning/PrinterProfile';
import {
  AddVersion,
  ChangeAttachment,
  ChangePiece,
  ChooseVariant,
  CreateNote,
  MakeTwins,
  NewVersion,
  RunBatch,
  UndoBatch,
} from './kitRequests.ts';
import { PlanRequest } from '@jasmorphe/core/planning/days/PlanRequest';
import { ChangeBedful, EndBedful, KeepBedfuls, MoveBedful } from './dayRequests.ts';
import { AddSpoolEntry, Retire, SaveBody, SaveMaterial, SaveSpool, Settings } from './workshopRequests.ts';
import { answerSchemas, responseSchemas } from './responseSchemas.ts';
import type { Responses } from './responses.ts';
import { DismissFinding } from './findingRequests.ts';
import {
  BackupRequest,
  ChangeProject,
  CopyProject,
  CreateLogEntry,
  CreateProject,
  EditStep,
  ExportQuery,
  FindingsQuery,
  ImportAgain,
  ChangeReference,
  CreateReference,
  MoveCursor,
  MoveLine,
  LookAt,
  PreviewOperation,
  RestoreRequest,
  RunOperation,
  SaidWhen,
  SavePlace,
  TickQuery,
} from './requests.ts';

const bodies = {
  BackupRequest,
  RestoreRequest,
  CopyProject,
  CreateProject,
  ChangeProject,
  RunOperation,
  EditStep,
  MoveCursor,
  MoveLine,
  AddVersion,
  UndoBatch,
  DismissFinding,
  ExportQuery,
  FindingsQuery,
  ImportAgain,
  CreateLogEntry,
  PrinterProfile,
  LookAt,
  PreviewOperation,
  CreateReference,
  ChangeReference,
  SavePlace,
  ChangePiece,
  MakeTwins,
  ChooseVariant,
  RunBatch,
  NewVersion,
  CreateNote,
  ChangeAttachment,
  Retire,
  SaveMaterial,
  SaveSpool,
  AddSpoolEntry,
  SaveBody,
  Settings,
  KeepBedfuls,
  MoveBedful,
  ChangeBedful,
  SaidWhen,
  TickQuery,
  EndBedful,
  PlanRequest,
};

interface Route {
  method: 'get' | 'post' | 'put' | 'patch' | 'delete';
  path: string;
  summary: string;
  body?: keyof typeof bodies;
  /** status of success; 200 if left out */
  ok?: string;
  /** it says what happened: sent again with the same key it is done once, and answered as the first time */
  once?: true;
  /** what it answers with; null for no body at all */
  gives: Answer | null;
}

/** A kind of answer, or the media type of what is no JSON. */
type Answer = keyof Responses | `${string}/${string}`;

/** Every route of the API, in one list; the server's tests hold it against the routes that really answer. */
export const routes: Route[] = [
  { method: 'get', path: '/api/health', summary: 'Is the server up, and with what data', gives: 'health' },
  { method: 'get', path: '/api/projects', summary: 'The shelf', gives: 'shelf' },
  {
    method: 'get',
    path: '/api/gauge',
    summary: 'A fit gauge to print, 3MF (query: steps, gaps on each side in mm with commas between them)',
    gives: 'model/3mf',
  },
  { method: 'post', path: '/api/projects', summary: 'New project', body: 'CreateProject', ok: '201', gives: 'project' },
  { method: 'get', path: '/api/projects/{id}', summary: 'One project', gives: 'project' },
  {
    method: 'patch',
    path: '/api/projects/{id}',
    summary: 'Rename a project or change its note',
    body: 'ChangeProject',
    gives: 'project',
  },
  {
    method: 'delete',
    path: '/api/projects/{id}',
    summary: 'Take a project off the shelf; it can be put back for 30 days (query: forever=yes removes it for good)',
    ok: '204',
    gives: null,
  },
  {
    method: 'post',
    path: '/api/projects/{id}/restore',
    summary: 'Put a project that was taken off the shelf, or archived, back',
    gives: 'project',
  },
  {
    method: 'post',
    path: '/api/projects/{id}/copy',
    summary: 'Copy a project with its lines, prints, photos and notes',
    body: 'CopyProject',
    ok: '201',
    gives: 'project',
  },
  {
    method: 'get',
    path: '/api/projects/{id}/pack',
    summary:
      'The whole project as one archive (query: word=yes where it holds altered files that may not be passed on)',
    gives: 'application/zip',
  },
  {
    method: 'post',
    path: '/api/projects/unpack',
    summary: 'Unpack the archive of a project (multipart, field "file")',
    ok: '201',
    gives: 'unpacked',
  },
  {
    method: 'post',
    path: '/api/backup',
    summary: 'Save everything into a folder of this machine, while it is in use',
    body: 'BackupRequest',
    ok: '201',
    gives: 'backup',
  },
  {
    method: 'post',
    path: '/api/backup/restore',
    summary: 'Put a backup in the place of everything; what was there is saved first',
    body: 'RestoreRequest',
    gives: 'restored',
  },
  {
    method: 'post',
    path: '/api/projects/{id}/models',
    summary: 'Upload a mesh file (multipart, field "file"; also "unit", "licence"): an import job',
    ok: '202',
    gives: 'job',
  },
  { method: 'get', path: '/api/projects/{id}/kit', summary: 'All pieces of a project as one kit', gives: 'kit' },
  {
    method: 'post',
    path: '/api/projects/{id}/kit',
    summary: 'Drop many files or archives (multipart; also "unit", "licence", "objects"): read as one batch',
    ok: '202',
    gives: 'kitDrop',
  },
  {
    method: 'post',
    path: '/api/projects/{id}/kit/unit',
    summary: 'Read pieces whose unit was guessed in the unit of the kit: a batch',
    ok: '202',
    gives: 'batch',
  },
  {
    method: 'post',
    path: '/api/projects/{id}/pieces',
    summary: 'Make a piece of its own of a file that was offered as a version: an import job',
    body: 'AddVersion',
    ok: '202',
    gives: 'job',
  },
  {
    method: 'post',
    path: '/api/projects/{id}/variants',
    summary: 'Say which of several forms of a thing is printed',
    body: 'ChooseVariant',
    gives: 'kit',
  },
  {
    method: 'post',
    path: '/api/projects/{id}/batches',
    summary: 'Run one operation on many pieces, or work out what it would give on each: a batch',
    body: 'RunBatch',
    ok: '202',
    gives: 'batch',
  },
  { method: 'get', path: '/api/batches/{id}', summary: 'Work asked for at once, as one', gives: 'batch' },
  {
    method: 'get',
    path: '/api/batches/{id}/answers',
    summary: 'What its operation gives on each piece',
    gives: 'batchAnswers',
  },
  {
    method: 'post',
    path: '/api/batches/{id}/cancel',
    summary: 'Cancel what of it waits or runs; what is done stays',
    gives: 'batch',
  },
  {
    method: 'post',
    path: '/api/batches/{id}/undo',
    summary: 'Take it back on every piece that was not changed since',
    body: 'UndoBatch',
    gives: 'batchUndone',
  },
  {
    method: 'patch',
    path: '/api/bodies/{id}',
    summary: 'Change what is said of a piece: name, copies, colour, set aside, source, terms',
    body: 'ChangePiece',
    gives: 'body',
  },
  {
    method: 'post',
    path: '/api/bodies/{id}/version',
    summary: "Put a new file in the place of a piece's own; its line replays on it: a job",
    body: 'NewVersion',
    ok: '202',
    gives: 'job',
  },
  {
    method: 'get',
    path: '/api/projects/{id}/attachments',
    summary: 'Photos and notes of a project, its pieces and parts',
    gives: 'attachments',
  },
  {
    method: 'post',
    path: '/api/projects/{id}/notes',
    summary: 'Add a note',
    body: 'CreateNote',
    ok: '201',
    gives: 'attachment',
  },
  {
    method: 'post',
    path: '/api/projects/{id}/photos',
    summary: 'Add a photo (multipart, field "file"; also "text", "bodyId")',
    ok: '201',
    gives: 'attachment',
  },
  {
    method: 'patch',
    path: '/api/attachments/{id}',
    summary: 'Change the words of a photo or a note',
    body: 'ChangeAttachment',
    gives: 'attachment',
  },
  { method: 'delete', path: '/api/attachments/{id}', summary: 'Take a photo or a note away', ok: '204', gives: null },
  {
    method: 'get',
    path: '/api/attachments/{id}/picture',
    summary: 'The picture of a photo',
    gives: 'application/octet-stream',
  },
  { method: 'get', path: '/api/projects/{id}/log', summary: 'The print log', gives: 'log' },
  {
    method: 'post',
    path: '/api/projects/{id}/log',
    summary: 'Add to the print log',
    body: 'CreateLogEntry',
    ok: '201',
    once: true,
    gives: 'logEntry',
  },
  {
    method: 'post',
    path: '/api/bodies/{id}/print/undo',
    summary: 'Take back what was last said of the print of a part, or its recut',
    body: 'SaidWhen',
    once: true,
    gives: 'part',
  },
  {
    method: 'post',
    path: '/api/bodies/{id}/print/redo',
    summary: 'Bring back what was last taken back there',
    body: 'SaidWhen',
    once: true,
    gives: 'part',
  },
  { method: 'get', path: '/api/bodies/{id}', summary: 'A model or part with its line', gives: 'body' },
  {
    method: 'get',
    path: '/api/bodies/{id}/findings',
    summary: 'What is wrong with a model and what matters at a stop, worst first (query: stop)',
    gives: 'findings',
  },
  { method: 'delete', path: '/api/bodies/{id}', summary: 'Remove a model', ok: '204', gives: null },
  {
    method: 'post',
    path: '/api/bodies/{id}/imports',
    summary: "Import the model's file again, its objects apart or together",
    body: 'ImportAgain',
    ok: '202',
    gives: 'job',
  },
  {
    method: 'post',
    path: '/api/bodies/{id}/steps',
    summary: 'Run an operation and add it to the line: a job',
    body: 'RunOperation',
    ok: '202',
    gives: 'job',
  },
  {
    method: 'put',
    path: '/api/bodies/{id}/steps/{index}',
    summary: 'Change the params of a step and replay the later ones: a job',
    body: 'EditStep',
    ok: '202',
    gives: 'job',
  },
  {
    method: 'post',
    path: '/api/bodies/{id}/previews',
    summary: 'Work an operation or a study out without adding it: a job, or the step if it is known',
    body: 'PreviewOperation',
    ok: '202',
    gives: 'jobOrStep',
  },
  {
    method: 'post',
    path: '/api/bodies/{id}/samples',
    summary: 'Make a test piece (params of "sample") as a model of its own: a job',
    ok: '202',
    gives: 'job',
  },
  {
    method: 'post',
    path: '/api/bodies/{id}/references',
    summary: 'New reference body of measures to size the model by: a job',
    body: 'CreateReference',
    ok: '202',
    gives: 'job',
  },
  {
    method: 'post',
    path: '/api/bodies/{id}/references/scan',
    summary: 'Upload a scan as a reference body (multipart, field "file"; also "unit"): a job',
    ok: '202',
    gives: 'job',
  },
  {
    method: 'patch',
    path: '/api/references/{id}',
    summary: 'Place a reference body, or change its lining',
    body: 'ChangeReference',
    gives: 'reference',
  },
  { method: 'delete', path: '/api/references/{id}', summary: 'Take a reference body away', ok: '204', gives: null },
  { method: 'get', path: '/api/places', summary: 'Rooms, benches, doors and boots', gives: 'places' },
  { method: 'post', path: '/api/places', summary: 'New place', body: 'SavePlace', ok: '201', gives: 'place' },
  { method: 'put', path: '/api/places/{id}', summary: 'Change a place', body: 'SavePlace', gives: 'place' },
  { method: 'delete', path: '/api/places/{id}', summary: 'Remove a place', ok: '204', gives: null },
  {
    method: 'post',
    path: '/api/bodies/{id}/undo',
    summary: 'Undo the last change of the line',
    body: 'MoveLine',
    gives: 'body',
  },
  { method: 'post', path: '/api/bodies/{id}/redo', summary: 'Redo it', body: 'MoveLine', gives: 'body' },
  {
    method: 'post',
    path: '/api/bodies/{id}/cursor',
    summary: 'Go back or forward to a step',
    body: 'MoveCursor',
    gives: 'body',
  },
  {
    method: 'post',
    path: '/api/bodies/{id}/dismissals',
    summary: 'Set a finding aside, with the reason',
    body: 'DismissFinding',
    ok: '201',
    gives: 'dismissals',
  },
  {
    method: 'delete',
    path: '/api/bodies/{id}/dismissals/{code}',
    summary: 'Take a finding up again',
    ok: '204',
    gives: null,
  },
  {
    method: 'put',
    path: '/api/bodies/{id}/joints/{key}',
    summary:
      'Tick a joint off that is done on the bench (query: anyway=yes where a part of it is not off the bed yet; at)',
    once: true,
    gives: 'body',
  },
  {
    method: 'delete',
    path: '/api/bodies/{id}/joints/{key}',
    summary: 'It is not done after all',
    ok: '204',
    once: true,
    gives: null,
  },
  {
    method: 'put',
    path: '/api/bodies/{id}/tips/{key}',
    summary: 'Tick a support tip of a part off that was looked at (query: at)',
    once: true,
    gives: 'body',
  },
  {
    method: 'delete',
    path: '/api/bodies/{id}/tips/{key}',
    summary: 'It is to be looked at after all',
    ok: '204',
    once: true,
    gives: null,
  },
  {
    method: 'get',
    path: '/api/bodies/{id}/bedfuls/{step}/{n}',
    summary: 'One bedful of a plan that was worked out, its parts in their places, as a 3MF (query: word)',
    gives: 'application/octet-stream',
  },
  {
    method: 'get',
    path: '/api/bodies/{id}/bedfuls',
    summary: 'Bedfuls of a model as they were decided, with what became of them',
    gives: 'bedfuls',
  },
  {
    method: 'post',
    path: '/api/bodies/{id}/twins',
    summary: 'Make a piece that several are printed of as many pieces, each with a line and prints of its own',
    body: 'MakeTwins',
    ok: '201',
    gives: 'twins',
  },
  {
    method: 'get',
    path: '/api/projects/{id}/bedfuls',
    summary: 'Parts of all models of a project that wait to be laid or for a bed, and its bedfuls',
    gives: 'projectBeds',
  },
  {
    method: 'post',
    path: '/api/bodies/{id}/bedfuls',
    summary: 'Keep bedfuls that a step worked out; they take the place of those that wait',
    body: 'KeepBedfuls',
    ok: '201',
    gives: 'bedfuls',
  },
  {
    method: 'post',
    path: '/api/bodies/{id}/bedfuls/undo',
    summary: 'Take the last arrangement of bedfuls back',
    gives: 'bedfuls',
  },
  { method: 'get', path: '/api/bedfuls/{id}', summary: 'One bedful', gives: 'bedful' },
  {
    method: 'post',
    path: '/api/bedfuls/{id}/move',
    summary: 'Put a bedful that waits on another printer; one in its place has its number',
    body: 'MoveBedful',
    ok: '201',
    gives: 'bedful',
  },
  {
    method: 'patch',
    path: '/api/bedfuls/{id}',
    summary: 'When a bedful is wanted; null leaves it to the plan',
    body: 'ChangeBedful',
    gives: 'bedful',
  },
  {
    method: 'delete',
    path: '/api/bedfuls/{id}',
    summary: 'Take a bedful that waits apart; undo brings it back',
    ok: '204',
    gives: null,
  },
  {
    method: 'get',
    path: '/api/bedfuls/{id}/file',
    summary: 'A bedful as a 3MF, its parts in their places (query: word)',
    gives: 'application/octet-stream',
  },
  {
    method: 'post',
    path: '/api/bedfuls/{id}/start',
    summary: 'A bedful is on the bed: all its parts are started',
    body: 'SaidWhen',
    ok: '201',
    once: true,
    gives: 'bedful',
  },
  {
    method: 'post',
    path: '/api/bedfuls/{id}/end',
    summary: 'A bedful is off the bed: what stopped and where, hours, spools; all else looks right',
    body: 'EndBedful',
    ok: '201',
    once: true,
    gives: 'bedful',
  },
  {
    method: 'post',
    path: '/api/bedfuls/{id}/undo',
    summary: 'Take back what was said last of a bedful at the printer',
    body: 'SaidWhen',
    once: true,
    gives: 'bedful',
  },
  { method: 'get', path: '/api/days', summary: 'Days of all printers: bedfuls, spools, risk', gives: 'days' },
  {
    method: 'get',
    path: '/api/days/calendar.ics',
    summary: 'What a person has to do on those days, as a calendar file',
    gives: 'text/calendar',
  },
  {
    method: 'get',
    path: '/api/days/otherwise',
    summary: 'How days would be with one thing changed, and where cutting pays',
    gives: 'otherwise',
  },
  {
    method: 'get',
    path: '/api/days/hours',
    summary: 'How long prints take against what was said, by printer and material, from the log',
    gives: 'hoursByLog',
  },
  {
    method: 'get',
    path: '/api/days/rates',
    summary: 'How often each printer fails, by its log; the usual rate until that tells',
    gives: 'rates',
  },
  {
    method: 'get',
    path: '/api/projects/{id}/book',
    summary: 'The build book of a project, PDF (query: paper, a4 or letter)',
    gives: 'application/pdf',
  },
  {
    method: 'get',
    path: '/api/projects/{id}/book/tables',
    summary: 'The tables of the build book: parts, bedfuls, days, shopping, assembly',
    gives: 'bookTables',
  },
  {
    method: 'get',
    path: '/api/projects/{id}/book/tables/{table}',
    summary: 'One of those tables as CSV, such as parts.csv',
    gives: 'text/csv',
  },
  {
    method: 'post',
    path: '/api/plans',
    summary: 'Plan days from what is given, whatever is in the database',
    body: 'PlanRequest',
    gives: 'plan',
  },
  {
    method: 'get',
    path: '/api/bodies/{id}/export',
    summary: 'The mesh, or all parts in one archive, as a file (query: format, what, pose, struts, size, only, word)',
    gives: 'application/octet-stream',
  },
  { method: 'get', path: '/api/steps/{id}', summary: 'One step with its report', gives: 'step' },
  { method: 'get', path: '/api/meshes/{hash}/facts', summary: 'What was measured of a mesh', gives: 'mesh' },
  {
    method: 'get',
    path: '/api/meshes/{hash}',
    summary: 'Canonical bytes of a mesh',
    gives: 'application/octet-stream',
  },
  {
    method: 'get',
    path: '/api/meshes/{hash}/display',
    summary: 'Display mesh within a triangle budget (query: budget)',
    gives: 'application/octet-stream',
  },
  { method: 'get', path: '/api/jobs', summary: 'Jobs, newest first', gives: 'jobs' },
  { method: 'get', path: '/api/jobs/{id}', summary: 'One job', gives: 'job' },
  { method: 'post', path: '/api/jobs/{id}/cancel', summary: 'Cancel a job', gives: 'job' },
  {
    method: 'put',
    path: '/api/pages/{id}/looks-at',
    summary: 'Say which previews an open page looks at: those that no page does are ended',
    body: 'LookAt',
    ok: '204',
    gives: null,
  },
  {
    method: 'get',
    path: '/api/events',
    summary: 'Server-sent events: jobs, bodies, projects; page=ID says that this page is open',
    gives: 'text/event-stream',
  },
  { method: 'get', path: '/api/printers', summary: 'Printers', gives: 'printers' },
  {
    method: 'post',
    path: '/api/printers',
    summary: 'New printer',
    body: 'PrinterProfile',
    ok: '201',
    gives: 'printer',
  },
  {
    method: 'put',
    path: '/api/printers/{id}',
    summary: 'Change a printer',
    body: 'PrinterProfile',
    gives: 'printer',
  },
  {
    method: 'patch',
    path: '/api/printers/{id}',
    summary: 'Retire a printer, or take it back into use',
    body: 'Retire',
    gives: 'printer',
  },
  { method: 'delete', path: '/api/printers/{id}', summary: 'Remove a printer', ok: '204', gives: null },
  { method: 'get', path: '/api/materials', summary: 'Materials', gives: 'materials' },
  {
    method: 'post',
    path: '/api/materials',
    summary: 'New material',
    body: 'SaveMaterial',
    ok: '201',
    gives: 'material',
  },
  { method: 'put', path: '/api/materials/{id}', summary: 'Change a material', body: 'SaveMaterial', gives: 'material' },
  {
    method: 'patch',
    path: '/api/materials/{id}',
    summary: 'Retire a material, or take it back into use',
    body: 'Retire',
    gives: 'material',
  },
  { method: 'get', path: '/api/spools', summary: 'Spools and bottles, with what is left of each', gives: 'spools' },
  {
    method: 'post',
    path: '/api/spools',
    summary: 'New spool or bottle',
    body: 'SaveSpool',
    ok: '201',
    gives: 'spool',
  },
  { method: 'put', path: '/api/spools/{id}', summary: 'Change a spool or bottle', body: 'SaveSpool', gives: 'spool' },
  { method: 'delete', path: '/api/spools/{id}', summary: 'Remove a spool or bottle', ok: '204', gives: null },
  {
    method: 'post',
    path: '/api/spools/{id}/entries',
    summary: 'Say what a spool weighs, or what was taken from it',
    body: 'AddSpoolEntry',
    ok: '201',
    gives: 'spool',
  },
  { method: 'get', path: '/api/saved-bodies', summary: 'Bodies for all projects', gives: 'savedBodies' },
  {
    method: 'post',
    path: '/api/saved-bodies',
    summary: 'Keep a body for all projects',
    body: 'SaveBody',
    ok: '201',
    gives: 'savedBody',
  },
  {
    method: 'put',
    path: '/api/saved-bodies/{id}',
    summary: 'Change a body',
    body: 'SaveBody',
    gives: 'savedBody',
  },
  { method: 'delete', path: '/api/saved-bodies/{id}', summary: 'Remove a body', ok: '204', gives: null },
  { method: 'get', path: '/api/settings', summary: "The maker's choices for all projects", gives: 'settings' },
  { method: 'put', path: '/api/settings', summary: 'Change them', body: 'Settings', gives: 'settings' },
  { method: 'delete', path: '/api/materials/{id}', summary: 'Remove a material', ok: '204', gives: null },
  { method: 'get', path: '/api/openapi.json', summary: 'This description', gives: 'application/vnd.oai.openapi+json' },
];

/** A successful answer. */
function answerOf(gives: Answer | null): object {
  if (gives === null) return { description: 'Done' };
  if (gives in responseSchemas)
    return {
      description: 'What was asked for',
      content: { 'application/json': { schema: responseSchemas[gives as keyof Responses] } },
    };
  return { description: 'What was asked for', content: { [gives]: {} } };
}

/** OpenAPI 3.1 description, made from the same classes that validate the requests. */
export function openApiDocument(): object {
  // checks of ours carry their schema with them
  const additionalConverters = Object.fromEntries(
    [...checkNames].map((name) => [
      name,
      (meta: { constraints?: unknown[] }) => meta.constraints![0] as { description?: string },
    ]),
  );
  const options = { refPointerPrefix: '#/components/schemas/', additionalConverters };
  validationMetadatasToSchemas(options);
  const schemas: Record<string, unknown> = {
    Error: {
      type: 'object',
      required: ['error'],
      properties: {
        error: {
          type: 'object',
          required: ['code', 'message', 'hint'],
          properties: {
            code: { type: 'string' },
            message: { type: 'string' },
            hint: { type: 'string' },
            field: { type: 'string' },
          },
        },
      },
    },
  };
  Object.assign(schemas, answerSchemas);
  for (const [name, type] of Object.entries(bodies)) schemas[name] = targetConstructorToSchema(type, options);
  for (const name of operationNames) {
    const { params, words } = descriptionOf(name);
    const schema = targetConstructorToSchema(params, options);
    for (const [param, { help }] of wordsOf(params)) {
      const property = schema.properties?.[param];
      if (property && !('$ref' in property)) property.description = help;
    }
    schemas[params.name] = {
      ...schema,
      description: `Parameters of "${name}": ${words.summary}.`,
    };
  }
  const failure = {
    description: 'What went wrong, and what to try',
    content: { 'application/json': { schema: { $ref: '#/components/schemas/Error' } } },
  };
  const paths: Record<string, Record<string, unknown>> = {};
  for (const { method, path, summary, body, ok, once, gives } of routes) {
    const parameters: object[] = [...path.matchAll(/\{(\w+)\}/g)].map(([, name]) => ({
      name,
      in: 'path',
      required: true,
      schema: { type: 'string' },
    }));
    if (once)
      parameters.push({
        name: 'Idempotency-Key',
        in: 'header',
        required: false,
        description: 'Known for 30 days: the same word sent again with it is done once, and gets the same answer.',
        schema: { type: 'string', minLength: 8, maxLength: 120 },
      });
    (paths[path] ??= {})[method] = {
      summary,
      parameters,
      ...(body
        ? {
            requestBody: {
              required: true,
              content: { 'application/json': { schema: { $ref: `#/components/schemas/${body}` } } },
            },
          }
        : {}),
      responses: { [ok ?? '200']: answerOf(gives), default: failure },
    };
  }
  return {
    openapi: '3.1.0',
    info: { title: 'Jasmorphe', version: '0.1.0', description: 'Lengths in mm, volumes in mm3, mass in g, time in s.' },
    paths,
    components: { schemas },
  };
}
