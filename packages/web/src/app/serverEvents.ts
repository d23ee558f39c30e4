import type { ServerEvent } from '@jasmorphe/contracts/views';
import { pageId, tellLookedAt } from './looking.ts';

/** How long after a lost connection the server is asked again, ms. */
const pauseMs = 1500;

/**
 * Listens to the server's events for as long as the page lives: a stream that ends, for whatever reason, is opened again.
 *
 * @param link told when the server cannot be heard, and when it can be heard again
 * @returns ends it
 */
export function listenToServer(
  hear: (event: ServerEvent) => void,
  link: { lost: () => void; back: () => void },
): () => void {
  let stream: EventSource | null = null;
  let timer: ReturnType<typeof setTimeout> | undefined;
  let lost = false;
  const open = () => {
    stream = new EventSource(`/api/events?page=${pageId}`);
    stream.onmessage = (message: MessageEvent<string>) => hear(JSON.parse(message.data) as ServerEvent);
    stream.onopen = () => {
      tellLookedAt();
      if (lost) link.back();
      lost = false;
    };
    stream.onerror = () => {
      if (!lost) link.lost();
      lost = true;
      // a browser gives up by itself after some answers; opened anew it does not
      stream?.close();
      clearTimeout(timer);
      timer = setTimeout(open, pauseMs);
    };
  };
  open();
  return () => {
    clearTimeout(timer);
    stream?.close();
  };
}
