import { expect } from 'chai';
import { useState, type ComponentType } from 'react';
import type { StepView } from '@jasmorphe/contracts/steps';
import { nobodyLooks, type BodyView, type JobView, type ServerEvent } from '@jasmorphe/contracts/views';
import { catalogue } from '@jasmorphe/core/operations/catalogue';
import { jobOf } from './things.ts';
import { act, answers, fireEvent, patience, sent, show, store, Stream, waitFor } from './dom.tsx';

const { Boundary, lazyPart } = await import('../src/app/Boundary.tsx');
const { listenToServer } = await import('../src/app/serverEvents.ts');
const { pageId } = await import('../src/app/looking.ts');
const { setLink } = await import('../src/app/uiSlice.ts');
const { ask, reportOf, usePreviews } = await import('../src/decision/usePreviews.ts');
const { JobBar } = await import('../src/jobs/JobProgress.tsx');
const { useStep } = await import('../src/stages/useStep.ts');

describe('the stream of events', () => {
  beforeEach(() => void (Stream.open = []));

  it('is opened again after it broke, says so once each way, and is closed for good when nobody listens', async function () {
    this.timeout(10_000);
    const heard: ServerEvent[] = [];
    const told: string[] = [];
    const stop = listenToServer((event) => heard.push(event), {
      lost: () => told.push('lost'),
      back: () => told.push('back'),
    });
    const [first] = Stream.open;
    expect(first.address).equal(`/api/events?page=${pageId}`);
    first.onopen!();
    first.onmessage!({ data: JSON.stringify({ type: 'project', projectId: 'p' }) });
    expect(heard).eql([{ type: 'project', projectId: 'p' }]);
    first.onerror!();
    first.onerror!();
    expect([told, first.closed]).eql([['lost'], true]);
    await waitFor(() => expect(Stream.open.length).equal(2), patience);
    // still gone: nothing is said twice
    Stream.open[1].onerror!();
    expect(told).eql(['lost']);
    await waitFor(() => expect(Stream.open.length).equal(3), patience);
    Stream.open[2].onopen!();
    expect(told).eql(['lost', 'back']);
    stop();
    expect(Stream.open[2].closed).equal(true);
    await new Promise((r) => setTimeout(r, 1700));
    expect(Stream.open.length).equal(3);
  });
});

describe('pieces of the page', () => {
  it('one that breaks leaves the rest standing, says which, and can be tried again', () => {
    let broken = true;
    const Piece = () => {
      if (broken) throw new Error('No such map.');
      return <p>the bench</p>;
    };
    const { error } = console;
    console.error = () => undefined;
    const { getByRole, getByText } = show(
      <>
        <Boundary of="The bench">
          <Piece />
        </Boundary>
        <p>the ledger</p>
      </>,
    );
    console.error = error;
    expect(getByRole('alert').textContent).match(/^The bench cannot be shown\. No such map\./);
    getByText('the ledger');
    broken = false;
    fireEvent.click(getByRole('button', { name: 'Try again' }));
    getByText('the bench');
  });

  it('one that cannot be fetched is fetched when asked again, and by itself once the server is back', async () => {
    const answers: (Error | ComponentType)[] = [new Error('gone'), new Error('gone'), () => <p>the chart</p>];
    let asked = 0;
    const Part = lazyPart(
      async () => {
        const next = answers[asked++];
        if (next instanceof Error) throw next;
        return { default: next };
      },
      <p>waiting</p>,
    );
    const { findByTestId, findByText, getByRole, getByText } = show(<Part />);
    getByText('waiting');
    await findByTestId('not-fetched');
    fireEvent.click(getByRole('button', { name: 'Try again' }));
    await waitFor(() => expect(asked).equal(2));
    await findByTestId('not-fetched');
    act(() => void store.dispatch(setLink('down')));
    act(() => void store.dispatch(setLink('up')));
    await findByText('the chart');
    expect(asked).equal(3);
  });
});

const step = (operation: string, params: object, report: object): StepView =>
  ({
    id: `${operation}-1`,
    operation,
    version: 1,
    params,
    report,
    inputs: [],
    outputs: ['out'],
    elapsedMs: 5,
    createdAt: '',
  }) as never;

/** Questions wait a moment before they are sent, and a busy machine longer. */

describe('what options would give', () => {
  beforeEach(() => void (Stream.open = []));

  const tell = (job: JobView) =>
    act(() => Stream.ever.forEach((s) => s.onmessage?.({ data: JSON.stringify({ type: 'job', job }) })));

  const Options = ({ wall }: { wall: number | null }) => {
    const [preview] = usePreviews('b', 'mesh', [wall === null ? null : ask(catalogue.hollow, { wall }, { after: 1 })]);
    const report = reportOf(preview, catalogue.hollow);
    const other = reportOf(preview, catalogue.divide);
    return (
      <p>
        {preview.state} {preview.state === 'failed' ? preview.error.message : ''} {report ? `${report.savedPct} %` : ''}
        {other ? 'of another operation' : ''}
      </p>
    );
  };

  it('a known answer comes at once, with the types of its operation and of no other', async () => {
    answers.set('POST /api/bodies/b/previews', step('hollow', { wall: 3 }, { savedPct: 82 }));
    const { findByText, container } = show(<Options wall={3} />);
    await findByText(/^ready +82 %$/, {}, patience);
    expect(container.textContent).not.contain('another operation');
    const asked = sent.filter((s) => s.path === '/api/bodies/b/previews');
    expect(asked.map((s) => s.body)).eql([{ operation: 'hollow', params: { wall: 3 }, after: 1, page: pageId }]);
  });

  it('what is worked out is looked at for as long as it is shown; what nobody looked at is asked for again', async () => {
    const job = jobOf({ id: 'long', kind: 'preview', bodyId: 'b' });
    answers.set('POST /api/bodies/b/previews', job);
    const seen = () =>
      sent.flatMap(({ path, body }) =>
        path === `/api/pages/${pageId}/looks-at` ? [(body as { jobs: string[] }).jobs] : [],
      );
    const { findByText, unmount } = show(<Options wall={7} />);
    await findByText(/^working/, {}, patience);
    await waitFor(() => expect(seen()).eql([['long']]));
    unmount();
    await waitFor(() => expect(seen()).eql([['long'], []]));
    tell({ ...job, state: 'cancelled', phase: nobodyLooks, endedAt: '2026-01-01T00:00:00Z' });
    answers.set('POST /api/bodies/b/previews', step('hollow', { wall: 7 }, { savedPct: 81 }));
    const again = show(<Options wall={7} />);
    await again.findByText(/^ready +81 %$/, {}, patience);
  });

  it('a null option asks for nothing', async () => {
    const { getByText } = show(<Options wall={null} />);
    await new Promise((r) => setTimeout(r, 500));
    getByText(/^idle/);
    expect(sent.filter((s) => s.path === '/api/bodies/b/previews')).eql([]);
  });

  it('a job that has to work it out is followed to its end: done, or failed with its words', async () => {
    const job = (change: Partial<JobView>) => jobOf({ id: 'j', kind: 'preview', bodyId: 'b', ...change });
    answers.set('POST /api/bodies/b/previews', job({}));
    const { findByText } = show(<Options wall={4} />);
    await findByText(/^working/);
    // by then the server knows it
    answers.set('POST /api/bodies/b/previews', step('hollow', { wall: 4 }, { savedPct: 70 }));
    tell(job({ state: 'done', result: { bodyId: 'b', stepId: 'hollow-1' }, endedAt: 'now' }));
    await findByText(/^ready +70 %$/, {}, patience);
    answers.set('POST /api/bodies/b/previews', job({ id: 'k' }));
    const second = show(<Options wall={9} />);
    await second.findByText(/^working/);
    tell(
      job({
        id: 'k',
        state: 'failed',
        error: { code: 'cannot', message: 'No cavity is left.', hint: '' },
        endedAt: 'now',
      }),
    );
    await second.findByText(/^failed No cavity is left\./, {}, patience);
  });

  it('how far a job is moves its bar; the card that waits for it is not drawn anew', async () => {
    const far = (progress: number, phase: string) => jobOf({ id: 'far', kind: 'preview', progress, phase });
    answers.set('POST /api/bodies/b/previews', far(0.4, 'Cutting'));
    let drawn = 0;
    const Card = () => {
      drawn++;
      const [preview] = usePreviews('b', 'mesh', [ask(catalogue.hollow, { wall: 7 })]);
      return preview.state === 'working' && <JobBar jobId={preview.jobId} />;
    };
    const { findByRole } = show(<Card />);
    await findByRole('progressbar', {}, patience);
    await waitFor(() => expect(sent.some((s) => s.path === '/api/bodies/b/previews')).equal(true), patience);
    tell(far(0.5, 'Cutting'));
    await findByRole('progressbar', { name: 'Cutting' }, patience);
    const before = drawn;
    tell(far(0.6, 'Cutting'));
    tell(far(0.7, 'Storing'));
    const bar = await findByRole('progressbar', { name: 'Storing' }, patience);
    expect(bar.getAttribute('aria-valuenow')).equal('70');
    expect(drawn).equal(before);
  });
});

describe('doing a step from its card', () => {
  const body = (change: Partial<BodyView> = {}): BodyView =>
    ({
      id: 'b',
      parts: [],
      cursor: 2,
      line: [step('import', {}, {}), step('hollow', { wall: 3, detail: 0.4, plugs: true, drains: 0 }, {})],
      ...change,
    }) as never;
  const Card = ({ of }: { of: BodyView }) => {
    const { run, applied, kept, after } = useStep(of, catalogue.hollow);
    const [done, setDone] = useState(0);
    return (
      <button
        type="button"
        onClick={() => {
          run({ wall: 5, drains: 2 });
          setDone(done + 1);
        }}
      >
        {applied ? `step ${applied.index}` : 'no step'} after {after}, kept {Object.keys(kept).join()}
      </button>
    );
  };

  it('changes the step in force and keeps what the card does not show; without one it adds one', async () => {
    const { getByRole } = show(<Card of={body()} />);
    fireEvent.click(getByRole('button', { name: 'step 1 after 1, kept detail,plugs' }));
    await waitFor(() =>
      expect(sent.find((s) => s.method === 'PUT')).eql({
        method: 'PUT',
        path: '/api/bodies/b/steps/1',
        body: { params: { wall: 5, detail: 0.4, plugs: true, drains: 2 }, dry: false },
      }),
    );
    const undone = show(<Card of={body({ cursor: 1 })} />);
    fireEvent.click(undone.getByRole('button', { name: 'no step after 1, kept' }));
    await waitFor(() =>
      expect(sent.find((s) => s.method === 'POST' && s.path === '/api/bodies/b/steps')?.body).eql({
        operation: 'hollow',
        params: { wall: 5, drains: 2 },
        dry: false,
      }),
    );
  });
});
