import { createClient, type Client } from '@libsql/client';
import { pathToFileURL } from 'node:url';

/** One connection to a database file. As an address, since signs such as `%` and `?` of a path mean something else in one. */
export const clientOf = (file: string): Client => createClient({ url: pathToFileURL(file).href, concurrency: 1 });
