import { resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { startServer } from './startServer.ts';

const { values } = parseArgs({
  options: {
    port: { type: 'string', default: '4780' },
    data: { type: 'string', default: 'data' },
    web: { type: 'string' },
    'upload-limit-mb': { type: 'string', default: '2048' },
  },
});

const server = await startServer({
  port: Number(values.port),
  dataFolder: resolve(values.data),
  webFolder: values.web ? resolve(values.web) : undefined,
  uploadLimitBytes: Number(values['upload-limit-mb']) * 2 ** 20,
});
console.log(`Jasmorphe is at ${server.address}`);
for (const signal of ['SIGINT', 'SIGTERM'] as const)
  process.on(signal, () => {
    void server.stop().then(() => process.exit(0));
  });
