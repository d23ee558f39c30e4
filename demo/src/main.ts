import { existsSync } from 'node:fs';
import { resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { startServer } from '@jasmorphe/server/bundle/startServer';
import { readPort, whyNotStarted } from '@jasmorphe/server/bundle/whyNotStarted';

const { values } = parseArgs({
  options: {
    port: { type: 'string', default: '4780' },
    data: { type: 'string', default: 'data' },
    web: { type: 'string', default: 'packages/web/dist' },
    // less of everything, for slow machines
    light: { type: 'boolean', default: false },
  },
});
const port = readPort(values.port);
if (port === null) {
  console.error(`"${values.port}" is not a port. Give a number from 0 to 65535.`);
  process.exit(2);
}
const dataFolder = resolve(values.data);
const server = await startServer({
  port,
  dataFolder,
  webFolder: existsSync(values.web) ? resolve(values.web) : undefined,
}).catch((error: unknown) => {
  console.error(whyNotStarted(error, port, dataFolder));
  process.exit(1);
});
for (const signal of ['SIGINT', 'SIGTERM'] as const)
  process.on(signal, () => void server.stop().then(() => process.exit(0)));
// a folder that holds files its database knows nothing of is a question to its owner, not an empty shelf
if (server.problems.length === 0 && (await server.library.shelf.projects()).length === 0) {
  const { seedHarrowFen } = await import('./seed.ts');
  await seedHarrowFen(server, (line) => console.log(line), values.light);
}
console.log(`Data: ${dataFolder}`);
console.log(`Jasmorphe is at ${server.address}`);
