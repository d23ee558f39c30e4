import { AsyncLocalStorage } from 'node:async_hooks';
import { pino } from 'pino';

/** Which request is answered just now: what is said meanwhile is said with its id. */
export const request = new AsyncLocalStorage<{ requestId: string }>();

/** What may be set as `JASMORPHE_LOG`, from little to much. */
const logLevels = ['silent', 'error', 'warn', 'info', 'debug'] as const;

const asked = process.env.JASMORPHE_LOG ?? '';
const level = (logLevels as readonly string[]).includes(asked) ? asked : 'info';

/** A line as a person reads it at a terminal; programs get the JSON. */
function forPeople(line: string): string {
  const {
    level: at,
    msg,
    err,
    requestId,
  } = JSON.parse(line) as {
    level: number;
    msg?: string;
    err?: { message: string; stack?: string };
    requestId?: string;
  };
  const label = at >= pino.levels.values.warn ? `${pino.levels.labels[at]}: ` : '';
  const said = [msg, err?.stack ?? err?.message].filter(Boolean).join('\n');
  return `${label}${said}${requestId ? ` (request ${requestId})` : ''}\n`;
}

/**
 * What the server has to say: each as one line of JSON on standard error, or in words where a person sits at it. How much by the
 * variable JASMORPHE_LOG.
 */
export const log = pino(
  { name: 'jasmorphe', level, mixin: () => ({ ...request.getStore() }), base: null },
  { write: (line: string) => void process.stderr.write(process.stderr.isTTY ? forPeople(line) : line) },
);
