// Compiles the SIMD kernels and writes them as a module that any host can load without fetching a file.
import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import asc from 'assemblyscript/asc';

const root = path.join(import.meta.dirname, '..');
const folder = path.join('core', 'wasm');
const sources = readdirSync(path.join(root, folder))
  .filter((name) => name.endsWith('.as.ts'))
  .map((name) => path.join(folder, name));
const { error, stderr } = await asc.main(
  [
    ...sources,
    '-O3',
    '--enable',
    'simd',
    '--runtime',
    'stub',
    '--importMemory',
    '--noExportMemory',
    '--use',
    'abort=',
    '--outFile',
    'kernels.wasm',
    '--baseDir',
    root,
  ],
  {
    readFile: (name, dir) => {
      try {
        return readFileSync(path.resolve(dir, name), 'utf8');
      } catch {
        return null;
      }
    },
    writeFile: (name, contents) => {
      if (!name.endsWith('.wasm')) return;
      const text = Buffer.from(contents).toString('base64');
      const module = `/** Made from the .as.ts files here by scripts/build-wasm.mjs; do not edit. */\nexport const KERNELS_WASM =\n  '${text}';\n`;
      const target = path.join(root, 'core/wasm/kernels.wasm.ts');
      let before = '';
      try {
        before = readFileSync(target, 'utf8');
      } catch {}
      if (before !== module) writeFileSync(target, module);
    },
    listFiles: () => [],
  },
);
if (error) {
  console.error(error.message, stderr.toString());
  process.exit(1);
}
