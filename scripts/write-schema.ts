/** Writes the schemas in docs/; the test run checks that they are up to date. */
import { writeFileSync } from 'node:fs';
import path from 'node:path';
import { curvesJsonSchema } from '../core/document/curves-file.ts';
import { documentJsonSchema } from '../core/document/json-schema.ts';
import { ROOT } from '../server/root.ts';

writeFileSync(path.join(ROOT, 'docs', 'document.schema.json'), `${JSON.stringify(documentJsonSchema(), null, 2)}\n`);
writeFileSync(path.join(ROOT, 'docs', 'curves.schema.json'), `${JSON.stringify(curvesJsonSchema(), null, 2)}\n`);
