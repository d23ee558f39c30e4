import type { ReferenceView } from '@jasmorphe/contracts/views';
import type { ClearanceReport } from '@jasmorphe/core/operations/clearance/describe';
import { axes } from '@jasmorphe/core/mesh/axes';
import { useLength } from '../../app/useLength.ts';
import { ChoiceField, FactorField, LengthField } from '../../decision/Fields.tsx';
import { Readings } from './Readings.tsx';
import type { SizeFields } from './useSizeChoice.ts';
import type { Way } from './ways.ts';

interface WayFieldsProps {
  way: Way;
  fields: SizeFields;
  set: (next: Partial<SizeFields>) => void;
  hash: string;
  /** factor that the step in force has, and whether it is the same along every axis */
  scaled: number;
  even: boolean;
  wearer: ReferenceView | undefined;
  worn: ClearanceReport | null;
  onBody: () => void;
}

/** The fields that one way to a size needs. */
export function WayFields({ way, fields, set, hash, scaled, even, wearer, worn, onBody }: WayFieldsProps) {
  const length = useLength();
  const along = (label: string) => (
    <ChoiceField
      label={label}
      value={fields.axis}
      onChange={(axis) => set({ axis })}
      choices={[
        { value: 'x', text: 'width (x)' },
        { value: 'y', text: 'depth (y)' },
        { value: 'z', text: 'height (z)' },
      ]}
    />
  );
  switch (way) {
    case 'dimension':
      return (
        <>
          {along('Along')}
          <LengthField label="Shall be" mm={fields.to} onChange={(v) => v && set({ to: v })} />
        </>
      );
    case 'factor':
      return <FactorField label="Factor" value={fields.factor} onChange={(factor) => set({ factor })} />;
    case 'measured':
      if (!even) return <p className="lead">The model is stretched now. Undo that before measuring on it.</p>;
      return (
        <>
          <Readings hash={hash} scale={scaled} readings={fields.readings} onChange={(readings) => set({ readings })} />
          {fields.readings.length === 0 && (
            <>
              <LengthField
                label="Or: on the model it is"
                mm={fields.typed.measured}
                onChange={(v) => v && set({ typed: { ...fields.typed, measured: v } })}
              />
              <LengthField
                label="It should be"
                mm={fields.typed.real}
                onChange={(v) => v && set({ typed: { ...fields.typed, real: v } })}
              />
            </>
          )}
        </>
      );
    case 'ratio':
      return (
        <>
          {along('Original is long along')}
          <FactorField label="Ratio, such as 1:6" value={fields.ratio} onChange={(ratio) => set({ ratio })} />
          <LengthField label="The original measures" mm={fields.original} onChange={(v) => v && set({ original: v })} />
        </>
      );
    case 'body':
      return (
        <>
          <p className="lead">
            {!wearer
              ? 'Nobody is held against it yet.'
              : worn === null
                ? `Being held against ${wearer.name}.`
                : worn.suggestedFactor === null
                  ? `${wearer.name} lies where no scaling gives room. Place it first.`
                  : `Leaves ${length(wearer.wantMm)} around ${wearer.name} at the narrowest${
                      wearer.liningMm > 0 ? `, beyond ${length(wearer.liningMm)} of lining` : ''
                    }.`}
          </p>
          <button type="button" className="plain accent" onClick={onBody}>
            {wearer ? 'Place it, or look closer' : 'Hold it against a body'}
          </button>
        </>
      );
    case 'bed':
      return (
        <LengthField
          label="Kept free at each side"
          mm={fields.margin || null}
          onChange={(v) => set({ margin: v ?? 0 })}
          zero
          optional
        />
      );
    case 'stretch':
      return axes.map((a, k) => (
        <FactorField
          key={a}
          label={`Along ${a}`}
          value={fields.stretch[k]}
          onChange={(f) => set({ stretch: fields.stretch.map((x, i) => (i === k ? f : x)) as SizeFields['stretch'] })}
        />
      ));
  }
}
