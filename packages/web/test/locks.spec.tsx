import { expect } from 'chai';
import { useState } from 'react';
import { Route, Routes } from 'react-router';
import type { ProjectView } from '@jasmorphe/contracts/views';
import { act, answers, fetchedStages, fireEvent, patience, sent, show, store, Stream, type, waitFor } from './dom.tsx';
import { bodyOf, imported, printerOf } from './things.ts';

const { AboutProject } = await import('../src/about/AboutDialog.tsx');
const { api, usePrintersQuery } = await import('../src/app/api.ts');
const { onKey, useKeys } = await import('../src/app/keys.ts');
const { Notices } = await import('../src/app/Notices.tsx');
const { usePrinter } = await import('../src/app/usePrinter.ts');
const { useJobs } = await import('../src/app/useJobs.ts');
const { setUnit } = await import('../src/app/uiSlice.ts');
const { clearBench } = await import('../src/bench/benchSlice.ts');
const { default: ProjectPage } = await import('../src/project/ProjectPage.tsx');
const { useDraft } = await import('../src/stages/useDraft.ts');
const { default: WorkshopPage } = await import('../src/workshop/WorkshopPage.tsx');

describe('locks and dead ends', () => {
  before(async function () {
    this.timeout(30_000);
    await fetchedStages();
  });
  beforeEach(() => {
    act(() => {
      store.dispatch(api.util.resetApiState());
      store.dispatch(clearBench());
      store.dispatch(setUnit('mm'));
    });
    document.addEventListener('keydown', onKey);
  });
  afterEach(() => document.removeEventListener('keydown', onKey));

  describe('keys', () => {
    /** Says the keys it was given. */
    const Heard = () => {
      const [heard, setHeard] = useState('');
      const hear = (what: string) => () => setHeard((all) => `${all} ${what}`);
      useKeys('page', { unit: hear('unit') });
      useKeys('findings', { next: hear('next') });
      useKeys('bench', { all: hear('all') });
      return (
        <>
          <output>{heard}</output>
          <div role="grid">
            <span role="gridcell" tabIndex={-1}>
              A1
            </span>
            <input aria-label="filter" />
          </div>
          <input type="checkbox" aria-label="box" />
          <input type="range" aria-label="slider" />
          <input aria-label="field" />
        </>
      );
    };

    it('go on after a click into a table, a box or a slider, which keep those that move and tick them', () => {
      const at = show(<Heard />);
      const heardAt = (target: HTMLElement) => {
        const was = at.container.querySelector('output')!.textContent;
        for (const key of ['m', 'ArrowDown', ' ']) fireEvent.keyDown(target, { key });
        return at.container.querySelector('output')!.textContent.slice(was.length);
      };
      expect(heardAt(at.container)).equal(' unit next all');
      expect(heardAt(at.getByRole('gridcell'))).equal(' unit');
      expect(heardAt(at.getByLabelText('slider'))).equal(' unit');
      expect(heardAt(at.getByLabelText('box'))).equal(' unit next');
      // what is typed is no key
      expect(heardAt(at.getByLabelText('field'))).equal('');
      expect(heardAt(at.getByLabelText('filter'))).equal('');
      at.unmount();
    });
  });

  describe('what was picked for one project', () => {
    it('is not picked for the next: a draft is of its key', () => {
      const Draft = ({ of }: { of: string }) => {
        const [value, set] = useDraft<string>(of);
        return <button onClick={() => set(`for ${of}`)}>{value ?? 'nothing'}</button>;
      };
      const Both = () => {
        const [of, setOf] = useState('first');
        return (
          <>
            <Draft of={of} />
            <button onClick={() => setOf((was) => (was === 'first' ? 'second' : 'first'))}>other</button>
          </>
        );
      };
      const at = show(<Both />);
      const other = () => fireEvent.click(at.getByText('other'));
      fireEvent.click(at.getByText('nothing'));
      at.getByText('for first');
      other();
      fireEvent.click(at.getByText('nothing'));
      at.getByText('for second');
      other();
      at.getByText('for first');
    });

    it('nor is its printer; each has its own after a reload', () => {
      const printers = [printerOf('long', { name: 'Long bed' }), printerOf('vat', { name: 'Vat', kind: 'resin' })];
      const Printer = () => {
        const { printer, choose } = usePrinter(printers);
        return <button onClick={() => choose('vat')}>{printer?.profile.name}</button>;
      };
      const of = (project: string) =>
        show(
          <Routes>
            <Route path="/project/:projectId" element={<Printer />} />
          </Routes>,
          `/project/${project}`,
        );
      const first = of('p1');
      fireEvent.click(first.getByText('Long bed'));
      first.getByText('Vat');
      first.unmount();
      of('p2').getByText('Long bed');
      expect(JSON.parse(localStorage.getItem('jasmorphe.printers')!))
        .include({ p1: 'vat' })
        .not.include.keys('p2');
    });
  });

  describe('a page that is open elsewhere', () => {
    it('offers a printer that was added in another tab', async () => {
      const Offered = () => {
        useJobs((jobs) => jobs);
        const { data = [] } = usePrintersQuery();
        return <p>{data.map((p) => p.profile.name).join(', ')}</p>;
      };
      answers.set('GET /api/printers', [printerOf('long', { name: 'Long bed' })]);
      answers.set('GET /api/jobs', []);
      Stream.open = [];
      const at = show(<Offered />);
      await at.findByText('Long bed', {}, patience);
      await waitFor(() => expect(Stream.open.length).equal(1), patience);
      answers.set('GET /api/printers', [printerOf('long', { name: 'Long bed' }), printerOf('n', { name: 'New one' })]);
      act(() => Stream.open[0].onmessage!({ data: JSON.stringify({ type: 'workshop' }) }));
      await at.findByText('Long bed, New one', {}, patience);
    });
  });

  const project: Partial<ProjectView> = {
    id: 'p',
    name: 'Carnyx',
    note: 'war horn',
    licence: '',
    terms: 'unknown',
    source: { from: '', by: '', address: '', date: '' },
    modelIds: ['b'],
    models: [{ id: 'b', name: 'boar' }],
  };

  describe('an address that asks for what is not there', () => {
    const shown = (at: string) => {
      answers.set('GET /api/projects/p', project);
      answers.set('GET /api/bodies/b', bodyOf({ name: 'boar', line: [imported()] }));
      answers.set('GET /api/printers', []);
      return show(
        <>
          <Routes>
            <Route path="/project/:projectId/:stage?" element={<ProjectPage />} />
            <Route path="/workshop/:room?" element={<WorkshopPage />} />
          </Routes>
          <Notices />
        </>,
        at,
      );
    };
    for (const [at, says] of [
      ['/project/p/print?model=gone', /Carnyx has no such model as the address asks for/],
      ['/project/p/prnt', /There is no stop "prnt"/],
      ['/project/p/print?part=Z9', /boar has no part Z9/],
      ['/project/p/mend?tool=saw', /"saw" is no tool for what is on the bench now/],
      ['/workshop/cellar', /The workshop has no "cellar"/],
    ] as const)
      it(`is told so: ${at}`, async () => {
        await shown(at).findByText(says, {}, patience);
      });
    it('one that is right is told nothing', async () => {
      const at = shown('/project/p/mend?model=b');
      await at.findByRole('navigation', { name: 'Route' }, patience);
      expect(at.queryAllByTestId('notice')).eql([]);
    });
  });

  describe('Escape in a dialog', () => {
    it('drops nothing that was typed without asking, and closes at once what is untouched', async () => {
      answers.set('GET /api/projects/p', project);
      answers.set('GET /api/projects/p/attachments', []);
      let closed = 0;
      const at = show(<AboutProject projectId="p" onClose={() => closed++} />);
      const line = await at.findByLabelText('In a line', {}, patience);
      expect(at.queryAllByRole('textbox', { name: /note/i }).length, 'two fields of one name').equal(1);
      const escape = () => fireEvent.keyDown(at.getByRole('dialog'), { key: 'Escape' });
      type(line, 'war horn of the fen');
      escape();
      at.getByText('What you typed is not kept.');
      expect([closed, (line as HTMLInputElement).value]).eql([0, 'war horn of the fen']);
      fireEvent.click(at.getByRole('button', { name: 'Go on' }));
      type(line, 'war horn');
      type(at.getByLabelText('New note'), 'sanded');
      escape();
      at.getByText('What you typed is not kept.');
      fireEvent.click(at.getByRole('button', { name: 'Let it go' }));
      expect(closed).equal(1);
      expect(sent.some((s) => s.method === 'PATCH')).equal(false);
      type(at.getByLabelText('New note'), '');
      escape();
      expect(closed).equal(2);
    });
  });
});
