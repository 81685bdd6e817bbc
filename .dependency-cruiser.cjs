/** Folders are rooms: what a file may import follows from where it stands (docs/decisions/0001-rooms.md). */
const MAY_IMPORT = {
  core: [],
  node: ['core'],
  db: ['core'],
  server: ['db', 'core', 'node'],
  worker: ['server', 'core'],
  app: ['server', 'core', 'ui'],
  web: ['server', 'core', 'node'],
  ui: ['core'],
  agent: ['core', 'node'],
  cli: ['core', 'node'],
  demo: ['server', 'agent', 'db', 'core'],
  verify: ['server'],
  'move-evidence': ['server'],
}
const rooms = Object.keys(MAY_IMPORT)
const from = (room) => ({ path: `^src/${room}/` })

module.exports = {
  forbidden: [
    ...rooms.map((room) => ({
      name: `${room}-imports-only-${MAY_IMPORT[room].join('-') || 'itself'}`,
      severity: 'error',
      from: from(room),
      to: {
        path: '^(src|stand-ins|e2e|bench)/',
        pathNot: `^src/(${[room, ...MAY_IMPORT[room]].join('|')})/`,
      },
    })),
    {
      name: 'core-is-pure',
      severity: 'error',
      from: { path: '^src/core/', pathNot: '\\.test\\.ts$' },
      to: { dependencyTypes: ['core'] },
    },
    {
      name: 'core-knows-no-framework',
      severity: 'error',
      from: { path: '^src/core/', pathNot: '\\.test\\.ts$|/testing/' },
      to: {
        path: 'node_modules/',
        pathNot:
          'node_modules/(@marcbachmann/cel-js|ajv|diff|luxon|papaparse|pixelmatch|re2js|rrule|sax|yaml)/',
      },
    },
    {
      name: 'topics-of-core-through-their-index',
      severity: 'error',
      from: { path: '^src/(?!core/)' },
      to: { path: '^src/core/[^/]+/(?!(index|files|editing|generating|starting|text-match)\\.ts$|testing/)' },
    },
    {
      name: 'no-schemas-in-the-browser',
      severity: 'error',
      from: { path: '^src/ui/', pathNot: '\\.test\\.tsx?$' },
      to: { path: '^src/core/model/files\\.ts$|node_modules/ajv', reachable: true },
    },
    {
      name: 'stand-ins-stand-alone',
      severity: 'error',
      from: { path: '^stand-ins/' },
      to: { path: '^(src|e2e|bench)/' },
    },
    {
      name: 'measurements-see-core-node-and-the-outside',
      severity: 'error',
      from: { path: '^bench/' },
      to: { path: '^(src/(?!core/|node/)|stand-ins/|e2e/)' },
    },
    {
      name: 'journeys-see-only-the-outside',
      severity: 'error',
      from: { path: '^e2e/' },
      to: { path: '^(src|stand-ins|bench)/' },
    },
    { name: 'no-circles', severity: 'error', from: {}, to: { circular: true } },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: {
      exportsFields: ['exports'],
      conditionNames: ['import', 'require', 'node', 'default', 'types'],
    },
  },
}
