import { PlanRequest } from '@jasmorphe/core/planning/days/PlanRequest';
import { PrinterProfile } from '@jasmorphe/core/planning/PrinterProfile';
import { BookQuery, ChangeBedful, EndBedful, KeepBedfuls, MoveBedful } from './dayRequests.ts';
import { DismissFinding } from './findingRequests.ts';
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
import {
  BackupRequest,
  BedfulFileQuery,
  ChangeProject,
  ChangeReference,
  CopyProject,
  CreateLogEntry,
  CreateProject,
  CreateReference,
  EditStep,
  ExportQuery,
  FindingsQuery,
  GaugeQuery,
  ImportAgain,
  LookAt,
  MoveCursor,
  MoveLine,
  PackQuery,
  PreviewOperation,
  RemoveQuery,
  RestoreRequest,
  RunOperation,
  SaidWhen,
  SavePlace,
  TickQuery,
} from './requests.ts';
import type { Responses } from './responses.ts';
import { AddSpoolEntry, Retire, SaveBody, SaveMaterial, SaveSpool, Settings } from './workshopRequests.ts';

/** A kind of answer, or the media type of what is no JSON. */
export type Answer = keyof Responses | `${string}/${string}`;

export interface Route {
  summary: string;
  /** class of its body, by which it is checked */
  body?: new () => object;
  /** it may come without a body: all is as usual then */
  mayBeEmpty?: true;
  /** class of what stands behind the "?" */
  query?: new () => object;
  /** status of success; 200 if left out */
  ok?: number;
  /** it says what happened: sent again with the same key it is done once, and answered as the first time */
  once?: true;
  /** what it answers with; null for no body at all */
  gives: Answer | null;
}

/**
 * Every route of the API below /api, by its method and path: the server answers by this table, the description is made from it, and
 * the page asks by it.
 */
export const routes = {
  'GET /health': { summary: 'Is the server up, and with what data', gives: 'health' },
  'GET /projects': { summary: 'The shelf', gives: 'shelf' },
  'GET /gauge': { summary: 'A fit gauge to print, 3MF', query: GaugeQuery, gives: 'model/3mf' },
  'POST /projects': { summary: 'New project', body: CreateProject, ok: 201, gives: 'project' },
  'GET /projects/{id}': { summary: 'One project', gives: 'project' },
  'PATCH /projects/{id}': { summary: 'Rename a project or change its note', body: ChangeProject, gives: 'project' },
  'DELETE /projects/{id}': {
    summary: 'Take a project off the shelf; it can be put back for 30 days',
    query: RemoveQuery,
    ok: 204,
    gives: null,
  },
  'POST /projects/{id}/restore': {
    summary: 'Put a project that was taken off the shelf, or archived, back',
    gives: 'project',
  },
  'POST /projects/{id}/copy': {
    summary: 'Copy a project with its lines, prints, photos and notes',
    body: CopyProject,
    mayBeEmpty: true,
    ok: 201,
    gives: 'project',
  },
  'GET /projects/{id}/pack': {
    summary: 'The whole project as one archive',
    query: PackQuery,
    gives: 'application/zip',
  },
  'POST /projects/unpack': {
    summary: 'Unpack the archive of a project (multipart, field "file")',
    ok: 201,
    gives: 'unpacked',
  },
  'POST /backup': {
    summary: 'Save everything into a folder of this machine, while it is in use',
    body: BackupRequest,
    mayBeEmpty: true,
    ok: 201,
    gives: 'backup',
  },
  'POST /backup/restore': {
    summary: 'Put a backup in the place of everything; what was there is saved first',
    body: RestoreRequest,
    gives: 'restored',
  },
  'POST /projects/{id}/models': {
    summary: 'Upload a mesh file (multipart, field "file"; also "unit", "licence"): an import job',
    ok: 202,
    gives: 'job',
  },
  'GET /projects/{id}/kit': { summary: 'All pieces of a project as one kit', gives: 'kit' },
  'POST /projects/{id}/kit': {
    summary: 'Drop many files or archives (multipart; also "unit", "licence", "objects"): read as one batch',
    ok: 202,
    gives: 'kitDrop',
  },
  'POST /projects/{id}/kit/unit': {
    summary: 'Read pieces whose unit was guessed in the unit of the kit: a batch',
    ok: 202,
    gives: 'batch',
  },
  'POST /projects/{id}/pieces': {
    summary: 'Make a piece of its own of a file that was offered as a version: an import job',
    body: AddVersion,
    ok: 202,
    gives: 'job',
  },
  'POST /projects/{id}/variants': {
    summary: 'Say which of several forms of a thing is printed',
    body: ChooseVariant,
    gives: 'kit',
  },
  'POST /projects/{id}/batches': {
    summary: 'Run one operation on many pieces, or work out what it would give on each: a batch',
    body: RunBatch,
    ok: 202,
    gives: 'batch',
  },
  'GET /batches/{id}': { summary: 'Work asked for at once, as one', gives: 'batch' },
  'GET /batches/{id}/answers': { summary: 'What its operation gives on each piece', gives: 'batchAnswers' },
  'POST /batches/{id}/cancel': { summary: 'Cancel what of it waits or runs; what is done stays', gives: 'batch' },
  'POST /batches/{id}/undo': {
    summary: 'Take it back on every piece that was not changed since',
    body: UndoBatch,
    mayBeEmpty: true,
    gives: 'batchUndone',
  },
  'PATCH /bodies/{id}': {
    summary: 'Change what is said of a piece: name, copies, colour, set aside, source, terms',
    body: ChangePiece,
    gives: 'body',
  },
  'POST /bodies/{id}/version': {
    summary: "Put a new file in the place of a piece's own; its line replays on it: a job",
    body: NewVersion,
    ok: 202,
    gives: 'job',
  },
  'GET /projects/{id}/attachments': {
    summary: 'Photos and notes of a project, its pieces and parts',
    gives: 'attachments',
  },
  'POST /projects/{id}/notes': { summary: 'Add a note', body: CreateNote, ok: 201, gives: 'attachment' },
  'POST /projects/{id}/photos': {
    summary: 'Add a photo (multipart, field "file"; also "text", "bodyId")',
    ok: 201,
    gives: 'attachment',
  },
  'PATCH /attachments/{id}': {
    summary: 'Change the words of a photo or a note',
    body: ChangeAttachment,
    gives: 'attachment',
  },
  'DELETE /attachments/{id}': { summary: 'Take a photo or a note away', ok: 204, gives: null },
  'GET /attachments/{id}/picture': { summary: 'The picture of a photo', gives: 'application/octet-stream' },
  'GET /projects/{id}/log': { summary: 'The print log', gives: 'log' },
  'POST /projects/{id}/log': {
    summary: 'Add to the print log',
    body: CreateLogEntry,
    ok: 201,
    once: true,
    gives: 'logEntry',
  },
  'POST /bodies/{id}/print/undo': {
    summary: 'Take back what was last said of the print of a part, or its recut',
    body: SaidWhen,
    mayBeEmpty: true,
    once: true,
    gives: 'part',
  },
  'POST /bodies/{id}/print/redo': {
    summary: 'Bring back what was last taken back there',
    body: SaidWhen,
    mayBeEmpty: true,
    once: true,
    gives: 'part',
  },
  'GET /bodies/{id}': { summary: 'A model or part with its line', gives: 'body' },
  'GET /bodies/{id}/findings': {
    summary: 'What is wrong with a model and what matters at a stop, worst first',
    query: FindingsQuery,
    gives: 'findings',
  },
  'DELETE /bodies/{id}': { summary: 'Remove a model', ok: 204, gives: null },
  'POST /bodies/{id}/imports': {
    summary: "Import the model's file again, its objects apart or together",
    body: ImportAgain,
    ok: 202,
    gives: 'job',
  },
  'POST /bodies/{id}/steps': {
    summary: 'Run an operation and add it to the line: a job',
    body: RunOperation,
    ok: 202,
    gives: 'job',
  },
  'PUT /bodies/{id}/steps/{index}': {
    summary: 'Change the params of a step and replay the later ones: a job',
    body: EditStep,
    ok: 202,
    gives: 'job',
  },
  'POST /bodies/{id}/previews': {
    summary: 'Work an operation or a study out without adding it: a job, or the step if it is known',
    body: PreviewOperation,
    ok: 202,
    gives: 'jobOrStep',
  },
  'POST /bodies/{id}/samples': {
    summary: 'Make a test piece (params of "sample") as a model of its own: a job',
    ok: 202,
    gives: 'job',
  },
  'POST /bodies/{id}/references': {
    summary: 'New reference body of measures to size the model by: a job',
    body: CreateReference,
    ok: 202,
    gives: 'job',
  },
  'POST /bodies/{id}/references/scan': {
    summary: 'Upload a scan as a reference body (multipart, field "file"; also "unit"): a job',
    ok: 202,
    gives: 'job',
  },
  'PATCH /references/{id}': {
    summary: 'Place a reference body, or change its lining',
    body: ChangeReference,
    gives: 'reference',
  },
  'DELETE /references/{id}': { summary: 'Take a reference body away', ok: 204, gives: null },
  'GET /places': { summary: 'Rooms, benches, doors and boots', gives: 'places' },
  'POST /places': { summary: 'New place', body: SavePlace, ok: 201, gives: 'place' },
  'PUT /places/{id}': { summary: 'Change a place', body: SavePlace, gives: 'place' },
  'DELETE /places/{id}': { summary: 'Remove a place', ok: 204, gives: null },
  'POST /bodies/{id}/undo': {
    summary: 'Undo the last change of the line',
    body: MoveLine,
    mayBeEmpty: true,
    gives: 'body',
  },
  'POST /bodies/{id}/redo': { summary: 'Redo it', body: MoveLine, mayBeEmpty: true, gives: 'body' },
  'POST /bodies/{id}/cursor': { summary: 'Go back or forward to a step', body: MoveCursor, gives: 'body' },
  'POST /bodies/{id}/dismissals': {
    summary: 'Set a finding aside, with the reason',
    body: DismissFinding,
    ok: 201,
    gives: 'dismissals',
  },
  'DELETE /bodies/{id}/dismissals/{code}': { summary: 'Take a finding up again', ok: 204, gives: null },
  'PUT /bodies/{id}/joints/{key}': {
    summary: 'Tick a joint off that is done on the bench',
    query: TickQuery,
    once: true,
    gives: 'body',
  },
  'DELETE /bodies/{id}/joints/{key}': { summary: 'It is not done after all', ok: 204, once: true, gives: null },
  'PUT /bodies/{id}/tips/{key}': {
    summary: 'Tick a support tip of a part off that was looked at',
    query: SaidWhen,
    once: true,
    gives: 'body',
  },
  'DELETE /bodies/{id}/tips/{key}': { summary: 'It is to be looked at after all', ok: 204, once: true, gives: null },
  'GET /bodies/{id}/bedfuls/{step}/{n}': {
    summary: 'One bedful of a plan that was worked out, its parts in their places, as a 3MF',
    query: BedfulFileQuery,
    gives: 'application/octet-stream',
  },
  'GET /bodies/{id}/bedfuls': {
    summary: 'Bedfuls of a model as they were decided, with what became of them',
    gives: 'bedfuls',
  },
  'POST /bodies/{id}/twins': {
    summary: 'Make a piece that several are printed of as many pieces, each with a line and prints of its own',
    body: MakeTwins,
    ok: 201,
    gives: 'twins',
  },
  'GET /projects/{id}/bedfuls': {
    summary: 'Parts of all models of a project that wait to be laid or for a bed, and its bedfuls',
    gives: 'projectBeds',
  },
  'POST /bodies/{id}/bedfuls': {
    summary: 'Keep bedfuls that a step worked out; they take the place of those that wait',
    body: KeepBedfuls,
    ok: 201,
    gives: 'bedfuls',
  },
  'POST /bodies/{id}/bedfuls/undo': { summary: 'Take the last arrangement of bedfuls back', gives: 'bedfuls' },
  'GET /bedfuls/{id}': { summary: 'One bedful', gives: 'bedful' },
  'POST /bedfuls/{id}/move': {
    summary: 'Put a bedful that waits on another printer; one in its place has its number',
    body: MoveBedful,
    ok: 201,
    gives: 'bedful',
  },
  'PATCH /bedfuls/{id}': {
    summary: 'When a bedful is wanted; null leaves it to the plan',
    body: ChangeBedful,
    gives: 'bedful',
  },
  'DELETE /bedfuls/{id}': { summary: 'Take a bedful that waits apart; undo brings it back', ok: 204, gives: null },
  'GET /bedfuls/{id}/file': {
    summary: 'A bedful as a 3MF, its parts in their places',
    query: BedfulFileQuery,
    gives: 'application/octet-stream',
  },
  'POST /bedfuls/{id}/start': {
    summary: 'A bedful is on the bed: all its parts are started',
    body: SaidWhen,
    mayBeEmpty: true,
    ok: 201,
    once: true,
    gives: 'bedful',
  },
  'POST /bedfuls/{id}/end': {
    summary: 'A bedful is off the bed: what stopped and where, hours, spools; all else looks right',
    body: EndBedful,
    mayBeEmpty: true,
    ok: 201,
    once: true,
    gives: 'bedful',
  },
  'POST /bedfuls/{id}/undo': {
    summary: 'Take back what was said last of a bedful at the printer',
    body: SaidWhen,
    mayBeEmpty: true,
    once: true,
    gives: 'bedful',
  },
  'GET /days': { summary: 'Days of all printers: bedfuls, spools, risk', gives: 'days' },
  'GET /days/calendar.ics': {
    summary: 'What a person has to do on those days, as a calendar file',
    gives: 'text/calendar',
  },
  'GET /days/otherwise': {
    summary: 'How days would be with one thing changed, and where cutting pays',
    gives: 'otherwise',
  },
  'GET /days/hours': {
    summary: 'How long prints take against what was said, by printer and material, from the log',
    gives: 'hoursByLog',
  },
  'GET /days/rates': {
    summary: 'How often each printer fails, by its log; the usual rate until that tells',
    gives: 'rates',
  },
  'GET /projects/{id}/book': {
    summary: 'The build book of a project, PDF',
    query: BookQuery,
    gives: 'application/pdf',
  },
  'GET /projects/{id}/book/tables': {
    summary: 'The tables of the build book: parts, bedfuls, days, shopping, assembly',
    gives: 'bookTables',
  },
  'GET /projects/{id}/book/tables/{table}': {
    summary: 'One of those tables as CSV, such as parts.csv',
    gives: 'text/csv',
  },
  'POST /plans': {
    summary: 'Plan days from what is given, whatever is in the database',
    body: PlanRequest,
    gives: 'plan',
  },
  'GET /bodies/{id}/export': {
    summary: 'The mesh, or all parts in one archive, as a file',
    query: ExportQuery,
    gives: 'application/octet-stream',
  },
  'GET /steps/{id}': { summary: 'One step with its report', gives: 'step' },
  'GET /meshes/{hash}/facts': { summary: 'What was measured of a mesh', gives: 'mesh' },
  'GET /meshes/{hash}': { summary: 'Canonical bytes of a mesh', gives: 'application/octet-stream' },
  'GET /meshes/{hash}/display': {
    summary: 'Display mesh within a triangle budget (query: budget)',
    gives: 'application/octet-stream',
  },
  'GET /jobs': { summary: 'Jobs, newest first', gives: 'jobs' },
  'GET /jobs/{id}': { summary: 'One job', gives: 'job' },
  'POST /jobs/{id}/cancel': { summary: 'Cancel a job', gives: 'job' },
  'PUT /pages/{id}/looks-at': {
    summary: 'Say which previews an open page looks at: those that no page does are ended',
    body: LookAt,
    ok: 204,
    gives: null,
  },
  'GET /events': {
    summary: 'Server-sent events: jobs, bodies, projects; page=ID says that this page is open',
    gives: 'text/event-stream',
  },
  'GET /printers': { summary: 'Printers', gives: 'printers' },
  'POST /printers': { summary: 'New printer', body: PrinterProfile, ok: 201, gives: 'printer' },
  'PUT /printers/{id}': { summary: 'Change a printer', body: PrinterProfile, gives: 'printer' },
  'PATCH /printers/{id}': { summary: 'Retire a printer, or take it back into use', body: Retire, gives: 'printer' },
  'DELETE /printers/{id}': { summary: 'Remove a printer', ok: 204, gives: null },
  'GET /materials': { summary: 'Materials', gives: 'materials' },
  'POST /materials': { summary: 'New material', body: SaveMaterial, ok: 201, gives: 'material' },
  'PUT /materials/{id}': { summary: 'Change a material', body: SaveMaterial, gives: 'material' },
  'PATCH /materials/{id}': { summary: 'Retire a material, or take it back into use', body: Retire, gives: 'material' },
  'GET /spools': { summary: 'Spools and bottles, with what is left of each', gives: 'spools' },
  'POST /spools': { summary: 'New spool or bottle', body: SaveSpool, ok: 201, gives: 'spool' },
  'PUT /spools/{id}': { summary: 'Change a spool or bottle', body: SaveSpool, gives: 'spool' },
  'DELETE /spools/{id}': { summary: 'Remove a spool or bottle', ok: 204, gives: null },
  'POST /spools/{id}/entries': {
    summary: 'Say what a spool weighs, or what was taken from it',
    body: AddSpoolEntry,
    ok: 201,
    gives: 'spool',
  },
  'GET /saved-bodies': { summary: 'Bodies for all projects', gives: 'savedBodies' },
  'POST /saved-bodies': { summary: 'Keep a body for all projects', body: SaveBody, ok: 201, gives: 'savedBody' },
  'PUT /saved-bodies/{id}': { summary: 'Change a body', body: SaveBody, gives: 'savedBody' },
  'DELETE /saved-bodies/{id}': { summary: 'Remove a body', ok: 204, gives: null },
  'GET /settings': { summary: "The maker's choices for all projects", gives: 'settings' },
  'PUT /settings': { summary: 'Change them', body: Settings, gives: 'settings' },
  'DELETE /materials/{id}': { summary: 'Remove a material', ok: 204, gives: null },
  'GET /openapi.json': { summary: 'This description', gives: 'application/vnd.oai.openapi+json' },
} as const satisfies Record<`${'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE'} /${string}`, Route>;

type Routes = typeof routes;
export type RouteName = keyof Routes;

/** Routes that say what happened. */
export type OnceRoute = { [N in RouteName]: Routes[N] extends { once: true } ? N : never }[RouteName];

type Named<Path extends string> = Path extends `${string}{${infer Name}}${infer Rest}` ? Name | Named<Rest> : never;

/** What its path leaves open. */
export type PathOf<N extends RouteName> = Record<Named<N>, string>;

/** Its body once it was checked; `unknown` where the table has no class for it. */
export type BodyOf<N extends RouteName> = Routes[N] extends { body: new () => infer B } ? B : unknown;

/** Its query once it was checked. */
export type QueryOf<N extends RouteName> = Routes[N] extends { query: new () => infer Q } ? Q : unknown;

/** What it answers with, as JSON; nothing where it gives none. */
export type AnswerTo<N extends RouteName> = Routes[N]['gives'] extends keyof Responses
  ? Responses[Routes[N]['gives']]
  : void;
