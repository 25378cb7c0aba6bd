// Builds what is not as new as its sources: the program (server, threads of work, command line) and the pages.
// Plain JavaScript, since it is what makes everything else run: node scripts/build.mjs [program]
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import path from 'node:path';

const ROOT = path.join(import.meta.dirname, '..');
const BUILD = path.join(ROOT, 'build');

/** Where the sources of each part are not: all else is taken for what it is made of, so that nothing is forgotten. */
const NO_SOURCES = /^(node_modules|build|docs|test-results|playwright-report)$|^\./;
const NO_SOURCES_OF_PAGES = /^(bench|cli|demo|e2e|scripts|server|tests)$/;
const SOURCE = /\.(ts|tsx|mjs|json|css|svg|html)$/;
const DAYS = 86_400_000;

/** Below public everything is taken as it is. */
const isSource = (file) => SOURCE.test(file) || path.relative(ROOT, file).startsWith(`public${path.sep}`);

function filesBelow(dir) {
  return readdirSync(dir, { withFileTypes: true, recursive: true })
    .filter((e) => e.isFile())
    .map((e) => path.join(e.parentPath, e.name))
    .filter((file) => isSource(file) && !file.endsWith('.test.ts'));
}

/** Every source of a part, with its path from the root. */
function sourcesOf(part) {
  const top = readdirSync(ROOT, { withFileTypes: true }).filter((e) => !NO_SOURCES.test(e.name) && !(part === 'pages' && NO_SOURCES_OF_PAGES.test(e.name)));
  const files = top.flatMap((e) =>
    e.isDirectory() ? filesBelow(path.join(ROOT, e.name)) : isSource(path.join(ROOT, e.name)) ? [path.join(ROOT, e.name)] : [],
  );
  return files.map((f) => path.relative(ROOT, f)).sort();
}

function hashOf(files) {
  const hash = createHash('sha256');
  for (const file of files)
    hash
      .update(file)
      .update('\0')
      .update(readFileSync(path.join(ROOT, file)));
  return hash.digest('hex');
}

const stampOf = (part) => path.join(BUILD, `${part}.sha256`);
const isFresh = (part, wanted) => existsSync(stampOf(part)) && readFileSync(stampOf(part), 'utf8') === wanted;

function checkKnown(made, known) {
  const forgotten = made.filter((file) => !file.startsWith('node_modules/') && !known.includes(file));
  if (forgotten.length > 0) throw new Error(`The build is made of files that it does not look at for changes: ${forgotten.join(', ')}`);
}

/** Server, threads and command line as one graph of modules; packages stay where they are installed. */
async function buildProgram(known) {
  const { build } = await import('esbuild');
  const outdir = path.join(BUILD, 'program');
  const { metafile } = await build({
    absWorkingDir: ROOT,
    entryPoints: {
      mottrel: 'cli/mottrel.ts',
      'job-worker': 'server/jobs/worker.ts',
      'peel-worker': 'cli/peel-frames.ts',
      'range-worker': 'server/outputs/range-worker.ts',
      bench: 'bench/run.ts',
    },
    outdir,
    bundle: true,
    splitting: true,
    format: 'esm',
    platform: 'node',
    target: 'node20',
    packages: 'external',
    sourcemap: 'linked',
    metafile: true,
    logLevel: 'warning',
  });
  checkKnown(Object.keys(metafile.inputs), known);
  // What a server that runs may still load stays for a while.
  for (const name of readdirSync(outdir)) {
    const file = path.join(outdir, name);
    if (Date.now() - statSync(file).mtimeMs > 7 * DAYS) rmSync(file);
  }
}

function run(...command) {
  const [program, ...args] = command;
  // Whatever the shell says: with another mode the pages would be made of libraries that check themselves, at half their speed.
  const env = { ...process.env, NODE_ENV: 'production' };
  const result = spawnSync(program, args, { cwd: ROOT, env, encoding: 'utf8', maxBuffer: 64 * 1024 * 1024 });
  if (result.status !== 0) throw new Error(`The build failed:\n${result.stdout}${result.stderr}`);
}

function buildPages(known) {
  run('npx', 'react-router', 'build');
  checkKnown(JSON.parse(readFileSync(path.join(BUILD, 'pages-made-of.json'), 'utf8')), known);
}

/** Builds the program, and the pages too where `pages` says so. Throws with what the tools say where it fails. */
export async function ensureBuilt({ pages }) {
  const stale = (pages ? ['program', 'pages'] : ['program']).filter((part) => !isFresh(part, hashOf(sourcesOf(part))));
  if (stale.length === 0) return;
  process.stderr.write('Building …\n');
  run(process.execPath, 'scripts/build-wasm.mjs');
  for (const part of stale) {
    // Read before it is built: what changes meanwhile is built the next time.
    const known = sourcesOf(part);
    const hash = hashOf(known);
    await (part === 'program' ? buildProgram(known) : buildPages(known));
    writeFileSync(stampOf(part), hash);
  }
}

if (process.argv[1] === import.meta.filename)
  await ensureBuilt({ pages: process.argv[2] !== 'program' }).catch((error) => {
    console.error(error.message);
    process.exit(1);
  });
