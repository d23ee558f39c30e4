import { nanoid } from '@reduxjs/toolkit';
import { fetchBaseQuery, type FetchArgs } from '@reduxjs/toolkit/query/react';
import type { AnswerTo, OnceRoute, RouteName } from '@jasmorphe/contracts/routes';
import { pathOf, type Sent } from './addresses.ts';

const keyHeader = 'Idempotency-Key';

/** How long it waits before a word is sent once more that did not come through, ms. */
const againAfterMs = [1000, 3000];

/** A request of a route of the table, by its name there. */
export const requestOf = <N extends RouteName>(name: N, { path, body, query }: Sent<N>): FetchArgs => ({
  url: pathOf(name, path).slice(1),
  method: name.split(' ')[0],
  ...(body ? { body } : {}),
  ...(query ? { params: query } : {}),
});

/** What an endpoint of the page asks, and what it is answered. */
interface Asks<N extends RouteName, A> {
  query: (arg: A) => FetchArgs;
  transformResponse: (answer: AnswerTo<N>) => AnswerTo<N>;
}

const same = <T>(answer: T): T => answer;

/** An endpoint of the page that asks by a route. @param sent what of its argument goes where; it has none if left out */
export function asks<N extends Exclude<RouteName, OnceRoute>>(name: N): Asks<N, void>;
export function asks<N extends Exclude<RouteName, OnceRoute>, A>(name: N, sent: (arg: A) => Sent<N>): Asks<N, A>;
export function asks<N extends Exclude<RouteName, OnceRoute>, A>(
  name: N,
  sent: (arg: A) => Sent<N> = () => ({}),
): Asks<N, A> {
  return { query: (arg) => requestOf(name, sent(arg)), transformResponse: same };
}

/** A request that is a word about what happened: the server takes it once, however often it comes. */
export const onceOf = <N extends OnceRoute>(name: N, sent: Sent<N>): FetchArgs => ({
  ...requestOf(name, sent),
  headers: { [keyHeader]: nanoid() },
});

/** An endpoint that is such a word. */
export const says = <N extends OnceRoute, A>(name: N, sent: (arg: A) => Sent<N>): Asks<N, A> => ({
  query: (arg) => onceOf(name, sent(arg)),
  transformResponse: same,
});

/** A thing of a list: new where it has no id. */
export type Saved<T> = { id?: string } & T;

/** Things of the workshop that are added, changed and removed alike. */
export type List = 'printers' | 'materials' | 'spools' | 'saved-bodies' | 'places';

/** Changes a thing of a list, or adds it where it has no id. */
export const saves = <L extends List, A extends Saved<object>>(
  list: L,
  bodyOf: (thing: A) => Sent<`POST /${L}`>['body'],
) => ({
  query: (thing: A) => {
    const body = bodyOf(thing);
    return thing.id
      ? requestOf(`PUT /${list}/{id}`, { path: { id: thing.id }, body } as Sent<`PUT /${L}/{id}`>)
      : requestOf(`POST /${list}`, { body });
  },
  transformResponse: (answer: AnswerTo<`POST /${L}`>) => answer,
});

const ask = fetchBaseQuery({ baseUrl: '/api' });

/** Asks the server. What is said once is sent again where nothing came back: it may have been heard, or not. */
export const baseQuery: typeof ask = async (request, api, extra) => {
  let answer = await ask(request, api, extra);
  const once = typeof request === 'object' && keyHeader in (request.headers ?? {});
  for (const ms of once ? againAfterMs : []) {
    if (answer.error?.status !== 'FETCH_ERROR' || api.signal.aborted) break;
    await new Promise((resolve) => setTimeout(resolve, ms));
    answer = await ask(request, api, extra);
  }
  return answer;
};
