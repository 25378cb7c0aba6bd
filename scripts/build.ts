/** Builds the application where its sources are newer than what was built. */
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { ROOT } from '../server/config.ts';

const STAMP = path.join(ROOT, 'build', 'sources.sha256');

function filesBelow(dir: string): string[] {
  return readdirSync(dir, { withFileTypes: true, recursive: true })
    .filter((e) => e.isFile() && !e.name.endsWith('.test.ts'))
    .map((e) => path.join(e.parentPath, e.name));
}

/** A hash of all that the build is made from. */
function sourcesHash(): string {
  const hash = createHash('sha256');
  const files = ['app', 'core', 'server', 'public', 'titles'].flatMap((d) => (existsSync(path.join(ROOT, d)) ? filesBelow(path.join(ROOT, d)) : []));
  files.push(...['package-lock.json', 'vite.config.ts', 'react-router.config.ts', 'tsconfig.json'].map((f) => path.join(ROOT, f)));
  for (const file of files.sort()) hash.update(path.relative(ROOT, file)).update('\0').update(readFileSync(file));
  return hash.digest('hex');
}

export function ensureBuilt(): void {
  const wanted = sourcesHash();
  if (existsSync(STAMP) && readFileSync(STAMP, 'utf8') === wanted) return;
  console.log('Building the application …');
  const result = spawnSync('npm', ['run', '--silent', 'build'], { cwd: ROOT, encoding: 'utf8', maxBuffer: 64 * 1024 * 1024 });
  if (result.status !== 0) throw new Error(`The build failed:\n${result.stdout}${result.stderr}`);
  // The build of the kernels may have written a source file.
  writeFileSync(STAMP, sourcesHash());
}
