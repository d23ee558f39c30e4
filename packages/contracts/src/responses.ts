import type { DaysPlan } from '@jasmorphe/core/planning/days/DaysPlan';
import type {
  BedfulsView,
  BedfulView,
  BookTablesView,
  DaysOtherwise,
  DaysView,
  HoursByLog,
  ProjectBedsView,
  RateOfPrinter,
} from './dayViews.ts';
import type { BodyFinding } from './reading/findings.ts';
import type { AttachmentView, BackupView, BatchAnswers, BatchView, KitDrop, KitView } from './kitViews.ts';
import type { Settings } from './workshopRequests.ts';
import type { StepView } from './steps.ts';
import type {
  BodyView,
  DismissalView,
  Health,
  JobView,
  LogEntryView,
  MaterialView,
  MeshView,
  PartView,
  PlaceView,
  PrinterView,
  ProjectSummary,
  ProjectView,
  ReferenceView,
  SavedBodyView,
  ServerEvent,
  SpoolView,
} from './views.ts';

/** What the routes answer with. The schemas of the API description are made from these types. */
export interface Responses {
  health: Health;
  shelf: ProjectSummary[];
  project: ProjectView;
  body: BodyView;
  part: PartView;
  findings: (BodyFinding & { message: string })[];
  dismissals: DismissalView[];
  step: StepView;
  jobOrStep: JobView | StepView;
  mesh: MeshView;
  job: JobView;
  jobs: JobView[];
  log: LogEntryView[];
  logEntry: LogEntryView;
  printer: PrinterView;
  printers: PrinterView[];
  material: MaterialView;
  materials: MaterialView[];
  spool: SpoolView;
  spools: SpoolView[];
  savedBody: SavedBodyView;
  savedBodies: SavedBodyView[];
  settings: Settings;
  place: PlaceView;
  places: PlaceView[];
  reference: ReferenceView;
  kit: KitView;
  kitDrop: KitDrop;
  batch: BatchView;
  batchAnswers: BatchAnswers;
  unpacked: { projectId: string; projects: number; models: number; meshes: number; bytes: number };
  backup: BackupView;
  restored: { before: string; lost: number };
  batchUndone: { batch: BatchView; undone: string[]; kept: string[] };
  attachment: AttachmentView;
  attachments: AttachmentView[];
  bedful: BedfulView;
  bedfuls: BedfulsView;
  projectBeds: ProjectBedsView;
  twins: { ids: string[] };
  days: DaysView;
  otherwise: DaysOtherwise;
  hoursByLog: HoursByLog[];
  rates: RateOfPrinter[];
  plan: DaysPlan;
  bookTables: BookTablesView;
  event: ServerEvent;
}
