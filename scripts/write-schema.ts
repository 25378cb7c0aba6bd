/** Writes docs/document.schema.json; the test run checks that it is up to date. */
import { writeFileSync } from 'node:fs';
import path from 'node:path';
import { documentJsonSchema } from '../core/document/json-schema.ts';
import { ROOT } from '../server/config.ts';

writeFileSync(path.join(ROOT, 'docs', 'document.schema.json'), `${JSON.stringify(documentJsonSchema(), null, 2)}\n`);
