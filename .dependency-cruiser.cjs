/** Arrows point one way: app → core; server → core, desk-link; stand-in → core/desk, desk-link; core → nothing of ours. */
const only = (from, allowed, comment) => ({
  name: `${from}-leans-only-on-${allowed.join('-') || 'itself'}`,
  comment,
  severity: 'error',
  from: { path: `^${from}/(src|app)/` },
  to: {
    path: '^(core|desk-link|stand-in|server|app|demo|e2e|bench|scripts)/',
    pathNot: `^(${[from, ...allowed].join('|')})/`,
  },
});

/** What the product is made of, by the same names in core, server and app. */
const WINGS = '(desk|scenes|recall|compare|sound|combine|library|files|people)';

/** Whatever of a workspace leads from some rooms to others than the allowed ones runs back up. */
const upwards = (workspace, rooms, allowed) => ({
  name: `${workspace}-${rooms.replaceAll(/[()]/g, '').replaceAll('|', '-')}-leans-down`,
  severity: 'error',
  from: { path: `^${workspace}/src/${rooms}/` },
  to: { path: `^${workspace}/src/`, pathNot: `^${workspace}/src/${allowed}/` },
});

module.exports = {
  forbidden: [
    only('core', [], 'The computation knows nothing of wires, tables or screens.'),
    only('desk-link', ['core'], 'A link knows desks, and nothing of who uses it.'),
    only(
      'stand-in',
      ['core/src/desk', 'core/src/fault', 'desk-link'],
      'The simulated desk knows only what a desk knows.',
    ),
    only('server', ['core', 'desk-link'], 'The server reaches a desk only through a link.'),
    only('app', ['core'], 'The app reaches everything else over the network.'),
    only('demo', ['core'], 'The demo is data; no code leans on it, and it leans only on the core.'),
    { name: 'no-circles', comment: 'Types count as well.', severity: 'error', from: {}, to: { circular: true } },
    {
      name: 'no-circles-of-folders',
      severity: 'error',
      scope: 'folder',
      from: { path: '^(core|server|app|desk-link|stand-in|demo)/src' },
      to: { circular: true },
    },
    upwards('core', '(fault)', '(fault)'),
    upwards('core', '(desk)', '(fault|desk)'),
    upwards('core', '(signal)', '(fault|desk|signal)'),
    upwards('core', WINGS, `(fault|desk|signal|${WINGS})`),
    upwards('server', '(database|http|jobs|live|secrets)', '(database|http|jobs|live|secrets)'),
    upwards('server', '(desk)', '(database|http|jobs|live|secrets|desk)'),
    upwards('app', '(ui)', '(ui)'),
    upwards('app', '(store)', '(ui|store)'),
    upwards('app', '(components)', '(ui|store|components)'),
    ...WINGS.slice(1, -1)
      .split('|')
      .map((wing) => upwards('app', `(${wing})`, `(ui|store|components|${wing})`)),
    {
      name: 'core-is-pure',
      comment: 'No clock, no files, no network, no interface in the core.',
      severity: 'error',
      from: { path: '^core/src/' },
      to: {
        path: '^(node:)?(fs|net|http|dgram|child_process|worker_threads|crypto|os|path)$|node_modules/(react|express|knex|ws|osc)/',
      },
    },
    {
      name: 'screens-do-not-lean-on-routes',
      severity: 'error',
      from: { path: '^app/src/' },
      to: { path: '^app/app/' },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '\\.(test|spec)\\.ts|/test/|conformance\\.ts' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    combinedDependencies: true,
    enhancedResolveOptions: {
      exportsFields: ['exports'],
      conditionNames: ['import', 'require', 'node', 'default', 'types'],
      extensions: ['.ts', '.tsx', '.js', '.mjs', '.cjs', '.json', '.d.ts'],
    },
  },
};
