import type { DivideParams } from '@jasmorphe/core/operations/divide/describe';
import type { NamedBed } from '@jasmorphe/core/params/checks';
import type { PrinterProfile } from '@jasmorphe/core/planning/PrinterProfile';
import { figures } from '@jasmorphe/core/trade/figures';
import { joinKinds, joinWords } from '@jasmorphe/core/trade/joinKinds';
import { useLength } from '../../app/useLength.ts';
import { ParamChoice, ParamFields, ParamLength, ParamYesNo } from '../../forms/ParamFields.tsx';
import type { ParamsForm } from '../../forms/useParamsForm.ts';
import { fitHint, ownMargins } from './divideParams.ts';

/** How the parts are joined, what is kept free at the edge of a bed, and the tags on their faces. */
export function JoinFields({
  of: form,
  printer,
  beds,
}: {
  of: ParamsForm<DivideParams>;
  printer: PrinterProfile | undefined;
  beds: readonly NamedBed[] | undefined;
}) {
  const length = useLength();
  const { join, labels } = form.values;
  const margins = ownMargins(beds, length);
  return (
    <ParamFields of={form}>
      <ParamChoice
        name="join"
        label="Joins"
        choices={joinKinds.map((k) => ({ value: k, text: joinWords[k].several }))}
      />
      {join !== 'none' && (
        <>
          <ParamLength name="clearance" label="Gap a side" hint={fitHint(printer)} />
          <ParamLength name="joinMm" label="Joins at most" hint={figures.joinAcrossMm.reason} />
          <ParamLength
            name="bandMm"
            label="Bands in shells"
            hint={`0 for none; ${figures.bandMm.value} mm: ${figures.bandMm.reason}`}
          />
        </>
      )}
      {(beds ?? [{ margin: undefined }]).some((b) => b.margin === undefined) && (
        <ParamLength name="margin" label="Edge kept free" hint={figures.bedMarginMm.reason} />
      )}
      {margins && <small>{margins}</small>}
      <ParamYesNo name="labels" label="Tags on cut faces" />
      {labels && <ParamLength name="labelMm" label="Letters at most" hint={figures.tagMm.reason} />}
    </ParamFields>
  );
}
