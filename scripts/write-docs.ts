/** Writes what of the docs is made from the program: schemas, the page on effects and elements, and their pictures. The test run checks that they are up to date. */
import { writeFileSync } from 'node:fs';
import path from 'node:path';
import { curvesJsonSchema } from '../core/document/curves-file.ts';
import { documentJsonSchema } from '../core/document/json-schema.ts';
import { ROOT } from '../server/root.ts';
import { writeKindPictures } from './kind-pictures.ts';
import { kindsPage } from './kinds-page.ts';
import { outputsPage } from './outputs-page.ts';

const docs = (file: string): string => path.join(ROOT, 'docs', file);
writeFileSync(docs('document.schema.json'), `${JSON.stringify(documentJsonSchema(), null, 2)}\n`);
writeFileSync(docs('curves.schema.json'), `${JSON.stringify(curvesJsonSchema(), null, 2)}\n`);
writeFileSync(docs('kinds.md'), kindsPage());
writeFileSync(docs('outputs.md'), outputsPage());
await writeKindPictures();
