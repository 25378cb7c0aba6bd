/** A whole document that a page sent. */
import { EditError, parseDocument } from '../core/document/edits.ts';
import type { ShotDocument } from '../core/document/schema.ts';
import { Problem } from './problem.ts';

/** Reads it; throws a Problem with code "not-a-document" that names the first fault. */
export function sentDocument(value: unknown): ShotDocument {
  try {
    return parseDocument(value);
  } catch (error) {
    throw error instanceof EditError ? new Problem('not-a-document', error.message, 422) : error;
  }
}
