import { existsSync } from 'node:fs';
import { resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { startServer } from '@jasmorphe/server/startServer';
import { seedHarrowFen } from './seed.ts';

const { values } = parseArgs({
  options: {
    port: { type: 'string', default: '4780' },
    data: { type: 'string', default: 'data' },
    web: { type: 'string', default: 'packages/web/dist' },
  },
});
const port = Number(values.port);
if (!Number.isInteger(port) || port < 0 || port > 65535) {
  console.error(`"${values.port}" is not a port. Give a number from 0 to 65535.`);
  process.exit(2);
}
const dataFolder = resolve(values.data);
const server = await startServer({
  port,
  dataFolder,
  webFolder: existsSync(values.web) ? resolve(values.web) : undefined,
}).catch((error: NodeJS.ErrnoException) => {
  console.error(
    error.code === 'EADDRINUSE' ? `Port ${port} is taken. Give another with --port.` : `Cannot start: ${error.message}`,
  );
  process.exit(1);
});
for (const signal of ['SIGINT', 'SIGTERM'] as const)
  process.on(signal, () => void server.stop().then(() => process.exit(0)));
if ((await server.library.shelf()).length === 0) await seedHarrowFen(server, (line) => console.log(line));
console.log(`Data: ${dataFolder}`);
console.log(`Jasmorphe is at ${server.address}`);
