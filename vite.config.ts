import { writeFileSync } from 'node:fs';
import path from 'node:path';
import { reactRouter } from '@react-router/dev/vite';
import tailwindcss from '@tailwindcss/vite';
import { defineConfig, type Plugin } from 'vite';

const madeOf = new Set<string>();

/** Writes down which files the pages are made of, see scripts/build.mjs. */
const writeMadeOf = (): Plugin => ({
  name: 'write-made-of',
  apply: 'build',
  moduleParsed({ id }) {
    const file = path.relative(import.meta.dirname, id.split('?')[0]);
    if (!id.startsWith('\0') && path.isAbsolute(id) && !file.startsWith('..')) madeOf.add(file);
  },
  writeBundle() {
    writeFileSync(path.join(import.meta.dirname, 'build', 'pages-made-of.json'), JSON.stringify([...madeOf].sort()));
  },
});

export default defineConfig({
  plugins: [tailwindcss(), reactRouter(), writeMadeOf()],
  resolve: { tsconfigPaths: true },
  // Packages of many small files, which take a second to read one by one at every start.
  ssr: { noExternal: ['recharts', 'lucide-react', 'radix-ui'] },
  worker: { format: 'es', plugins: () => [writeMadeOf()] },
});
