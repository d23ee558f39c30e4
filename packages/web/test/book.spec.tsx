import { expect } from 'chai';
import { Route, Routes } from 'react-router';
import { answers, fireEvent, store, waitFor, within } from './dom.tsx';

const { render } = await import('@testing-library/react');
const { Provider } = await import('react-redux');
const { MemoryRouter } = await import('react-router');
const { api } = await import('../src/app/api.ts');
const { default: BookPage } = await import('../src/book/BookPage.tsx');

/** The page at its address; the PDF itself is answered by what the test says. */
function page(
  pdf: (paper: string | null, signal: AbortSignal | null) => Promise<Response> | Response,
  project: object = { id: 'p', name: 'Carnyx', models: [] },
) {
  store.dispatch(api.util.resetApiState());
  answers.set('GET /api/projects/p', project);
  const usual = globalThis.fetch;
  const papers: (string | null)[] = [];
  globalThis.fetch = ((asked: Request | string, init?: RequestInit) => {
    if (typeof asked !== 'string') return usual(asked);
    const paper = new URL(asked, 'http://127.0.0.1').searchParams.get('paper');
    papers.push(paper);
    return Promise.resolve(pdf(paper, init?.signal ?? null));
  }) as typeof fetch;
  undo = () => void (globalThis.fetch = usual);
  const card = render(
    <Provider store={store}>
      <MemoryRouter initialEntries={['/project/p/book']}>
        <Routes>
          <Route path="/project/:projectId/book" element={<BookPage />} />
        </Routes>
      </MemoryRouter>
    </Provider>,
  );
  return { ...card, papers };
}
let undo: () => void = () => undefined;

describe('the page of the build book', () => {
  const made: string[] = [];
  const revoked: string[] = [];
  before(() => {
    URL.createObjectURL = () => (made.push(`blob:${made.length}`), made.at(-1)!);
    URL.revokeObjectURL = (url) => void revoked.push(url);
  });
  afterEach(() => undo());
  const file = () => new Response('%PDF-1.3', { headers: { 'content-type': 'application/pdf' } });

  it('shows the PDF on the paper of the settings, with its tables; other paper makes another and lets go of the first', async () => {
    answers.set('GET /api/settings', { paper: 'letter' });
    const { findByTestId, getByRole, getByText, papers, queryByTestId } = page(file);
    const frame = (await findByTestId('book')) as HTMLIFrameElement;
    expect([papers, frame.getAttribute('src')]).eql([['letter'], made.at(-1)]);
    expect(getByText('Fetch it as PDF').getAttribute('href')).equal('/api/projects/p/book?paper=letter');
    expect(getByText('shopping').getAttribute('href')).equal('/api/projects/p/book/tables/shopping.csv');
    const first = made.at(-1)!;
    fireEvent.click(within(getByRole('group', { name: 'Paper' })).getByText('A4'));
    await waitFor(() =>
      expect(queryByTestId('book')?.getAttribute('src')).satisfy((src?: string) => src && src !== first),
    );
    expect(papers).eql(['letter', 'a4']);
    expect(revoked).contain(first);
  });

  it('says what the server says where there is no book, and is not printed then', async () => {
    answers.set('GET /api/settings', { paper: 'a4' });
    const { findByRole, getByRole, queryByTestId } = page(
      () =>
        new Response(
          JSON.stringify({ error: { code: 'no-parts', message: 'There are no parts yet.', hint: 'Divide first.' } }),
          {
            status: 409,
          },
        ),
    );
    expect((await findByRole('alert')).textContent).equal('There are no parts yet. Divide first.');
    expect((getByRole('button', { name: 'Print it' }) as HTMLButtonElement).disabled).equal(true);
    expect(queryByTestId('book')).equal(null);
  });

  it('is made on A4 where the settings cannot be read, and stops waiting when the page is left', async () => {
    answers.set('GET /api/settings', { error: { code: 'x', message: 'no', hint: '' } });
    let signal: AbortSignal | null = null;
    const { unmount, papers, findByRole } = page((_paper, given) => {
      signal = given;
      return new Promise<Response>(() => undefined);
    });
    await findByRole('progressbar', { name: 'Drawing the book' });
    await waitFor(() => expect(papers).eql(['a4']));
    unmount();
    expect(signal!.aborted).equal(true);
  });

  it('asks for no book of a project that is gone', async () => {
    answers.set('GET /api/settings', { paper: 'a4' });
    const { findByRole, papers } = page(file, { error: { code: 'no-such-project', message: 'It is gone.', hint: '' } });
    expect((await findByRole('alert')).textContent).equal('It is gone.');
    expect(papers.slice(1)).eql([]);
  });
});
