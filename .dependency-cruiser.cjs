/**
 * The layers of the code: imports point down the list, never up, and never in a circle. `npm run lint:layers` holds to it.
 * Types may name what is above them, since nothing of them is left when the code runs; but no circle is let be, of types neither.
 */
const core = 'packages/core/src/';
const layers = [
  // what nothing else of core is needed for
  ['words', 'trade', 'run'],
  ['mesh'],
  ['params', 'formats', 'section', 'solid', 'field', 'measuring', 'reference'],
  ['inspect', 'repair'],
  ['planning', 'worn', 'kit'],
  ['operations'],
];
/** Imports of rooms that stand higher in a list of layers, the lowest first. @param root folder of the rooms */
const upwardIn = (root, layers) =>
  layers.slice(0, -1).map((names, i) => ({
    name: `${root.split('/')[1]}-${names.join('-')}-looks-up`,
    severity: 'error',
    from: { path: `^${root}(${names.join('|')})/` },
    to: {
      path: `^${root}(${layers
        .slice(i + 1)
        .flat()
        .join('|')})/`,
      dependencyTypesNot: ['type-only'],
    },
  }));

/** Rooms of the server: what is kept, what works on it, what is asked for from outside. */
const server = 'packages/server/src/';
const ofServer = [
  ['store'],
  // where work is done, what is read from archives, what happened at the printer
  ['compute', 'kit', 'printing'],
  // files that are made, and jobs
  ['files', 'jobs'],
  // whole projects and folders; days and beds
  ['pack', 'planning'],
  ['book', 'threads'],
  ['http'],
  ['routes'],
];

module.exports = {
  forbidden: [
    {
      name: 'no-circles',
      severity: 'error',
      from: {},
      to: { circular: true },
    },
    ...upwardIn(core, layers),
    ...upwardIn(server, ofServer),
    {
      name: 'http-at-the-door',
      comment: 'what is decided knows nothing of requests and statuses: others than a browser ask for it too',
      severity: 'error',
      from: { path: `^${server}`, pathNot: `^${server}(http|routes)/|^${server}startServer\\.ts$` },
      to: { path: 'node_modules/(express|busboy|helmet)|^packages/server/src/(http|routes)/' },
    },
    {
      name: 'the-wire-reads-nothing',
      comment: 'requests and answers are plain; what follows from them stands in `reading`',
      severity: 'error',
      from: { path: '^packages/contracts/src/[^/]+$' },
      to: { path: '^packages/contracts/src/reading/', dependencyTypesNot: ['type-only'] },
    },
    {
      name: 'stops-apart',
      comment: 'no stop of the route knows another',
      severity: 'error',
      from: { path: '^packages/web/src/stages/([^/]+)/' },
      to: { path: '^packages/web/src/stages/[^/]+/', pathNot: '^packages/web/src/stages/$1/' },
    },
    {
      name: 'pieces-of-a-page-know-no-page',
      severity: 'error',
      from: { path: '^packages/web/src/(ui|forms|bench|decision|findings|ledger|tools|jobs|worker)/' },
      to: { path: '^packages/web/src/(about|book|days|kit|project|shelf|stages|workshop)/' },
    },
    {
      name: 'core-stands-alone',
      severity: 'error',
      from: { path: '^packages/core/src' },
      to: { path: '^packages/(contracts|threads|server|cli|web)/|^demo/' },
    },
    {
      name: 'contracts-know-core-alone',
      severity: 'error',
      from: { path: '^packages/contracts/src' },
      to: { path: '^packages/(threads|server|cli|web)/|^demo/' },
    },
    {
      name: 'page-and-server-apart',
      severity: 'error',
      from: { path: '^packages/web/src' },
      to: { path: '^packages/(server|cli|threads)/' },
    },
    {
      name: 'command-line-loads-the-server-late',
      comment: 'its help starts without database and Express: what needs them asks for them when it runs',
      severity: 'error',
      from: { path: '^packages/cli/src' },
      to: { path: '^packages/server/src', dynamic: false, dependencyTypesNot: ['type-only'] },
    },
    {
      name: 'descriptions-are-light',
      comment: 'the page loads them first: nothing that runs may hang on them',
      severity: 'error',
      from: { path: `^${core}operations/(catalogue|[a-z]+/describe)\\.ts$` },
      to: {
        path: `^${core}(operations/[a-z]+/run|operations/(runs|makeOperation)|repair|solid|field|section)`,
        dependencyTypesNot: ['type-only'],
      },
    },
    {
      name: 'one-place-for-the-kernel',
      severity: 'error',
      from: { path: '^packages/', pathNot: `^${core}solid/` },
      to: { path: 'node_modules/manifold-3d', dependencyTypesNot: ['type-only'] },
    },
  ],
  options: {
    tsPreCompilationDeps: true,
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '(/dist/|/test/)' },
    // what was looked up stays known for the whole run
    enhancedResolveOptions: {
      conditionNames: ['source', 'import', 'node', 'default'],
      exportsFields: ['exports'],
      cachedInputFileSystem: { cacheDuration: 60_000 },
    },
  },
};
