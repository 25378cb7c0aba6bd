/** Documents and edits from outside of the program: what cannot be read is told in words, and stays as it is. */
import { z } from 'zod';
import { type Edit, EditError, editSchema, parseDocument } from '../core/document/edits.ts';
import type { ShotDocument } from '../core/document/schema.ts';
import { Problem } from './problem.ts';

function read(value: unknown, code: string, status: number): ShotDocument {
  try {
    return parseDocument(value);
  } catch (error) {
    throw error instanceof EditError ? new Problem(code, error.message, status) : error;
  }
}

/** A whole document that was sent; throws a Problem with code "not-a-document" that names the first fault. */
export const sentDocument = (value: unknown): ShotDocument => read(value, 'not-a-document', 422);

/** A document that was stored, by this version or another. Throws a Problem with code "unreadable" where this one cannot read it. */
export const storedDocument = (text: string): ShotDocument => read(JSON.parse(text), 'unreadable', 409);

/** The same; null where this version cannot read it. */
export function readableDocument(text: string): ShotDocument | null {
  try {
    return storedDocument(text);
  } catch (error) {
    if (error instanceof Problem) return null;
    throw error;
  }
}

/** The document of work that was asked for, maybe by a version before this one. */
export const documentSchema = z.unknown().transform((value, context): ShotDocument => {
  try {
    return parseDocument(value);
  } catch (error) {
    if (!(error instanceof EditError)) throw error;
    context.addIssue({ code: 'custom', message: error.message });
    return z.NEVER;
  }
});

const editsSchema = z.array(editSchema);

/** Edits of a step that was logged, by this version or another. */
export function storedEdits(text: string): Edit[] {
  const read = editsSchema.safeParse(JSON.parse(text));
  if (!read.success) throw new Problem('unreadable', 'A step of this shot was made by another version of Mottrel and cannot be read by this one.', 409);
  return read.data;
}
