import { log } from '../log.ts';

/** A page that is open, or was a moment ago. */
interface Page {
  /** it had a stream once; else it may be opening its first */
  came: boolean;
  /** its streams of events: while there is one, somebody has it open */
  streams: number;
  jobs: Set<string>;
}

/** How long a page may be away, as while it is loaded anew, before what it looked at is let go, ms. */
const usualGraceMs = 3000;
/** As many times longer may a page take that has not opened its stream yet. */
const longerAtFirst = 5;

/**
 * Who looks at which previews. A preview that a page asked for belongs to those pages that look at it: when the last of them is
 * closed, goes elsewhere or asks for something else, it is ended. One that no page ever looked at is of a program, and is not.
 */
export class Watchers {
  private readonly pages = new Map<string, Page>();
  /** jobs that a page looked at */
  private readonly watched = new Set<string>();
  /** jobs that somebody besides pages wants */
  private readonly kept = new Set<string>();
  private closed = false;
  private readonly timers = new Set<NodeJS.Timeout>();

  /** @param end of a preview that nobody looks at any more */
  constructor(
    private readonly end: (jobId: string) => Promise<void>,
    private readonly graceMs = usualGraceMs,
  ) {}

  /** A page is there for as long as its stream of events is open. @returns what is to be called when that ends */
  enter(pageId: string): () => void {
    const page = this.page(pageId);
    page.streams++;
    page.came = true;
    return () => {
      page.streams--;
      this.later(() => this.leave(pageId));
    };
  }

  /** A page asked for a preview just now, and has not had the time to say that it looks at it. */
  asked(pageId: string, jobId: string): void {
    this.page(pageId).jobs.add(jobId);
    this.watched.add(jobId);
    this.leaveLater(pageId);
  }

  /** A preview that is not only a page's: it runs to its end. */
  keep(jobId: string): void {
    this.kept.add(jobId);
  }

  /** What a page looks at from now on, and nothing else. */
  look(pageId: string, jobIds: readonly string[]): void {
    this.page(pageId).jobs = new Set(jobIds);
    for (const id of jobIds) this.watched.add(id);
    this.later(() => this.sweep());
    this.leaveLater(pageId);
  }

  /** A job has ended: nobody need look at it. */
  forget(jobId: string): void {
    this.watched.delete(jobId);
    this.kept.delete(jobId);
    for (const page of this.pages.values()) page.jobs.delete(jobId);
  }

  close(): void {
    this.closed = true;
    for (const timer of this.timers) clearTimeout(timer);
    this.timers.clear();
  }

  private page(id: string): Page {
    const page = this.pages.get(id) ?? { came: false, streams: 0, jobs: new Set() };
    this.pages.set(id, page);
    return page;
  }

  /** Lets a page go that has no stream, where none is opened meanwhile. */
  private leaveLater(pageId: string): void {
    const { came, streams } = this.page(pageId);
    if (streams === 0) this.later(() => this.leave(pageId), came ? 1 : longerAtFirst);
  }

  private leave(pageId: string): void {
    if (this.pages.get(pageId)?.streams !== 0) return;
    this.pages.delete(pageId);
    this.sweep();
  }

  /** Ends what nobody looks at. */
  private sweep(): void {
    const seen = new Set([...this.pages.values()].flatMap((page) => [...page.jobs]));
    for (const id of this.watched)
      if (!seen.has(id) && !this.kept.has(id)) {
        this.watched.delete(id);
        this.end(id).catch((error: unknown) => log.error(error, `Preview ${id} could not be ended`));
      }
  }

  private later(work: () => void, times = 1): void {
    if (this.closed) return;
    const timer = setTimeout(() => {
      this.timers.delete(timer);
      work();
    }, times * this.graceMs);
    timer.unref();
    this.timers.add(timer);
  }
}
