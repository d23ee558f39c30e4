import Button from '@mui/material/Button';
import Link from '@mui/material/Link';
import { useState } from 'react';
import type { PrinterView } from '@jasmorphe/contracts/views';
import type { FitReading, KeepOut } from '@jasmorphe/core/params/checks';
import { PrinterProfile } from '@jasmorphe/core/planning/PrinterProfile';
import { fieldGroups, profileFields, type ProfileField } from '@jasmorphe/core/planning/profileFields';
import { printerClasses } from '@jasmorphe/core/trade/printerClasses';
import { fixed, whole } from '@jasmorphe/core/words/numbers';
import { hrefOf } from '../app/addresses.ts';
import { useLength } from '../app/useLength.ts';
import { FigureTable } from '../ui/FigureTable.tsx';
import { CodedField } from '../forms/CodedField.tsx';
import { fitsText, keepOutsText, readFits, readKeepOuts } from './keepOuts.ts';
import { printKinds, ThingForm, type FieldGroup, type FieldOf } from './ThingForm.tsx';
import { useAllPrintersQuery, useRetirePrinterMutation, useSavePrinterMutation } from './workshopApi.ts';
import { Actions, Failed } from '../ui/layout.ts';
import { RowActs } from './ThingSection.ts';

type Profile = PrinterProfile;

/** What a form needs to know beside the table: how many letters, and what there is to choose. */
const more: Partial<Record<keyof Profile, object>> = {
  name: { maxLength: 80 },
  notes: { maxLength: 2000, rows: 2 },
  kind: { choices: printKinds },
};

/** The form of a printer, made of the table of its fields; tables within it have editors of their own. */
const groups: readonly FieldGroup<Profile>[] = Object.entries(fieldGroups).map(([id, title]) => ({
  title,
  fields: (Object.entries(profileFields) as [keyof Profile, ProfileField][])
    .filter(([, field]) => field.group === id && field.as !== 'table')
    .map(
      ([key, { label, unit, hint, as, only }]) =>
        ({
          key,
          label: unit ? `${label}, ${unit}` : label,
          ...(hint ? { hint } : {}),
          as,
          ...(only ? { when: (p: Partial<Profile>) => (p.kind ?? 'filament') === only } : {}),
          ...more[key],
        }) as FieldOf<Profile>,
    ),
}));

/** Hours that the nozzle or screen still lasts; null where nobody counts. */
export const hoursLeft = ({ profile, loggedH }: Pick<PrinterView, 'profile' | 'loggedH'>): number | null =>
  profile.partLifeH > 0 ? profile.partLifeH - (profile.hoursRun + loggedH - profile.partSinceH) : null;

/** Places where nothing may stand, typed as corners. */
const KeepOutsField = ({ value, onChange }: { value: readonly KeepOut[]; onChange: (value: KeepOut[]) => void }) => (
  <CodedField<readonly KeepOut[]>
    label={profileFields.keepOuts.label}
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
      label={profileFields.fits.label}
      value={value}
      written={fitsText}
      read={readFits}
      example="PLA 0.15; PETG 0.2"
      maxLength={800}
      onChange={(fits) => onChange([...fits])}
    />
    <Link href={hrefOf('GET /gauge')} underline="hover" download>
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
