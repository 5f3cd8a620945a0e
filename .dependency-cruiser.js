/** The floors of docs/architecture.md: imports run downward only. */
const floors = [
  'base',
  'math',
  'curve',
  'rig',
  'drawing',
  'motion',
  'layers',
  'document',
  'evaluation',
  'mirror',
  'mapping',
  'bodies',
  'advice',
  'comparison',
  'sheets',
  'edits',
  'session',
];
const above = (floor) =>
  floors
    .slice(floors.indexOf(floor) + 1)
    .concat('interchange', 'demo')
    .join('|');

export default {
  forbidden: [
    { name: 'no-cycles', severity: 'error', from: {}, to: { circular: true } },
    ...floors.map((floor) => ({
      name: `core-floor-${floor}`,
      severity: 'error',
      from: { path: `^core/src/${floor}/`, pathNot: '\\.test\\.ts$' },
      to: { path: `^core/src/(${above(floor)})/` },
    })),
    {
      name: 'interchange-knows-no-edits',
      severity: 'error',
      from: { path: '^core/src/interchange/', pathNot: '\\.test\\.ts$' },
      to: { path: '^core/src/(edits|session|demo)/' },
    },
    {
      name: 'core-knows-nobody',
      severity: 'error',
      from: { path: '^core/src/', pathNot: '\\.test\\.ts$' },
      to: { path: '^(app|server|cli|e2e|benchmarks)/|node_modules/(react|antd|three|@react-three|fastify)' },
    },
    {
      name: 'core-is-pure',
      severity: 'error',
      from: { path: '^core/src/', pathNot: '\\.test\\.ts$|/testing/' },
      to: { dependencyTypes: ['core'] },
    },
    {
      name: 'only-the-app-knows-react',
      severity: 'error',
      from: { path: '^(server|cli)/' },
      to: { path: 'node_modules/(react|antd|@react-three)' },
    },
    {
      name: 'only-the-stage-knows-webgl',
      severity: 'error',
      from: { path: '^app/src/', pathNot: '^app/src/bench/stage/|\\.test\\.tsx?$' },
      to: { path: 'node_modules/(three|@react-three)' },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.base.json' },
    enhancedResolveOptions: { exportsFields: ['exports'], conditionNames: ['import', 'types'] },
  },
};
