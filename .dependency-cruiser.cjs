/** Import rules: arrows go one way (see docs/developers.md). */
const inside = (...folders) => `^core/(${folders.join('|')})/`;
const layer = (name, from, allowed) => ({
  name: `core-${name}`,
  severity: 'error',
  from: { path: `^core/${from}/`, pathNot: '\\.test\\.ts$' },
  to: { path: '^core/', pathNot: [`^core/${from}/`, ...(allowed.length ? [inside(...allowed)] : [])] },
});

module.exports = {
  forbidden: [
    { name: 'no-cycles', severity: 'error', from: {}, to: { circular: true, viaOnly: { dependencyTypesNot: ['type-only'] } } },
    {
      name: 'core-stands-alone',
      severity: 'error',
      from: { path: '^core/', pathNot: '\\.test\\.ts$' },
      to: { pathNot: ['^core/', '^node_modules/(zod|@noble/hashes|lru-cache)/'] },
    },
    layer('time', 'time', ['math']),
    layer('wasm', 'wasm', []),
    layer('image', 'image', ['math', 'time', 'wasm']),
    layer('path', 'path', ['math', 'time', 'image']),
    layer('document', 'document', ['math', 'time', 'path', 'peel', 'track']),
    layer('peel', 'peel', ['math', 'time', 'image', 'wasm']),
    layer('track', 'track', ['math', 'time', 'image', 'path', 'wasm']),
    layer('matte', 'matte', ['math', 'time', 'image', 'path', 'document', 'track', 'peel', 'wasm']),
    layer('trace', 'trace', ['math', 'time', 'image', 'path', 'matte']),
    layer('effects', 'effects', ['math', 'time', 'image', 'path', 'document', 'matte']),
    layer('elements', 'elements', ['math', 'time', 'image', 'path', 'document', 'matte', 'trace', 'effects']),
    layer('compose', 'compose', ['math', 'time', 'image', 'path', 'document', 'matte', 'effects', 'elements']),
    layer('guides', 'guides', ['time', 'document']),
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
