/** What an output is made from. */
import type { ShotDocument } from '../../core/document/schema.ts';
import type { Probe } from '../footage/probe.ts';
import type { PeelPlace } from '../peel/carry-peel.ts';
import type { OutputSpec } from './spec.ts';

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
}

/** Footage as it was brought in. */
export interface Original {
  probe: Probe;
  originals: string;
}
