import { startServer } from '@jasmorphe/server/startServer';
import { ownCube } from './client.ts';
import { KitClient } from './kitClient.ts';

/**
 * Starts a server on the folder named and does one thing to it; the process kills itself before or after the change
 * that is named. Arguments: folder, before or after, change, deed.
 */
const [folder, instant, change, deed] = process.argv.slice(2);
const server = await startServer({ dataFolder: folder, port: 0 });
const client = new KitClient(() => server);
server.library.writer.witness = (when, what) => {
  if (when === instant && what === change) process.kill(process.pid, 'SIGKILL');
};
const [project] = await server.library.shelf.projects();
if (deed === 'import') await client.upload(project.id, ownCube(7), 'seven.stl');
else if (deed === 'step')
  await client.call('POST', `/api/bodies/${project.models[0].id}/steps`, { operation: 'size', params: { factor: 3 } });
else if (deed === 'divide')
  await client.call('POST', `/api/bodies/${project.models[0].id}/steps`, {
    operation: 'divide',
    params: { bed: [1.5, 1.5, 1.5] },
  });
else if (deed === 'remove') await client.call('DELETE', `/api/projects/${project.id}?forever=yes`);
else if (deed === 'kit') await client.drop(project.id, { 'a.stl': ownCube(21), 'b.stl': ownCube(22) });
else if (deed === 'batch') await client.batch(project.id, 'size', { factor: 3 }, [project.models[0].id]);
else if (deed === 'copy') await client.call('POST', `/api/projects/${project.id}/copy`, {});
await server.queue.idle();
await server.stop();
