/** Where the program is: the folder of package.json, whether this runs compiled or from its sources. */
import { existsSync } from 'node:fs';
import path from 'node:path';

function rootAbove(dir: string): string {
  if (existsSync(path.join(dir, 'package.json'))) return dir;
  const parent = path.dirname(dir);
  if (parent === dir) throw new Error('The folder of the program cannot be found: package.json is missing.');
  return rootAbove(parent);
}

export const ROOT = rootAbove(import.meta.dirname);

/** What is compiled of the server, its threads and the command line; see scripts/build.mjs. */
export const PROGRAM = path.join(ROOT, 'build', 'program');
