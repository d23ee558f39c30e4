import Button from '@mui/material/Button';
import type { ReferenceView } from '@jasmorphe/contracts/views';
import { axes } from '@jasmorphe/core/mesh/axes';
import type { ClearanceReport } from '@jasmorphe/core/operations/clearance/describe';
import { useLength } from '../../app/useLength.ts';
import { FactorField } from '../../forms/Fields.tsx';
import { ParamChoice, ParamFactor, ParamLength } from '../../forms/ParamFields.tsx';
import { Readings } from './Readings.tsx';
import type { SizeChoice } from './useSizeChoice.ts';

interface WayFieldsProps {
  choice: SizeChoice;
  hash: string;
  /** factor that the step in force has, and whether it is the same along every axis */
  scaled: number;
  even: boolean;
  wearer: ReferenceView | undefined;
  worn: ClearanceReport | null;
  onBody: () => void;
}

const Along = ({ label }: { label: string }) => (
  <ParamChoice
    name="axis"
    label={label}
    choices={[
      { value: 'x', text: 'width (x)' },
      { value: 'y', text: 'depth (y)' },
      { value: 'z', text: 'height (z)' },
    ]}
  />
);

/** Says what the body that it must fit makes of it. */
function WornWords({ wearer, worn }: Pick<WayFieldsProps, 'wearer' | 'worn'>) {
  const length = useLength();
  if (!wearer) return 'Nobody is held against it yet.';
  if (worn === null) return `Being held against ${wearer.name}.`;
  if (worn.suggestedFactor === null) return `${wearer.name} lies where no scaling gives room. Place it first.`;
  const beyond = wearer.liningMm > 0 ? `, beyond ${length(wearer.liningMm)} of lining` : '';
  return `Leaves ${length(wearer.wantMm)} around ${wearer.name} at the narrowest${beyond}.`;
}

/** The fields that one way to a size needs. */
export function WayFields({ choice, hash, scaled, even, wearer, worn, onBody }: WayFieldsProps) {
  const { way, form, fields, readings, setReadings } = choice;
  switch (way) {
    case 'dimension':
      return (
        <>
          <Along label="Along" />
          <ParamLength name="to" label="Shall be" needed />
        </>
      );
    case 'factor':
      return <ParamFactor name="factor" label="Factor" />;
    case 'measured':
      if (!even) return <p className="lead">The model is stretched now. Undo that before measuring on it.</p>;
      return (
        <>
          <Readings hash={hash} scale={scaled} readings={readings} onChange={setReadings} />
          {readings.length === 0 && (
            <>
              <ParamLength name="measured" label="Or: on the model it is" needed />
              <ParamLength name="real" label="It should be" needed />
            </>
          )}
        </>
      );
    case 'ratio':
      return (
        <>
          <Along label="Original is long along" />
          <ParamFactor name="ratio" ratio label="Ratio, such as 1:6" />
          <ParamLength name="original" label="The original measures" needed />
        </>
      );
    case 'body':
      return (
        <>
          <p className="lead">
            <WornWords wearer={wearer} worn={worn} />
          </p>
          <Button variant="text" onClick={onBody}>
            {wearer ? 'Place it, or look closer' : 'Hold it against a body'}
          </Button>
        </>
      );
    case 'bed':
      return <ParamLength name="margin" label="Kept free at each side" />;
    case 'stretch':
      return axes.map((a, k) => (
        <FactorField
          key={a}
          label={`Along ${a}`}
          value={fields.stretch[k]}
          onChange={(f) => {
            const [x, y, z] = fields.stretch.map((was, i) => (i === k ? f : was));
            form.set({ stretch: [x, y, z] });
          }}
          refused={form.form.formState.errors.stretch?.message ?? null}
        />
      ));
  }
}
