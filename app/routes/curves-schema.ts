import { curvesJsonSchema } from '~/core/document/curves-file.ts';

/** The JSON Schema of exported curves. */
export const loader = () => Response.json(curvesJsonSchema());
