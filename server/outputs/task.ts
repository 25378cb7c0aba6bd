/** What an output is made from. */
import { z } from 'zod';
import type { ShotDocument, Subject } from '../../core/document/schema.ts';
import { probeSchema } from '../footage/probe.ts';
import type { PeelPlace } from '../peel/carry-peel.ts';
import { Problem } from '../problem.ts';
import type { OutputSpec } from './format.ts';

/** An output, and where its files go. */
export interface OutputPlace {
  spec: OutputSpec;
  directory: string;
}

export interface OutputTask extends OutputPlace {
  document: ShotDocument;
  /** Outputs of the same frames that are written in the same pass, each into a folder of its own. */
  also?: OutputPlace[];
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

/** A task for each output of it. */
export const everyOutput = ({ also = [], ...task }: OutputTask): OutputTask[] => [task, ...also.map((place) => ({ ...task, ...place }))];
