import { GlobalRegistrator } from '@happy-dom/global-registrator';
import { expose } from 'comlink';
import { MessageChannel } from 'node:worker_threads';

// before React is loaded: it looks once whether there is a document
// what a frame shows is not looked at here
GlobalRegistrator.register({ url: 'http://127.0.0.1:4780/', settings: { disableIframePageLoading: true } });

/** A stream of events as the browser has it, held by the test. */
export class Stream {
  /** since the test began */
  static open: Stream[] = [];
  /** since the page was loaded: one may be shared by all that look at jobs */
  static readonly ever: Stream[] = [];
  closed = false;
  onmessage: ((message: { data: string }) => void) | null = null;
  onopen: (() => void) | null = null;
  onerror: (() => void) | null = null;
  constructor(readonly address: string) {
    Stream.open.push(this);
    Stream.ever.push(this);
  }
  close(): void {
    this.closed = true;
  }
}

// answers come when they come: a card that hears of one between two looks is no slip of a test, nor is an empty frame
const { error } = console;
const noSlip = /not wrapped in act|Iframe page loading is disabled/;
console.error = (...said: unknown[]) => {
  if (!noSlip.test(String(said[0]))) error(...said);
};

/** The worker of the page, on the page's own thread: what is asked of it is worked out as it is in a browser. */
class OwnWorker {
  private readonly channel = new MessageChannel();
  constructor() {
    void import('../src/worker/workshop.ts').then(({ workshop }) => expose(workshop, this.channel.port2 as never));
  }
  postMessage(message: unknown, transfer?: never[]): void {
    this.channel.port1.postMessage(message, transfer);
  }
  addEventListener(...args: unknown[]): void {
    (this.channel.port1 as unknown as EventTarget).addEventListener(...(args as ['message', () => void]));
    this.channel.port1.start();
  }
  removeEventListener(...args: unknown[]): void {
    (this.channel.port1 as unknown as EventTarget).removeEventListener(...(args as ['message', () => void]));
  }
  terminate(): void {
    this.channel.port1.close();
  }
}

Object.assign(globalThis, { IS_REACT_ACT_ENVIRONMENT: true, EventSource: Stream, Worker: OwnWorker });
// nobody looks at the time line that React keeps for the tools of a browser, a tenth of the work here
Object.assign(console, { timeStamp: undefined, createTask: undefined });

/** A class that an element must have for each of the selectors of a list to match it; null where one asks for none. */
const classesAskedFor = (selector: string): string[] | null => {
  if (/[()"'\\]/.test(selector)) return null;
  const ofItself = (one: string): string =>
    one
      .trim()
      .split(/[\s>+~]+/)
      .pop()!;
  const asked = selector.split(',').map((one) => /\.([\w-]+)/.exec(ofItself(one))?.[1]);
  return asked.every((name) => name !== undefined) ? asked : null;
};
const askedFor = new Map<string, string[] | null>();
// what is hidden is asked of every element that is looked for by its role, and all rules of all styles are tried on it: nearly
// all ask for a class that it has not, which is told at once
const { default: selectors } = await import('happy-dom/lib/query-selector/QuerySelector.js');
const { matches } = selectors;
selectors.matches = function (element, selector, options) {
  let asked = askedFor.get(selector);
  if (asked === undefined) askedFor.set(selector, (asked = classesAskedFor(selector)));
  if (asked) {
    const has = ` ${element.getAttribute('class') ?? ''} `;
    if (!asked.some((name) => has.includes(` ${name} `))) return null;
  }
  return matches.call(this, element, selector, options);
};

// and what hides an element are two properties: rules that say nothing of either are passed over, most of them
const { default: ComputedStyle } = await import('happy-dom/lib/css/declaration/computed-style/CSSComputedStyle.js');
const tried = ComputedStyle.prototype as unknown as { parseCSSRules(asked: { cssRules: CSSRule[] }): void };
const { parseCSSRules } = tried;
const hiding = new WeakMap<CSSRule, boolean>();
const mayHide = (rule: CSSRule): boolean => {
  let may = hiding.get(rule);
  if (may === undefined) hiding.set(rule, (may = /display|visibility/.test(rule.cssText)));
  return may;
};
tried.parseCSSRules = function (asked) {
  parseCSSRules.call(this, { ...asked, cssRules: asked.cssRules.filter(mayHide) });
};

const { Settings } = await import('@jasmorphe/contracts/workshopRequests');
const library = await import('@testing-library/react');
const { cleanup, configure, render } = library;
// a card that is slow beside other work is slow, not wrong
configure({ asyncUtilTimeout: 15_000 });
const { Provider } = await import('react-redux');
const { MemoryRouter } = await import('react-router');
const { store } = await import('../src/app/store.ts');
const { FieldsContext, useHold } = await import('../src/forms/hold.ts');

export { store };
export const { act, fireEvent, within } = library;
/** For what takes a while: fetched pieces of the page, and what is worked out. */
export const patience = { timeout: 30_000 };
/** Looks again and again until it holds, more often than the library does by itself: nobody waits for what is there. */
export const waitFor: typeof library.waitFor = (holds, options) => library.waitFor(holds, { interval: 10, ...options });

/** A request that the page sent, as the server would see it. */
export interface Sent {
  method: string;
  path: string;
  body: unknown;
}

/** What was sent since the last test, newest last. */
export const sent: Sent[] = [];

/** Whatever has no bedfuls was never put on beds. */
const noBedfuls = { bedfuls: [], canUndo: false, models: [] };
/** A project that nothing is said of has the one model. */
const plainProject = {
  id: 'p',
  name: 'Carnyx',
  licence: '',
  terms: 'unknown',
  modelIds: ['model'],
  models: [{ id: 'model', name: 'Carnyx' }],
};

/** What no test need say: the server has none, and tells so. */
const notThere = { error: { code: 'not-found', message: 'There is none.', hint: '' } };

/**
 * What the server answers to a question that a test says nothing of: a workshop and a shelf with nothing in them, a plain project,
 * and meshes, parts and days of which nothing more is known.
 */
const plainAnswers: readonly (readonly [RegExp, unknown])[] = [
  [/^\/api\/(bodies|projects)\/[^/]+\/bedfuls$/, noBedfuls],
  [/^\/api\/projects\/[^/]+$/, plainProject],
  [/^\/api\/projects\/[^/]+\/(log|attachments)$/, []],
  [/^\/api\/(projects|printers|materials|spools|places|saved-bodies|jobs)$/, []],
  [/^\/api\/settings$/, { ...new Settings() }],
  [/^\/api\/days\/(rates|hours)$/, []],
  [/^\/api\/meshes\/[^/]+(\/facts|\/display\?budget=\d+)?$/, notThere],
  [/^\/api\/days$/, notThere],
  [/^\/api\/bodies\/part-\w+$/, notThere],
];
const plainAnswer = (path: string): unknown => plainAnswers.find(([pattern]) => pattern.test(path))?.[1];

/** Answers of the server by method and path, with the query where that counts, or what makes one of the body that was sent. */
export const answers = new Map<string, unknown>();

/** What was asked for and nobody answers: a test that leaves something here fails. */
const unanswered: string[] = [];

/** What a request carries: JSON, or the fields of a form with files by their names. */
async function bodyOf(asked: Request): Promise<unknown> {
  if (asked.method === 'GET') return null;
  if (asked.headers.get('content-type')?.startsWith('multipart/')) {
    const fields: [string, string][] = [];
    (await asked.formData()).forEach((value, name) =>
      fields.push([name, typeof value === 'string' ? value : value.name]),
    );
    return fields;
  }
  const text = await asked.text();
  return text ? (JSON.parse(text) as unknown) : null;
}

globalThis.fetch = (async (what: Request | string) => {
  const asked = typeof what === 'string' ? new Request(new URL(what, location.href)) : what;
  const url = new URL(asked.url);
  // as the server reads it
  const [pathname, search] = [decodeURIComponent(url.pathname), url.search];
  const body = await bodyOf(asked);
  sent.push({ method: asked.method, path: pathname, body });
  // how fine a drawing may be is nothing that tests tell apart
  const own = answers.get(`${asked.method} ${pathname}${search.replace(/^\?budget=\d+$/, '')}`);
  // a change that nobody answers for is taken, and says nothing
  const held = own ?? plainAnswer(pathname + search) ?? (asked.method === 'GET' ? undefined : []);
  if (held === undefined) {
    unanswered.push(`GET ${pathname}${search}`);
    const error = { code: 'not-found', message: `There is nothing at GET ${pathname}.`, hint: '' };
    return new Response(JSON.stringify({ error }), { status: 404, headers: { 'content-type': 'application/json' } });
  }
  const answer = typeof held === 'function' ? (held as (body: unknown) => unknown)(body) : held;
  if (answer instanceof Uint8Array) return new Response(answer.slice());
  // a job has an error of its own
  const refused = typeof answer === 'object' && answer !== null && 'error' in answer && !('id' in answer);
  return new Response(JSON.stringify(answer), {
    status: refused ? 400 : 200,
    headers: { 'content-type': 'application/json' },
  });
}) as typeof fetch;

/** Shows a component as the page would: with the store, and within a route, at an address. */
export function show(element: React.ReactNode, at = '/') {
  return render(
    <Provider store={store}>
      <MemoryRouter initialEntries={[at]}>{element}</MemoryRouter>
    </Provider>,
  );
}

/** Fields by themselves, in a form that nothing is done with; what holds its button is told at the end. */
export function InForm({ children }: { children: React.ReactNode }) {
  const { wrong, fields } = useHold(() => undefined);
  return (
    <FieldsContext value={fields}>
      {children}
      <p data-testid="held">{wrong}</p>
    </FieldsContext>
  );
}

/** Types a text into a field and leaves it there. */
export function type(field: HTMLElement, text: string): void {
  fireEvent.focus(field);
  fireEvent.change(field, { target: { value: text } });
}

/** What each test asked for and nobody answers. */
const slips: string[] = [];
afterEach(function () {
  const asked = new Set(unanswered.splice(0));
  if (asked.size > 0) slips.push(`${this.currentTest?.fullTitle() ?? ''}: ${[...asked].join(', ')}`);
  cleanup();
  sessionStorage.clear();
  sent.length = 0;
  answers.clear();
});

// told at the end: a hook that fails between two tests would end all that are behind it
after(() => {
  if (slips.length > 0) throw new Error(`Nobody answers what these ask for:\n${slips.join('\n')}`);
});

/** The stops of the route, with what they draw fetched already: a card stands there at once, as it does on a second visit. */
export async function fetchedStages() {
  const { stages } = await import('../src/stages/stages.ts');
  for (const { Decision } of Object.values(stages)) if ('fetch' in Decision) await Decision.fetch();
  return { stages };
}
