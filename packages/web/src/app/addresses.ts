import type { BodyOf, PathOf, QueryOf, RouteName } from '@jasmorphe/contracts/routes';

/** A body as it is sent: what is usual may be left out, and params are checked where they arrive. */
type Fields<T> = { [K in keyof T]?: Record<string, unknown> extends T[K] ? object : T[K] };

/** What goes to a route: what its path leaves open, its body, and what stands behind the "?". */
export interface Sent<N extends RouteName> {
  path?: PathOf<N>;
  body?: Fields<BodyOf<N>> | FormData;
  query?: Partial<QueryOf<N>>;
}

/** The path of a route of the table, below /api, with what it leaves open filled in. */
export function pathOf<N extends RouteName>(name: N, path = {} as PathOf<N>): string {
  const [, open] = name.split(' ');
  return open.replace(/\{(\w+)\}/g, (_, key: keyof PathOf<N>) => encodeURIComponent(path[key]));
}

type Read = Extract<RouteName, `GET ${string}`>;

/** Where something is fetched from: a link, a picture, a file. */
export function hrefOf<N extends Read>(name: N, path?: PathOf<N>, query?: Partial<QueryOf<N>>): string {
  const said = Object.entries<unknown>(query ?? {}).filter(([, value]) => value !== undefined) as [string, string][];
  const behind = new URLSearchParams(said).toString();
  return `/api${pathOf(name, path)}${behind && `?${behind}`}`;
}
