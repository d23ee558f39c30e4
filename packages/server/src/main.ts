import { resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { startServer } from './startServer.ts';
import { readPort, whyNotStarted } from './whyNotStarted.ts';

const { values } = parseArgs({
  options: {
    port: { type: 'string', default: '4780' },
    data: { type: 'string', default: 'data' },
    web: { type: 'string' },
    'upload-limit-mb': { type: 'string', default: '2048' },
  },
});

const port = readPort(values.port);
const limitMb = Number(values['upload-limit-mb']);
if (port === null || !(limitMb > 0)) {
  console.error(port === null ? `"${values.port}" is not a port.` : 'The upload limit is a number of MB above 0.');
  process.exit(2);
}
const dataFolder = resolve(values.data);
const server = await startServer({
  port,
  dataFolder,
  webFolder: values.web ? resolve(values.web) : undefined,
  uploadLimitBytes: limitMb * 2 ** 20,
}).catch((error: unknown) => {
  console.error(whyNotStarted(error, port, dataFolder));
  process.exit(1);
});
console.log(`Jasmorphe is at ${server.address}`);
for (const signal of ['SIGINT', 'SIGTERM'] as const)
  process.on(signal, () => {
    void server.stop().then(() => process.exit(0));
  });
