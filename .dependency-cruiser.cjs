/** The arrows of the tree: app → core, simulator → core, server → core, tools → core + simulator; core → nothing. */
const only = (name, from, to) => ({
  name,
  severity: 'error',
  from: {path: from},
  to: {path: '^(core|simulator|app|server|tools|e2e)/', pathNot: to},
});
module.exports = {
  forbidden: [
    only('core-stands-alone', '^core/(?!.*\\.test\\.ts$)', '^core/'),
    only('simulator-uses-core', '^simulator/(?!.*\\.test\\.ts$)', '^(core|simulator)/'),
    // The worker that hosts the stand-in bench is the one door from the application to it.
    only('app-uses-core', '^app/(?!workers/bench\\.worker\\.ts$|.*\\.spec\\.ts$|testing/)', '^(app|core)/'),
    only('bench-worker', '^app/workers/bench\\.worker\\.ts$', '^(app/workers|core|simulator)/|^app/zod-without-eval'),
    only('server-uses-core', '^server/(?!.*\\.test\\.ts$)', '^(core|server)/'),
    only('tools-use-core-and-simulator', '^tools/(?!.*\\.test\\.ts$)', '^(core|simulator|tools)/'),
    {
      name: 'core-without-platform',
      severity: 'error',
      from: {path: '^core/(?!.*\\.test\\.ts$)'},
      to: {dependencyTypes: ['core']},
    },
    {
      name: 'core-without-interface',
      severity: 'error',
      from: {path: '^(core|simulator)/'},
      to: {path: 'node_modules/(@angular|primeng|@ngrx|dexie|echarts|express)'},
    },
    {name: 'no-circles', severity: 'error', from: {}, to: {circular: true}},
  ],
  options: {
    tsConfig: {fileName: 'tsconfig.node.json'},
    doNotFollow: {path: 'node_modules'},
    tsPreCompilationDeps: true,
    exclude: {path: '(^|/)dist/'},
  },
};
