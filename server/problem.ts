import { z } from 'zod';

/** A fault told to a person: a code for programs, what happened and what to do next. */
export class Problem extends Error {
  readonly code: string;
  readonly status: number;
  constructor(code: string, message: string, status = 400) {
    super(message);
    this.name = 'Problem';
    this.code = code;
    this.status = status;
  }
}

/** A Problem as a value: errors lose their class on the way between threads. */
export const problemSchema = z.strictObject({ code: z.string(), message: z.string(), status: z.number().int() });

/** @throws whatever is no Problem */
export function asValue(error: unknown): z.infer<typeof problemSchema> {
  if (!(error instanceof Problem)) throw error;
  const { code, message, status } = error;
  return { code, message, status };
}

/** Work that was asked to stop; with what it had found by then, where a part of it can be kept. */
export class Stopped extends Problem {
  readonly found: unknown;
  constructor(found?: unknown) {
    super('stopped', 'Stopped.', 409);
    this.found = found;
  }
}

export const notFound = (what: string): Problem =>
  new Problem('not-found', `This ${what} is not here any more. It may have been deleted on another page.`, 404);
