/**
 * The layers of the code: imports point down the list, never up, and never in a circle. `npm run lint:layers` holds to it.
 * Types may name what is above them, since nothing of them is left when the code runs.
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
const upward = layers.slice(0, -1).map((names, i) => ({
  name: `${names.join('-')}-looks-up`,
  severity: 'error',
  from: { path: `^${core}(${names.join('|')})/` },
  to: {
    path: `^${core}(${layers
      .slice(i + 1)
      .flat()
      .join('|')})/`,
    dependencyTypesNot: ['type-only'],
  },
}));

module.exports = {
  forbidden: [
    {
      name: 'no-circles',
      severity: 'error',
      from: {},
      to: { circular: true, viaOnly: { dependencyTypesNot: ['type-only'] } },
    },
    ...upward,
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
