import Button from '@mui/material/Button';
import Link from '@mui/material/Link';
import { useState } from 'react';
import type { PrinterView } from '@jasmorphe/contracts/views';
import type { FitReading, KeepOut } from '@jasmorphe/core/params/checks';
import { PrinterProfile } from '@jasmorphe/core/planning/PrinterProfile';
import { printerClasses } from '@jasmorphe/core/trade/printerClasses';
import { fixed, whole } from '@jasmorphe/core/words/numbers';
import { useLength } from '../app/useLength.ts';
import { FigureTable } from '../ui/FigureTable.tsx';
import { CodedField } from '../forms/CodedField.tsx';
import { fitsText, keepOutsText, readFits, readKeepOuts } from './keepOuts.ts';
import { printKinds, ThingForm, type FieldGroup } from './ThingForm.tsx';
import { useAllPrintersQuery, useRetirePrinterMutation, useSavePrinterMutation } from './workshopApi.ts';
import { Actions, Failed } from '../ui/layout.ts';
import { RowActs } from './ThingSection.ts';

type Profile = PrinterProfile;
const filament = (p: Partial<Profile>) => p.kind !== 'resin';
const resin = (p: Partial<Profile>) => p.kind === 'resin';

const groups: readonly FieldGroup<Profile>[] = [
  {
    title: 'Printer',
    fields: [
      { key: 'name', label: 'Name', as: 'words', maxLength: 80 },
      {
        key: 'kind',
        label: 'Kind',
        as: 'choice',
        choices: printKinds,
      },
      { key: 'bedMm', label: 'Room', as: 'room' },
      { key: 'marginMm', label: 'Margin', hint: 'kept free along the sides of the bed', as: 'length' },
    ],
  },
  {
    title: 'Layers and lines',
    fields: [
      { key: 'layerMm', label: 'Layer', as: 'length' },
      { key: 'firstLayerMm', label: 'First layer', as: 'length' },
      { key: 'nozzleMm', label: 'Nozzle', as: 'length', when: filament },
      { key: 'lineWidthMm', label: 'Line', as: 'length', when: filament },
      { key: 'filamentDiameterMm', label: 'Filament', as: 'length', when: filament },
      { key: 'walls', label: 'Walls', as: 'number', when: filament },
      { key: 'solidLayers', label: 'Solid layers', as: 'number', when: filament },
      { key: 'infillPct', label: 'Infill, %', as: 'number', when: filament },
      { key: 'pixelMm', label: 'Pixel', as: 'length', when: resin },
      { key: 'exposureS', label: 'Exposure, s', as: 'number', when: resin },
      { key: 'bottomExposureS', label: 'Exposure of the first, s', as: 'number', when: resin },
      { key: 'bottomLayers', label: 'First layers', as: 'number', when: resin },
      { key: 'transitionLayers', label: 'Layers until the usual', as: 'number', when: resin },
      { key: 'liftS', label: 'Lift and rest, s', as: 'number', when: resin },
    ],
  },
  {
    title: 'How fast',
    fields: [
      { key: 'wallSpeedMmS', label: 'Walls, mm/s', as: 'number', when: filament },
      { key: 'infillSpeedMmS', label: 'Infill, mm/s', as: 'number', when: filament },
      { key: 'travelSpeedMmS', label: 'Travel, mm/s', as: 'number', when: filament },
      { key: 'accelerationMmS2', label: 'Acceleration, mm/s²', as: 'number', when: filament },
      {
        key: 'travelPct',
        label: 'Travel and retraction, %',
        hint: 'of the time spent laying',
        as: 'number',
        when: filament,
      },
      {
        key: 'minLayerS',
        label: 'Least time of a layer, s',
        hint: '0: as fast as it goes',
        as: 'number',
        when: filament,
      },
      { key: 'maxFlowMm3S', label: 'Flow, mm³/s', as: 'number', when: filament },
      { key: 'startS', label: 'Until it begins, s', as: 'number' },
    ],
  },
  {
    title: 'Support and fit',
    fields: [
      { key: 'supports', label: 'Supports', as: 'yesNo' },
      { key: 'overhangDeg', label: 'Overhang, °', as: 'number' },
      { key: 'fitMm', label: 'Fit gauge', hint: 'the step that went in', as: 'length' },
      { key: 'brimMm', label: 'Brim', hint: 'around what stands on the bed; 0: none', as: 'length', when: filament },
      { key: 'raftMm', label: 'Raft beyond the part', hint: '0: none', as: 'length', when: filament },
      { key: 'headRadiusMm', label: 'Room round the head', as: 'length', when: filament },
      { key: 'headHeightMm', label: 'Passes over', as: 'length', when: filament },
    ],
  },
  {
    title: 'Cost and wear',
    fields: [
      { key: 'pricePerKg', label: 'Material, per kg', as: 'number' },
      { key: 'densityGCm3', label: 'Density, g/cm³', as: 'number' },
      { key: 'powerW', label: 'Power, W', as: 'number' },
      { key: 'hoursRun', label: 'Hours run before', as: 'number' },
      { key: 'partLifeH', label: 'Nozzle or screen lasts, h', hint: '0: nobody counts', as: 'number' },
      { key: 'partSinceH', label: 'Put in at, h', as: 'number' },
      { key: 'notes', label: 'Temperatures, notes', as: 'words', maxLength: 2000, rows: 2 },
    ],
  },
];

/** Hours that the nozzle or screen still lasts; null where nobody counts. */
export const hoursLeft = ({ profile, loggedH }: Pick<PrinterView, 'profile' | 'loggedH'>): number | null =>
  profile.partLifeH > 0 ? profile.partLifeH - (profile.hoursRun + loggedH - profile.partSinceH) : null;

/** Places where nothing may stand, typed as corners. */
const KeepOutsField = ({ value, onChange }: { value: readonly KeepOut[]; onChange: (value: KeepOut[]) => void }) => (
  <CodedField<readonly KeepOut[]>
    label="Keep-outs of the bed, mm"
    value={value}
    written={keepOutsText}
    read={readKeepOuts}
    example="0,0-20,15; 200,0-220,15"
    maxLength={400}
    onChange={(keepOuts) => onChange([...keepOuts])}
  />
);

/** Steps of the fit gauge that went in, typed by material; and the gauge itself, to print. */
const FitsField = ({ value, onChange }: { value: readonly FitReading[]; onChange: (value: FitReading[]) => void }) => (
  <>
    <CodedField<readonly FitReading[]>
      label="Fit by material, mm"
      value={value}
      written={fitsText}
      read={readFits}
      example="PLA 0.15; PETG 0.2"
      maxLength={800}
      onChange={(fits) => onChange([...fits])}
    />
    <Link href="/api/gauge" underline="hover" download>
      Fetch a fit gauge to print
    </Link>
  </>
);

/** Printers: what they are, what they can, and how far they have run. */
export function Printers() {
  const { data: printers = [] } = useAllPrintersQuery();
  const [save] = useSavePrinterMutation();
  const [retire] = useRetirePrinterMutation();
  const length = useLength();
  const [open, setOpen] = useState<{ id?: string; profile: Partial<Profile> } | null>(null);
  if (open)
    return (
      <ThingForm
        key={open.id ?? 'new'}
        title={open.id ? 'Change a printer' : 'A new printer'}
        Class={PrinterProfile}
        start={open.profile}
        groups={groups}
        save={(profile) => save({ id: open.id, profile })}
        onClose={() => setOpen(null)}
        more={(value, set) => (
          <>
            <FitsField value={value.fits ?? []} onChange={(fits) => set({ fits })} />
            <KeepOutsField value={value.keepOuts ?? []} onChange={(keepOuts) => set({ keepOuts })} />
          </>
        )}
      />
    );
  return (
    <>
      <FigureTable
        label="Printers"
        heads={['Printer', 'Kind', 'Room', 'Layer', 'Run', 'Nozzle or screen left', 'Fit', '']}
        rows={printers.map((p) => {
          const { profile: of, loggedH, retiredAt, id } = p;
          const left = hoursLeft(p);
          return {
            key: id,
            cells: [
              retiredAt === null ? of.name : <span className="quiet">{of.name}, retired</span>,
              of.kind,
              of.bedMm.map((mm) => length(mm, false)).join(' × '),
              length(of.layerMm),
              `${whole(of.hoursRun + loggedH)} h`,
              left === null ? '—' : left <= 0 ? <Failed>spent</Failed> : `${whole(left)} h`,
              [fixed(of.fitMm, 2), ...of.fits.map((f) => `${f.material} ${fixed(f.mm, 2)}`)].join(', ') + ' mm',
              <RowActs key="acts">
                <Button variant="text" onClick={() => setOpen({ id, profile: of })}>
                  Change
                </Button>
                <Button
                  variant="text"
                  onClick={() =>
                    setOpen({ profile: { ...of, name: `${of.name} copy`.slice(0, 80), hoursRun: 0, partSinceH: 0 } })
                  }
                >
                  Copy
                </Button>
                <Button variant="text" onClick={() => void retire({ id, retired: retiredAt === null })}>
                  {retiredAt === null ? 'Retire' : 'Use again'}
                </Button>
              </RowActs>,
            ],
          };
        })}
      />
      {printers.length === 0 && (
        <p className="quiet">Begin with the class that yours is of, and correct its figures.</p>
      )}
      <Actions>
        {printerClasses.map((c) => (
          <Button
            key={c.id}
            variant="outlined"
            onClick={() => setOpen({ profile: { ...new PrinterProfile(), ...c.profile, name: c.name } })}
          >
            New: {c.name.toLowerCase()}
          </Button>
        ))}
      </Actions>
    </>
  );
}
