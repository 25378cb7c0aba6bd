/** Import rules: arrows go one way (see docs/developers.md). Tests may look at anything. */

/** What a folder of `root` may import of that root: itself and what is listed, and the files of its ground. */
const layers = (root, table, ground = []) =>
  Object.entries(table).map(([folder, allowed]) => ({
    name: `${root}/${folder}`,
    severity: 'error',
    from: { path: `^${root}/${folder}/`, pathNot: '\\.test\\.tsx?$' },
    to: {
      path: `^${root}/`,
      pathNot: [...[folder, ...allowed].map((name) => `^${root}/${name}/`), ...ground.map((file) => `^${root}/${file}\\.tsx?$`)],
      dependencyTypesNot: ['type-only'],
    },
  }));
/** The same; a type counts as well. */
const strictLayers = (root, table, ground) => layers(root, table, ground).map(({ to: { dependencyTypesNot: _, ...to }, ...rule }) => ({ ...rule, to }));

const CORE = {
  math: [],
  time: ['math'],
  wasm: [],
  image: ['math', 'time', 'wasm'],
  path: ['math', 'time', 'image'],
  peel: ['math', 'time', 'image', 'wasm'],
  track: ['math', 'time', 'image', 'path', 'wasm'],
  document: ['math', 'time', 'path', 'peel', 'track'],
  matte: ['math', 'time', 'image', 'path', 'document', 'track', 'peel', 'wasm'],
  trace: ['math', 'time', 'image', 'path', 'matte'],
  effects: ['math', 'wasm', 'time', 'image', 'path', 'document', 'matte'],
  elements: ['math', 'wasm', 'time', 'image', 'path', 'document', 'peel', 'matte', 'trace', 'effects'],
  compose: ['math', 'wasm', 'time', 'image', 'path', 'document', 'peel', 'matte', 'effects', 'elements'],
  guides: ['time', 'document'],
  starts: ['math', 'wasm', 'time', 'image', 'path', 'document', 'peel', 'matte', 'effects', 'elements', 'compose'],
};

const PEEL = {
  picture: [],
  strokes: ['picture'],
  motion: ['picture'],
  colour: ['picture', 'strokes', 'motion'],
  cut: ['picture', 'strokes', 'motion', 'colour'],
  propagate: ['picture', 'strokes', 'motion', 'colour', 'cut'],
  uncertainty: ['picture', 'motion', 'cut', 'propagate'],
  matting: ['picture'],
  results: ['strokes', 'uncertainty'],
  shot: ['picture', 'strokes', 'motion', 'colour', 'cut', 'propagate', 'uncertainty', 'matting', 'results'],
};

/** Of the files beside the folders of the server, those on which the folders stand. Types of the others may be named. */
const SERVER_GROUND = ['config', 'documents', 'in-turn', 'log', 'problem', 'process', 'root', 'state', 'write-behind', 'changes', 'shots'];
const SERVER = {
  db: [],
  footage: ['db'],
  peel: ['db', 'footage', 'jobs'],
  track: ['db', 'footage', 'peel'],
  outputs: ['db', 'footage', 'peel'],
  jobs: ['db', 'footage', 'peel', 'track', 'outputs'],
};

/** What a page is made of stands on what it knows; panels do not know each other but for what they share. */
const APP = {
  edits: [],
  tools: ['edits'],
  frame: ['edits'],
  state: ['edits', 'tools', 'frame'],
  interchange: ['edits', 'state'],
  workers: ['edits', 'state'],
  ui: ['edits', 'state'],
  keys: ['edits', 'state'],
  viewer: ['edits', 'tools', 'frame', 'state', 'ui', 'keys'],
  charts: ['state', 'ui'],
  settings: ['edits', 'tools', 'state', 'ui', 'keys', 'viewer'],
  sheet: ['edits', 'tools', 'state', 'ui', 'keys', 'viewer'],
  ribbon: ['state', 'ui', 'keys'],
  curves: ['edits', 'tools', 'state', 'ui', 'keys', 'viewer'],
  cast: ['edits', 'state', 'ui', 'interchange', 'viewer', 'settings'],
  lanes: ['tools', 'state', 'ui', 'keys', 'viewer', 'cast', 'settings'],
  outputs: ['state', 'ui', 'settings'],
  bench: ['edits', 'tools', 'state', 'ui', 'keys'],
};

module.exports = {
  forbidden: [
    { name: 'no-cycles', severity: 'error', from: {}, to: { circular: true, viaOnly: { dependencyTypesNot: ['type-only'] } } },
    {
      name: 'core-stands-alone',
      severity: 'error',
      from: { path: '^core/', pathNot: '\\.test\\.ts$' },
      to: { pathNot: ['^core/', '^node_modules/(zod|@noble/hashes|lru-cache)/'] },
    },
    ...strictLayers('core', CORE),
    ...strictLayers('core/peel', PEEL, ['settings']),
    ...layers('server', SERVER, SERVER_GROUND),
    ...layers('app', APP),
    { name: 'server-not-app', severity: 'error', from: { path: '^(server|cli)/' }, to: { path: '^app/' } },
    {
      // Pages and routes are built apart: a second copy of the server in them would have a state of its own.
      name: 'app-knows-the-server-by-type',
      severity: 'error',
      from: { path: '^app/' },
      to: { path: '^(server|cli)/', dependencyTypesNot: ['type-only'] },
    },
    { name: 'server-not-cli', severity: 'error', from: { path: '^server/', pathNot: '\\.test\\.ts$' }, to: { path: '^(cli|scripts)/' } },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    exclude: { path: '\\.react-router|^build/' },
  },
};
