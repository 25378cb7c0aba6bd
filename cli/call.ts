/** Options of the command line, and what a wrong call is. */
import { parseArgs } from 'node:util';

const OPTIONS = {
  production: { type: 'string' },
  name: { type: 'string' },
  rate: { type: 'string', default: '24' },
  shot: { type: 'string' },
  document: { type: 'string' },
  footage: { type: 'string' },
  subject: { type: 'string' },
  strokes: { type: 'string' },
  frames: { type: 'string' },
  out: { type: 'string' },
  bits: { type: 'string', default: '16' },
  kind: { type: 'string' },
  alpha: { type: 'string', default: 'premultiplied' },
  'no-sound': { type: 'boolean', default: false },
  data: { type: 'string' },
} as const;

export type CliOptions = ReturnType<typeof readOptions>['values'];

export const readOptions = (args: string[]) => parseArgs({ args, options: OPTIONS, allowPositionals: true });

/** A call that cannot be carried out as it is written. */
export class WrongCall extends Error {}
