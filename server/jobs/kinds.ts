/** The registry of kinds of jobs: adding one is a file beside this and a line here. */
import { carryKind } from './carry.ts';
import { ingestKind } from './ingest.ts';
import { outputKind } from './output.ts';
import { trackKind } from './track.ts';

export const JOB_KINDS = { ingest: ingestKind, output: outputKind, carry: carryKind, track: trackKind };
export type JobKindId = keyof typeof JOB_KINDS;
