import { nanoid } from '@reduxjs/toolkit';
import { fetchBaseQuery, type FetchArgs } from '@reduxjs/toolkit/query/react';

const keyHeader = 'Idempotency-Key';

/** How long it waits before a word is sent once more that did not come through, ms. */
const againAfterMs = [1000, 3000];

/** Marks a request as a word about what happened: the server takes it once, however often it comes. */
export const sayingOnce = (request: FetchArgs): FetchArgs => ({
  ...request,
  headers: { [keyHeader]: nanoid() },
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
