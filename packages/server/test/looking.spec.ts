import { expect } from 'chai';
import type { JobView } from '@jasmorphe/contracts/views';
import { isLongPreview, nextJob } from '@jasmorphe/server/jobs/nextJob';
import { Watchers } from '@jasmorphe/server/jobs/Watchers';
import { Client } from './client.ts';
import { ownServer } from './ownServer.ts';

const after = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

describe('previews belong to whoever looks', () => {
  describe('who looks', () => {
    const graceMs = 40;
    let ended: string[];
    let watchers: Watchers;
    beforeEach(() => {
      ended = [];
      watchers = new Watchers(async (id) => void ended.push(id), graceMs);
    });
    afterEach(() => watchers.close());
    const settled = () => after(3 * graceMs);

    it('the last page that is closed, or looks elsewhere, ends what it looked at; no other does', async () => {
      const [leaveA, leaveB] = ['page-aaaa', 'page-bbbb'].map((id) => watchers.enter(id));
      watchers.asked('page-aaaa', 'shared');
      watchers.asked('page-aaaa', 'own');
      watchers.look('page-bbbb', ['shared']);
      await settled();
      expect(ended).eql([]);
      leaveA();
      await settled();
      expect(ended).eql(['own']);
      watchers.look('page-bbbb', []);
      await settled();
      expect(ended).eql(['own', 'shared']);
      leaveB();
      await settled();
      expect(ended).eql(['own', 'shared']);
    });

    it('a page that is loaded anew finds what it asked for; one that has two streams stays with one', async () => {
      const leave = watchers.enter('page-aaaa');
      watchers.asked('page-aaaa', 'job');
      leave();
      watchers.enter('page-anew');
      watchers.asked('page-anew', 'job');
      const second = watchers.enter('page-anew');
      await settled();
      second();
      await settled();
      expect(ended).eql([]);
    });

    it('what a program asked for, or that has ended, is left alone; a page that never came is no page', async () => {
      watchers.keep('kept');
      for (const id of ['kept', 'over', 'lost']) watchers.asked('page-gone', id);
      watchers.forget('over');
      // its stream may be on the way
      await settled();
      expect(ended).eql([]);
      await settled();
      expect(ended).eql(['lost']);
    });
  });

  describe('which is next', () => {
    const step = (operation: string, params: object = {}) => ({ bodyId: 'b', inputs: [], operation, params });
    const job = (name: string, kind: 'line' | 'preview', payload: object, batchId: string | null = null) => ({
      name,
      kind,
      payload,
      batchId,
    });
    const long = (name: string) => job(name, 'preview', step('cuts'));
    const short = (name: string) => job(name, 'preview', step('fit', { bed: [9, 9, 9] }));
    const line = (name: string) => job(name, 'line', { bodyId: 'b', from: 0, planned: [step('mend')] });
    /** Names in the order in which they begin while nothing ends. */
    function order(waiting: ReturnType<typeof job>[], size: number): string[] {
      const active: { long: boolean }[] = [];
      const names: string[] = [];
      let left = waiting;
      for (let next = nextJob(left, active, size); next; next = nextJob(left, active, size)) {
        names.push(next.name);
        active.push({ long: isLongPreview(next) });
        left = left.filter((j) => j !== next);
      }
      return names;
    }

    it('what somebody waits for is first, in its order; then what was asked for last; batches in theirs', () => {
      const batch = ['m', 'n'].map((name) => job(name, 'preview', step('fit'), 'batch'));
      expect(order([...batch, short('a'), line('l'), short('b'), line('k')], 9)).eql(['l', 'k', 'b', 'a', 'm', 'n']);
    });

    it('long searches hold nothing up that is short, and have as many threads as there are', () => {
      const four = ['p', 'q', 'r', 's'].map(long);
      expect(order(four, 2)).eql(['s', 'r']);
      expect(order([...four, short('a'), short('b')], 2)).eql(['b', 'a']);
      expect(order([line('l'), ...four], 2)).eql(['l', 's']);
      // two searches are at work already, then Mend is asked for, then a card
      const active = [{ long: true }, { long: true }];
      expect(nextJob([...four, line('l')], active, 2)?.name).equal('l');
      expect(nextJob(four, active, 2)).equal(null);
      expect(nextJob([short('a')], [...active, { long: false }], 2)).equal(null);
      // short work fills its own places and no more
      expect(order([line('l'), line('k'), short('a')], 2)).eql(['l', 'k']);
      expect(order([...four, short('a')], 1)).eql(['a']);
    });

    it('a plan of cuts is long; one within seconds, and what the own cuts come to, are not', () => {
      const preview = (params: object) => isLongPreview(job('', 'preview', step('cuts', params)));
      expect([preview({ bed: [9, 9, 9] }), preview({ quick: true }), preview({ cuts: [] })]).eql([true, false, false]);
      expect(isLongPreview(job('', 'preview', {}))).equal(false);
    });
  });

  describe('over the API', () => {
    const at = ownServer();
    const client = new Client(() => at.server);

    /** A page that is open: its events, and what closes it. */
    async function open(page: string): Promise<() => void> {
      const over = new AbortController();
      const answer = await fetch(`${at.server.address}/api/events?page=${page}`, { signal: over.signal });
      void answer.text().catch(() => undefined);
      return () => over.abort();
    }
    /** Four plans of cuts into some hundred parts, which take their time. */
    async function plans(id: string, page?: string): Promise<string[]> {
      const jobs: string[] = [];
      for (const plan of ['fewest', 'clean', 'support', 'soon']) {
        const asked = await client.call<JobView>('POST', `/api/bodies/${id}/previews`, {
          operation: 'cuts',
          params: { bed: [11, 12, 13], plan },
          ...(page ? { page } : {}),
        });
        expect(asked.status).equal(202);
        jobs.push(asked.body.id);
      }
      return jobs;
    }
    const states = async (jobs: string[]) => Promise.all(jobs.map(async (id) => (await client.job(id)).state));

    it('plans of a page that is closed are gone within five seconds, and what another asks for is done', async () => {
      const { id } = await client.importedCube('in');
      const close = await open('page-to-close');
      const stay = await open('page-to-stay');
      const jobs = await plans(id, 'page-to-close');
      await client.call('PUT', '/api/pages/page-to-stay/looks-at', { jobs: jobs.slice(0, 1) });
      close();
      const closedAt = Date.now();
      for (;;) {
        const now = await states(jobs.slice(1));
        if (now.every((s) => s === 'cancelled' || s === 'done')) break;
        expect(Date.now() - closedAt, now.join(' ')).below(5000);
        await after(50);
      }
      expect((await states(jobs.slice(1))).filter((s) => s === 'cancelled').length).above(0);
      expect(await states(jobs.slice(0, 1))).not.include('cancelled');
      stay();
    });

    it('a page that asks for nothing right is told; one of a program runs to its end', async () => {
      const { id } = await client.importedCube('mm');
      const of = (page: unknown) =>
        client.call('POST', `/api/bodies/${id}/previews`, { operation: 'fit', params: { bed: [9, 9, 9] }, page });
      expect((await of('!')).status).equal(400);
      expect((await client.call('PUT', '/api/pages/!/looks-at', { jobs: [] })).status).equal(404);
      expect((await client.call('PUT', '/api/pages/page-1234/looks-at', { jobs: 'all' })).status).equal(400);
      const { body } = await client.call<JobView>('POST', `/api/bodies/${id}/previews`, {
        operation: 'fit',
        params: { bed: [8, 8, 8] },
      });
      await client.call('PUT', '/api/pages/page-1234/looks-at', { jobs: [body.id] });
      await client.call('PUT', '/api/pages/page-1234/looks-at', { jobs: [] });
      await at.server.queue.idle();
      expect((await client.job(body.id)).state).equal('done');
    });
  });
});
