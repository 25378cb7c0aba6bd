import { documentJsonSchema } from '~/core/document/json-schema.ts';

/** The JSON Schema of exported documents. */
export const loader = () => Response.json(documentJsonSchema());
