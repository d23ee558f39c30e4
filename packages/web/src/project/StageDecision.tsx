import { useSearchParams } from 'react-router';
import type { BodyView, PrinterView } from '@jasmorphe/contracts/views';
import { lazyPart } from '../app/Boundary.tsx';
import { useAddressNote } from '../app/useAddressNote.ts';
import { StudyList } from '../stages/size/StudyList.tsx';
import type { Opened, StageId } from '../stages/Stage.ts';
import { stages } from '../stages/stages.ts';
import { ToolList } from '../tools/ToolList.tsx';

const StudyDecision = lazyPart(() => import('../stages/size/StudyDecision.tsx'));
const ToolDecision = lazyPart(() => import('../tools/ToolDecision.tsx'));

/** The question of a stop, or whatever was opened beside it: the address says which. */
export function StageDecision({
  stage: id,
  body,
  printers,
}: {
  stage: StageId;
  body: BodyView;
  printers: PrinterView[];
}) {
  const [search, setSearch] = useSearchParams();
  const stage = stages[id];
  const tools = body.parts.length === 0 ? stage.tools : [];
  const wanted = search.get('tool');
  const tool = tools.find((t) => t === wanted);
  const study = stage.studies.find((s) => s === wanted);
  useAddressNote(
    wanted !== null && !tool && !study ? `"${wanted.slice(0, 40)}" is no tool for what is on the bench now.` : null,
  );
  const open = (what: Opened | null) =>
    setSearch((s) => {
      if (what) s.set('tool', what);
      else s.delete('tool');
      return s;
    });
  const mesh = `${body.id}|${body.mesh.hash}`;
  if (tool) return <ToolDecision key={`${tool}|${mesh}`} body={body} toolId={tool} onClose={() => open(null)} />;
  if (study)
    return (
      <StudyDecision
        key={`${study}|${mesh}`}
        study={study}
        body={body}
        printers={printers}
        onClose={() => open(null)}
      />
    );
  const line = `${body.id}|${body.cursor}|${body.line.map((s) => s.id.slice(0, 8)).join()}`;
  return (
    <>
      <stage.Decision key={stage.fresh ? line : id} body={body} printers={printers} onOpen={open} />
      {stage.studies.length > 0 && <StudyList studies={stage.studies} onOpen={open} />}
      {tools.length > 0 && <ToolList tools={tools} onOpen={open} />}
    </>
  );
}
