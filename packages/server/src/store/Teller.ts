import type { ServerEvent } from '@jasmorphe/contracts/views';

/** Tells whoever looks that something changed. */
export interface Teller {
  send(event: ServerEvent): void;
}
