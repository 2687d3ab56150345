/**
 * The arrows of the tree: app → core, simulator → core, server → core, tools → core + simulator; core → nothing of ours.
 * Inside core, simulator and app the rooms stand on floors, lowest first: no import runs up, so no two rooms import each other.
 */
const only = (name, from, to) => ({
  name,
  severity: 'error',
  from: {path: from},
  to: {path: '^(core|simulator|app|server|tools|e2e|demo)/', pathNot: to},
});

/** One rule per room: none of the rooms above it may be imported. Tests may look anywhere. */
const floors = (house, rooms) =>
  rooms.slice(0, -1).map((room, i) => ({
    name: `${house}-floors-${room}`,
    severity: 'error',
    from: {path: `^${house}/${room}/(?!.*\\.(test|spec)\\.ts$)`},
    to: {path: `^${house}/(${rooms.slice(i + 1).join('|')})/`},
  }));

/** A room that nobody put on a floor. */
const noOtherRoom = (house, rooms) => ({
  name: `${house}-every-room-has-a-floor`,
  severity: 'error',
  from: {},
  to: {path: `^${house}/(?!(${[...rooms, 'testing', 'fixtures'].join('|')})/)[^/]+/`},
});

const core = [
  'words',
  'numbers',
  'sounds',
  'dshot',
  'capture',
  'spectra',
  'filters',
  'settings',
  'firmware',
  'link',
  'conformance',
  'replies',
  'proof',
  'controller',
  'craft',
  'motor',
  'flight',
  'noise',
  'tuning',
  'bench',
  'motion',
  'spin',
  'arming',
  'compare',
  'order',
  'run',
  'snapshot',
  'route',
  'backup',
  'dropped-files',
  'sheets',
];
const simulator = ['hardware', 'firmware', 'benches', 'flights'];
const app = [
  'bench',
  'store',
  'workers',
  'jobs',
  'state',
  'charts',
  'shared',
  'stations',
  'docket',
  'logbook',
  'shelf',
  'fleet',
  'shell',
];

module.exports = {
  forbidden: [
    only('core-stands-alone', '^core/(?!.*\\.test\\.ts$)', '^core/'),
    only('simulator-uses-core', '^simulator/(?!.*\\.test\\.ts$|testing/)', '^(core|simulator)/'),
    // The workers that host the stand-in bench and fly its craft are the only doors from the application to it.
    only(
      'app-uses-core',
      '^app/(?!workers/(bench|flight)\\.worker\\.ts$|.*\\.spec\\.ts$|testing/)',
      '^(app|core|demo)/',
    ),
    only(
      'bench-worker',
      '^app/workers/(bench|flight)\\.worker\\.ts$',
      '^(app/workers|core|simulator)/|^app/zod-without-eval',
    ),
    {
      name: 'flights-know-no-analysis',
      severity: 'error',
      from: {path: '^simulator/flights/(?!.*\\.test\\.ts$)'},
      to: {path: '^core/(spectra|filters|flight|noise|tuning)/'},
    },
    only('server-uses-core', '^server/(?!.*\\.test\\.ts$)', '^(core|server)/'),
    only('tools-use-core-and-simulator', '^tools/(?!.*\\.test\\.ts$)', '^(core|simulator|tools|demo)/'),
    only('demo-is-data', '^demo/', '^(core|demo)/'),
    {
      name: 'components-draw-sheets',
      comment: 'What a screen says stands in a sheet: components take types, sheets and words from core.',
      severity: 'error',
      from: {path: '^app/(?!.*\\.spec\\.ts$).*\\.component\\.ts$'},
      to: {path: '^core/(?!(sheets|words)/)', dependencyTypesNot: ['type-only']},
    },
    ...floors('core', core),
    ...floors('simulator', simulator),
    ...floors('app', app),
    noOtherRoom('core', core),
    noOtherRoom('simulator', simulator),
    noOtherRoom('app', app),
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
