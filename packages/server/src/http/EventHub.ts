import type { Response } from 'express';
import type { ServerEvent } from '@jasmorphe/contracts/views';
import type { Teller } from '../store/Teller.ts';

/** Sends server-sent events to every browser that listens. */
export class EventHub implements Teller {
  private readonly listeners = new Set<Response>();
  private readonly beat = setInterval(() => this.write(': beat\n\n'), 20_000);

  constructor() {
    this.beat.unref();
  }

  add(response: Response): void {
    response.set({ 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-store', Connection: 'keep-alive' });
    response.flushHeaders();
    response.write('retry: 1000\n\n');
    this.listeners.add(response);
    response.on('close', () => this.listeners.delete(response));
  }

  send(event: ServerEvent): void {
    this.write(`data: ${JSON.stringify(event)}\n\n`);
  }

  private write(text: string): void {
    for (const response of this.listeners) response.write(text);
  }

  close(): void {
    clearInterval(this.beat);
    for (const response of this.listeners) response.end();
    this.listeners.clear();
  }
}
