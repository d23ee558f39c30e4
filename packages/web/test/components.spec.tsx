import { expect } from 'chai';
import { useState } from 'react';
import type { StepView } from '@jasmorphe/contracts/steps';
import type { BodyView, PartView } from '@jasmorphe/contracts/views';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import { SavePlace } from '@jasmorphe/contracts/requests';
import { parseParams } from '@jasmorphe/core/params/parseParams';
import { act, answers, fireEvent, InForm, patience, sent, show, store, type, waitFor, within } from './dom.tsx';

const { Decision } = await import('../src/decision/Decision.tsx');
const { ChoiceField, LengthField, YesNoField } = await import('../src/forms/Fields.tsx');
const { ParamFactor, ParamFields, ParamLength, ParamNumber, ParamText } = await import('../src/forms/ParamFields.tsx');
const { useParamsForm } = await import('../src/forms/useParamsForm.ts');
const { Findings } = await import('../src/findings/Findings.tsx');
const { Ledger } = await import('../src/ledger/Ledger.tsx');
const { default: PartsTable } = await import('../src/stages/PartsTable.tsx');
const { default: ToolDecision } = await import('../src/tools/ToolDecision.tsx');
const { ToolList } = await import('../src/tools/ToolList.tsx');
const { toolIds } = await import('../src/tools/tools.ts');
const { setUnit } = await import('../src/app/uiSlice.ts');

const facts = {
  triangles: 12,
  size: { x: 10, y: 20, z: 30 },
  min: { x: 0, y: 0, z: 0 },
  max: { x: 10, y: 20, z: 30 },
  volumeMm3: 6000,
  areaMm2: 2200,
  findings: [],
};
const step = (operation: string, params: object, report: object = {}): StepView =>
  ({
    id: operation,
    operation,
    version: 1,
    params,
    report,
    inputs: [],
    outputs: [operation],
    elapsedMs: 1500,
    createdAt: '',
  }) as never;
const body = (change: Partial<BodyView> = {}): BodyView =>
  ({
    id: 'b',
    kind: 'model',
    projectId: 'p',
    line: [step('import', { unit: 'in' }, { triangles: 12 }), step('hollow', { wall: 3, drains: 2, drain: 3.5 })],
    cursor: 2,
    canUndo: true,
    canRedo: false,
    mesh: { hash: 'm', triangles: 12, facts },
    parts: [],
    dismissals: [],
    references: [],
    busyJobId: null,
    ...change,
  }) as never;

describe('fields', () => {
  afterEach(() => act(() => void store.dispatch(setUnit('mm'))));

  it('a length is read in many ways, in the unit on display; what is not understood is marked and kept', () => {
    const taken: (number | null)[] = [];
    const { getByRole, getByLabelText, queryByRole } = show(
      <InForm>
        <LengthField label="Wall" mm={3} onChange={(mm) => taken.push(mm)} />
      </InForm>,
    );
    const field = getByLabelText('Wall') as HTMLInputElement;
    expect(field.value).equal('3.00 mm');
    for (const text of ['4.5', '1/2 in', '2 cm', '+50%']) type(field, text);
    expect(taken).eql([4.5, 12.7, 20, 4.5]);
    type(field, 'thick');
    expect(getByRole('alert').textContent).match(/such as 42\.5/);
    expect([field.getAttribute('aria-invalid'), field.value, taken.length]).eql(['true', 'thick', 4]);
    type(field, '5');
    expect(queryByRole('alert')).equal(null);
  });

  it('inches are shown where inches are on display, and a bare number is one', () => {
    store.dispatch(setUnit('in'));
    const taken: (number | null)[] = [];
    const { getByLabelText } = show(
      <InForm>
        <LengthField label="Wall" mm={25.4} onChange={(mm) => taken.push(mm)} />
      </InForm>,
    );
    expect((getByLabelText('Wall') as HTMLInputElement).value).equal('1.00 in');
    type(getByLabelText('Wall'), '2');
    expect(taken).eql([50.8]);
  });
});

describe('a form over a params class', () => {
  let values: Record<string, unknown> = {};
  const Form = ({ Class, start }: { Class: new () => object; start: object }) => {
    const form = useParamsForm<Record<string, unknown>>(Class as never, start as never);
    values = form.values;
    return (
      <InForm>
        <ParamFields of={form}>
          {'wall' in start && <ParamLength name="wall" label="Wall" />}
          {'drains' in start && <ParamNumber name="drains" label="Drains" />}
          {'detail' in start && <ParamLength name="detail" label="Detail" />}
          {'ratio' in start && <ParamFactor name="ratio" ratio label="Ratio" />}
          {'shrinkage' in start && <ParamNumber name="shrinkage" label="Shrinkage" />}
          {'name' in start && <ParamText name="name" label="Name" />}
          <button type="button" onClick={() => form.set({ wall: 7 })}>
            seven
          </button>
        </ParamFields>
      </InForm>
    );
  };
  /** What the server and the command line say of the same value, but for the label: it stands beside the field. */
  const saidOf = (Class: new () => object, params: object): string => {
    try {
      parseParams(Class, params);
      return '';
    } catch (error) {
      return (error as Error).message.replace(/^"[^"]+" (.)/, (_, c: string) => c.toUpperCase());
    }
  };
  const { params: Hollow } = catalogue.hollow;

  it('a wrong value is refused in the words of the server, and the last good one holds', async () => {
    const { getByLabelText, findByRole, queryByRole } = show(<Form Class={Hollow} start={{ wall: 3, drains: 2 }} />);
    const cases = [
      ['Wall', '0', { wall: 0 }],
      ['Wall', '2000 m', { wall: 2e6 }],
      ['Drains', '9', { wall: 3, drains: 9 }],
      ['Drains', '2.5', { wall: 3, drains: 2.5 }],
      ['Drains', '-1', { wall: 3, drains: -1 }],
    ] as const;
    for (const [label, text, params] of cases) {
      const field = getByLabelText(label);
      type(field, text);
      expect((await findByRole('alert')).textContent, text).equal(saidOf(Hollow, params));
      expect(field.getAttribute('aria-invalid')).equal('true');
      expect([values.wall, values.drains]).eql([3, 2]);
      type(field, '2');
      await waitFor(() => expect(queryByRole('alert')).equal(null));
      type(field, label === 'Wall' ? '3' : '2');
      fireEvent.blur(field);
    }
  });

  it('quantities are read on the way in; what may be left open may be emptied, what may not is asked for', async () => {
    const { getByLabelText, getByRole, getByText } = show(
      <Form Class={Hollow} start={{ wall: 3, detail: undefined }} />,
    );
    type(getByLabelText('Wall'), '1/2 in');
    await waitFor(() => expect(values.wall).equal(12.7));
    type(getByLabelText('Detail'), '0.4');
    await waitFor(() => expect(values.detail).equal(0.4));
    type(getByLabelText('Detail'), '');
    await waitFor(() => expect(values.detail).equal(undefined));
    expect(getByLabelText('Detail').getAttribute('placeholder')).equal('none');
    type(getByLabelText('Wall'), '');
    expect(getByRole('alert').textContent).match(/^wants a length/);
    type(getByLabelText('Wall'), '4');
    fireEvent.blur(getByLabelText('Wall'));
    fireEvent.click(getByText('seven'));
    await waitFor(() => expect((getByLabelText('Wall') as HTMLInputElement).value).equal('7.00 mm'));
  });

  it('factors, percents and words are held by the same classes', async () => {
    const { params: Size } = catalogue.size;
    const { getByLabelText, findByRole } = show(<Form Class={Size} start={{ ratio: 1 / 6, shrinkage: 0 }} />);
    const ratio = getByLabelText('Ratio') as HTMLInputElement;
    expect(ratio.value).equal('1:6');
    type(ratio, 'x0.3');
    fireEvent.blur(ratio);
    expect(ratio.value).equal('x0.3');
    type(ratio, '1:8');
    await waitFor(() => expect(values.ratio).equal(0.125));
    type(getByLabelText('Shrinkage'), '0.4 %');
    await waitFor(() => expect(values.shrinkage).equal(0.4));
    type(getByLabelText('Shrinkage'), '50');
    expect((await findByRole('alert')).textContent).equal(saidOf(Size, { shrinkage: 50 }));
    const place = show(<Form Class={SavePlace} start={{ name: 'Boot' }} />);
    type(place.getByLabelText('Name'), '');
    await waitFor(() =>
      expect(place.getAllByRole('alert').at(-1)!.textContent).equal(saidOf(SavePlace, { name: '', kind: 'lie' })),
    );
  });
});

describe('a decision', () => {
  const Card = ({ run, busy = false }: { run: () => void; busy?: boolean }) => {
    const [chosen, setChosen] = useState(0);
    const [wall, setWall] = useState<number | null>(3);
    const [open, setOpen] = useState(false);
    return (
      <Decision
        step="Decision"
        question="How thick?"
        lead=""
        options={[
          { name: 'Thin', preview: { state: 'idle' } },
          { name: 'Thick', taken: true, preview: { state: 'idle' } },
        ]}
        rows={[{ label: 'Wall', cells: ['2 mm', '4 mm'], method: 'by rays' }]}
        chosen={chosen}
        onChoose={setChosen}
        advised={1}
        advice="As thick as it may be."
        fields={
          <>
            <LengthField label="Own" mm={wall} onChange={setWall} />
            <YesNoField label="Open" value={open} onChange={setOpen} />
            <ChoiceField label="Kind" value="a" onChange={() => undefined} choices={[{ value: 'a', text: 'A' }]} />
          </>
        }
        action={{ label: `Do ${chosen}`, disabled: false, run }}
        busy={busy}
      />
    );
  };

  it('compares its options, marks the one taken, and its button does the chosen one; so does Enter in a field', () => {
    let done = 0;
    const { getByRole, getByText, getByLabelText } = show(<Card run={() => done++} />);
    expect(getByRole('row', { name: 'Wall 2 mm 4 mm' }).getAttribute('title')).equal('by rays');
    expect(getByText('taken').closest('th')!.className).contain('advised');
    fireEvent.click(getByRole('button', { name: /^Thick/ }));
    expect(getByRole('button', { name: /^Thick/ }).getAttribute('aria-pressed')).equal('true');
    fireEvent.click(getByRole('button', { name: /^Do 1/ }));
    fireEvent.keyDown(getByLabelText('Own'), { key: 'Enter' });
    expect(done).equal(2);
  });

  it('holds its button back while a field is not understood, or its body is busy', () => {
    let done = 0;
    const { getByRole, getByLabelText, rerender } = show(<Card run={() => done++} />);
    const button = () => getByRole('button', { name: /^Do 0/ }) as HTMLButtonElement;
    const own = getByLabelText('Own');
    type(own, 'x');
    expect(button().disabled).equal(true);
    fireEvent.keyDown(own, { key: 'Enter' });
    type(own, '4');
    expect(button().disabled).equal(false);
    expect(done).equal(0);
    rerender(<></>);
    const busy = show(<Card run={() => done++} busy />);
    expect((busy.getByRole('button', { name: /^Do 0/ }) as HTMLButtonElement).disabled).equal(true);
  });
});

describe('findings on screen', () => {
  const shown = (aside: { code: string; reason: string; at: string } | null = null) => ({
    number: 1,
    key: 'open-loops@1,2,3~4',
    severity: 'failure' as const,
    message: 'Open loop 1 of 2, 4 mm round, flat. Without closing it there is no inside.',
    at: [1, 2, 3] as [number, number, number],
    span: 4,
    tag: '',
    aside,
    method: 'counted, exactly',
    mends: ['stitch', 'wrap'] as ('stitch' | 'wrap')[],
  });

  it('say what, how it was found and what mends it; a reason is sent with the key', async () => {
    const { getByRole, getByText, getByLabelText } = show(<Findings findings={[shown()]} bodyId="b" empty="" />);
    fireEvent.click(getByRole('button', { name: /Open loop 1 of 2/ }));
    getByText('must be mended · counted, exactly · mended by Stitch or Wrap');
    fireEvent.click(getByRole('button', { name: 'Set aside …' }));
    const send = getByRole('button', { name: 'Set aside' }) as HTMLButtonElement;
    type(getByLabelText('Reason'), 'no');
    await act(async () => undefined);
    expect(send.disabled).equal(true);
    type(getByLabelText('Reason'), 'it stands on that side');
    await waitFor(() => expect(send.disabled).equal(false));
    fireEvent.click(send);
    await waitFor(() =>
      expect(sent.filter((s) => s.method === 'POST')).eql([
        {
          method: 'POST',
          path: '/api/bodies/b/dismissals',
          body: { code: 'open-loops@1,2,3~4', reason: 'it stands on that side' },
        },
      ]),
    );
  });

  it('one set aside under an older name is taken up again under that name', async () => {
    const { getByRole, getByText } = show(
      <Findings findings={[shown({ code: 'open-loops-2', reason: 'half of it', at: '' })]} bodyId="b" empty="" />,
    );
    getByText('Set aside: “half of it”');
    const main = getByRole('button', { name: /Open loop/ });
    if (main.getAttribute('aria-pressed') !== 'true') fireEvent.click(main);
    fireEvent.click(getByRole('button', { name: 'Take up again' }));
    await waitFor(() =>
      expect(sent.map((s) => `${s.method} ${s.path}`)).contain('DELETE /api/bodies/b/dismissals/open-loops-2'),
    );
  });

  it('none is said in words', () => {
    show(<Findings findings={[]} bodyId="b" empty="Nothing is wrong." />).getByText('Nothing is wrong.');
  });
});

describe('the ledger on screen', () => {
  it('tells each step with its figure; opened, its params in words; goes back to any', async () => {
    const { getByRole, getByText, getAllByText } = show(<Ledger body={body()} />);
    getByText('Imported');
    expect(getAllByText('Hollowed')[0].parentElement!.textContent).equal('Hollowed 3.00 mm');
    fireEvent.click(getByRole('button', { name: 'Ledger' }));
    getByText('wall 3.00 mm · 2 drains a cavity · drains 3.50 mm · took 1.5 s');
    getByText('taken as in · took 1.5 s');
    fireEvent.click(getByRole('button', { name: 'Go back to here' }));
    await waitFor(() => expect(sent.at(-1)).eql({ method: 'POST', path: '/api/bodies/b/cursor', body: { cursor: 1 } }));
  });

  it('offers no undo while the body is busy, and no redo where there is nothing to redo', () => {
    const { getByRole } = show(<Ledger body={body({ busyJobId: 'j' })} />);
    for (const name of ['Undo', 'Redo'])
      expect((getByRole('button', { name }) as HTMLButtonElement).disabled, name).equal(true);
  });
});

describe('the parts table', () => {
  const part = (tag: string, z: number, state: PartView['state']): PartView =>
    ({
      id: tag,
      tag,
      state,
      mesh: { hash: tag, facts: { ...facts, size: { x: 1, y: 1, z }, volumeMm3: 1000 * z } },
    }) as never;
  const parts = [part('A2', 30, 'printed'), part('A10', 20, 'planned'), part('B1', 90, 'failed')];

  it('sorts by each column both ways, tags by their numbers, and shows only what is asked for', () => {
    const { getAllByRole, getByRole, getByLabelText } = show(<PartsTable body={body({ parts })} printers={[]} />);
    const first = () =>
      getAllByRole('row')
        .slice(1)
        .map((r) => within(r).getAllByRole('gridcell')[0].textContent);
    expect(first()).eql(['A2', 'A10', 'B1']);
    const head = () => getByRole('columnheader', { name: /Longest/ });
    fireEvent.click(head());
    expect(first()).eql(['A10', 'A2', 'B1']);
    fireEvent.click(head());
    expect(first()).eql(['B1', 'A2', 'A10']);
    expect(head().getAttribute('aria-sort')).equal('descending');
    type(getByLabelText('Show only'), 'a');
    expect(first()).eql(['A2', 'A10']);
    type(getByLabelText('Show only'), 'fail');
    expect(first()).eql(['B1']);
  });
});

describe('tools on screen', () => {
  it('are listed by the names of their operations, and open as a card with the rows of the description', async () => {
    const opened: string[] = [];
    const list = show(<ToolList tools={toolIds} onOpen={(id) => opened.push(id)} />);
    for (const name of ['Crop', 'Mirror', 'Foot', 'Move', 'Refine', 'Simplify', 'Thicken', 'Stand-in scan'])
      fireEvent.click(list.getByRole('button', { name: new RegExp(`^${name}`) }));
    expect(opened).eql(['crop', 'mirror', 'foot', 'move', 'refine', 'simplify', 'thicken', 'practice']);
    list.unmount();
    answers.set(
      'POST /api/bodies/b/previews',
      step('foot', {}, { heightMm: 2, contactAreaMm2: 314, removedVolumeMm3: 40 }),
    );
    const card = show(<ToolDecision body={body()} toolId="foot" onClose={() => undefined} />);
    for (const { label } of catalogue.foot.words.rows!) card.getByRole('rowheader', { name: label });
    card.getByRole('button', { name: /^Cut the foot/ });
    await waitFor(() => card.getAllByText('3.1 cm²'), patience);
    expect(sent.find((s) => s.path === '/api/bodies/b/previews')!.body).deep.include({ operation: 'foot', params: {} });
  });
});
