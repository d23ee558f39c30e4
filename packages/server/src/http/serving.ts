import { Router, type Request, type Response } from 'express';
import {
  routes,
  type AnswerTo,
  type BodyOf,
  type PathOf,
  type QueryOf,
  type Route,
  type RouteName,
} from '@jasmorphe/contracts/routes';
import { nameNow } from '@jasmorphe/core/operations/catalogue';
import { check } from './validate.ts';

/** What came in by a route, checked by the classes that the table of routes has for it. */
export interface Asked<N extends RouteName> {
  path: PathOf<N>;
  body: BodyOf<N>;
  query: QueryOf<N>;
  q: Request;
  r: Response;
}

/** A request by the name that an operation has now. */
const byNamesOfNow = (sent: unknown): unknown =>
  typeof sent === 'object' && sent !== null && 'operation' in sent
    ? { ...sent, operation: nameNow(sent.operation) }
    : sent;

/** @throws MeshError `bad-params`; ApiError `bad-json` where there is no body and one is needed */
function askedBy<N extends RouteName>(name: N, q: Request, r: Response): Asked<N> {
  const { body, mayBeEmpty, query } = routes[name] as Route;
  const sent: unknown = mayBeEmpty ? (q.body ?? {}) : q.body;
  return {
    path: q.params as PathOf<N>,
    body: (body ? check(body, byNamesOfNow(sent)) : sent) as BodyOf<N>,
    query: (query ? check(query, q.query) : q.query) as QueryOf<N>,
    q,
    r,
  };
}

/** A router that answers requests by the table of routes. */
export function serving() {
  const router = Router();
  const on = <N extends RouteName>(name: N, work: (asked: Asked<N>) => Promise<void>): void => {
    const [method, path] = name.split(' ');
    const verb = method.toLowerCase() as 'get' | 'post' | 'put' | 'patch' | 'delete';
    router[verb](path.replace(/\{(\w+)\}/g, ':$1'), (q, r) => work(askedBy(name, q as Request, r)));
  };
  return {
    router,
    /** What is answered as JSON, or not at all, with the status that the table says. */
    answer: <N extends RouteName>(name: N, work: (asked: Asked<N>) => AnswerTo<N> | Promise<AnswerTo<N>>): void => {
      const { ok = 200, gives } = routes[name] as Route;
      on(name, async (asked) => {
        const given = await work(asked);
        if (gives === null) asked.r.status(ok).end();
        else asked.r.status(ok).json(given);
      });
    },
    /** What is a file, or has several ways to be answered: the work sends it. */
    send: on,
  };
}
