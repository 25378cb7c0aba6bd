/** What an output is made from. */
import { z } from 'zod';
import type { ShotDocument, Subject } from '../../core/document/schema.ts';
import { probeSchema } from '../footage/probe.ts';
import type { PeelPlace } from '../peel/carry-peel.ts';
import { Problem } from '../problem.ts';
import type { OutputSpec } from './format.ts';

export interface OutputTask {
  document: ShotDocument;
  spec: OutputSpec;
  /** Where the files go. */
  directory: string;
  /** The original footage; mattes alone do not need it. */
  footage?: Original;
  /** The originals of imported mattes and of what elements show, by the id of their footage. */
  others?: Record<string, Original>;
  /** For Peels: the frames of the plate, and what was found on them. */
  peel?: PeelPlace;
  /** Other shots that it shows something of, by id. */
  shots?: Record<string, ShotMaterial>;
  /** Threads that may write it, at most; as many as the machine has where it does not say. */
  threads?: number;
}

/** Footage as it was brought in. */
export const originalSchema = z.strictObject({ probe: probeSchema, originals: z.string() });
export type Original = z.infer<typeof originalSchema>;

/** What the pictures of a shot are made from. */
export type ShotMaterial = Required<Pick<OutputTask, 'document' | 'footage' | 'others' | 'peel'>>;

/** The subject that the output is of. */
export function subjectOf({ document, spec }: Pick<OutputTask, 'document' | 'spec'>): Subject {
  const subject = document.cast.find((s) => s.id === spec.subject);
  if (!subject) throw new Problem('no-subject', 'The subject of this output is no longer in the shot.', 409);
  return subject;
}
