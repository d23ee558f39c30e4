import Button from '@mui/material/Button';
import Link from '@mui/material/Link';
import { useState } from 'react';
import type { BodyView, PrinterView } from '@jasmorphe/contracts/views';
import { catalogue, type ReportOf } from '@jasmorphe/core/operations/catalogue';
import { bedfulAimNames, bedfulAims } from '@jasmorphe/core/planning/bedfuls/aims';
import { countOf, fixed, massText, secondsText } from '@jasmorphe/core/words/numbers';
import { useLength } from '../../app/useLength.ts';
import { usePrinter } from '../../app/usePrinter.ts';
import { Consequences } from '../../decision/Consequences.tsx';
import { rowsOf } from '../../decision/rowsOf.tsx';
import { ask, reportOf, usePreviews } from '../../decision/usePreviews.ts';
import { Note } from '../../ui/Note.tsx';
import { bedfulParams, printersFor, waitingParts } from './bedfulParams.ts';

type Bedful = ReportOf<'bedfuls'>['bedfuls'][number];

/** A bed from above with its parts, as a drawing. */
function BedDrawing({ bedful }: { bedful: Bedful }) {
  const [wide, deep] = bedful.bedMm;
  return (
    <svg
      viewBox={`-2 -2 ${wide + 4} ${deep + 4}`}
      className="bedDrawing"
      role="img"
      aria-label={`${bedful.printer} from above: ${bedful.parts.map((p) => p.tag).join(', ')}`}
    >
      <rect width={wide} height={deep} fill="var(--bench)" stroke="var(--ink2)" strokeWidth={wide / 200} />
      {bedful.parts.map(({ tag, at, path }) => (
        // the front of the bed is at the foot of the drawing
        <g key={tag} transform={`translate(${at.x} ${deep - at.y})`}>
          <path d={path} transform="scale(1 -1)" fill="var(--clay)" />
          <text textAnchor="middle" dominantBaseline="central" fontSize={wide / 12} fontWeight={600} fill="var(--ink)">
            {tag}
          </text>
        </g>
      ))}
    </svg>
  );
}

/** What goes on which bed: three ways side by side, drawn, and a file of each bedful. */
export function Bedfuls({ body, printers }: { body: BodyView; printers: PrinterView[] }) {
  const length = useLength();
  const { printer, resin } = usePrinter(printers);
  const [open, setOpen] = useState(false);
  const [chosen, setChosen] = useState(0);
  const kind = printer?.profile.kind ?? 'filament';
  const parts = waitingParts(body.parts, kind);
  const used = printersFor(printers, kind);
  const waiting = body.parts.filter((p) => p.state === 'planned').length;
  const out = waiting - parts.length;
  const asks = open && parts.length > 0 && used.length > 0;
  const previews = usePreviews(
    body.id,
    body.mesh.hash,
    bedfulAims.map((aim) => (asks ? ask(catalogue.bedfuls, bedfulParams(parts, used, aim)) : null)),
  );
  const reports = previews.map((p) => reportOf(p, catalogue.bedfuls));
  const report = reports[chosen];
  const preview = previews[chosen];
  const stepId = preview.state === 'ready' ? preview.step.id : '';
  return (
    <section className="tipsOfPart" aria-label="Bedfuls">
      <div className="label">Bedfuls</div>
      <Button variant="text" aria-expanded={open} onClick={() => setOpen(!open)}>
        {open ? 'Close the bedfuls' : 'What goes on which bed?'}
      </Button>
      {open && parts.length === 0 && <p className="quiet">No part that is laid for {kind} waits for a bed.</p>}
      {open && parts.length > 0 && used.length === 0 && (
        <p className="quiet">No printer is there to put them on: add one at the workshop.</p>
      )}
      {asks && (
        <>
          <p>
            {countOf(parts.length, 'part')} as they lie, on {used.map((p) => p.profile.name).join(', ')}.
            {out > 0 && ` ${countOf(out, 'part')} not laid for ${kind} yet ${out === 1 ? 'is' : 'are'} left out.`}
            {used.length > 1 && ' Hours are those on the printer that each was laid for.'}
          </p>
          <Consequences
            options={bedfulAims.map((aim, i) => ({ name: bedfulAimNames[aim], preview: previews[i] }))}
            rows={rowsOf(catalogue.bedfuls, reports, { length, liquid: resin })}
            chosen={chosen}
            advised={null}
            onChoose={setChosen}
          />
          {preview.state === 'failed' && preview.error.code !== 'cancelled' && (
            <Note tone="failure">
              <b>{preview.error.message}</b> {preview.error.hint}
            </Note>
          )}
          {report && report.left.length > 0 && (
            <Note tone="failure">
              <b>No bed takes {report.left.join(', ')}</b> as {report.left.length === 1 ? 'it lies' : 'they lie'}.
            </Note>
          )}
          <ol className="bedfulList">
            {report?.bedfuls.map((bedful, i) => (
              <li key={`${stepId}${i}`}>
                <BedDrawing bedful={bedful} />
                <div>
                  <b>Bedful {i + 1}</b> {bedful.printer}
                  <br />
                  {bedful.parts.map((p) => p.tag).join(' ')}
                  <br />
                  <span className="figure">
                    {secondsText(bedful.durationS)} · {massText(bedful.materialG)} · {fixed(bedful.fillPct, 0)} % full,
                    gaps counted
                  </span>
                  <br />
                  <Link href={`/api/bodies/${body.id}/bedfuls/${stepId}/${i + 1}`} underline="hover" download>
                    Fetch it as 3MF
                  </Link>
                </div>
              </li>
            ))}
          </ol>
        </>
      )}
    </section>
  );
}
