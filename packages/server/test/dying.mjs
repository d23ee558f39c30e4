import { readFileSync } from 'node:fs';
import { startServer } from '@jasmorphe/server/bundle/startServer';

// Starts a server, as built, on the folder named and does one thing to it; the process kills itself before or after the
// change that is named. Arguments: folder, before or after, change, deed, two mesh files. Plain JavaScript, so that
// neither it nor the threads of its server wait for a compiler.
const [folder, instant, change, deed, ...files] = process.argv.slice(2);
const server = await startServer({ dataFolder: folder, port: 0 });
server.library.writer.witness = (when, what) => {
  if (when === instant && what === change) process.kill(process.pid, 'SIGKILL');
};

const asked = (method, path, body) =>
  fetch(server.address + path, {
    method,
    ...(body instanceof FormData
      ? { body }
      : { headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) }),
  });
const form = (...paths) => {
  const all = new FormData();
  for (const path of paths) all.append('file', new Blob([readFileSync(path)]), `${deed}-${paths.indexOf(path)}.stl`);
  return all;
};

const [project] = await server.library.shelf.projects();
const body = `/api/bodies/${project.models[0].id}`;
const deeds = {
  import: () => asked('POST', `/api/projects/${project.id}/models`, form(files[0])),
  step: () => asked('POST', `${body}/steps`, { operation: 'size', params: { factor: 3 } }),
  divide: () => asked('POST', `${body}/steps`, { operation: 'divide', params: { bed: [1.5, 1.5, 1.5] } }),
  remove: () => asked('DELETE', `/api/projects/${project.id}?forever=yes`, {}),
  kit: () => asked('POST', `/api/projects/${project.id}/kit`, form(...files)),
  batch: () =>
    asked('POST', `/api/projects/${project.id}/batches`, {
      operation: 'size',
      params: { factor: 3 },
      bodyIds: [project.models[0].id],
      dry: false,
    }),
  copy: () => asked('POST', `/api/projects/${project.id}/copy`, {}),
};
const answer = await deeds[deed]();
if (!answer.ok) throw new Error(`${deed}: ${await answer.text()}`);
await server.queue.idle();
await server.stop();
