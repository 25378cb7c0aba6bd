/** Carrying a Peel as a job. Its strokes, and what fences it in, are kept as they were when it was asked for. */
import { z } from 'zod';
import { findRecord } from '../../core/document/edits.ts';
import { fenceOf, taskOf } from '../../core/document/fence.ts';
import { newSubject } from '../../core/document/records.ts';
import { idSchema, type PeelPart, plateInfoSchema, type ShotDocument } from '../../core/document/schema.ts';
import { frameSchema } from '../../core/time/animated.ts';
import { documentSchema } from '../documents.ts';
import { carryPeel, peelPlaceSchema } from '../peel/carry-peel.ts';
import { notFound } from '../problem.ts';
import { defineKind } from './kind.ts';

export const carryPayloadSchema = z.strictObject({ document: documentSchema, part: idSchema, first: frameSchema, last: frameSchema });
export type CarryPayload = z.infer<typeof carryPayloadSchema>;

/** The document with nothing in it but a Peel and what fences it in: what decides its frames. */
export function withPeelAlone(document: ShotDocument, part: PeelPart): ShotDocument {
  const fence = fenceOf(document, part);
  const parts = document.cast.flatMap((s) => s.parts).filter((p) => p.id === part.id || (fence && p.id === part.fence));
  return {
    ...document,
    name: 'Peel',
    cast: [{ ...newSubject('peel-alone', 'Peel'), parts }],
    lanes: [],
    notes: [],
    markers: [],
    tracks: fence ? document.tracks : [],
  };
}

/** The Peel of a payload. */
function peelIn({ document, part: id }: Pick<CarryPayload, 'document' | 'part'>): PeelPart {
  const part = findRecord(document, id);
  if (part?.type !== 'peel') throw notFound('Peel');
  return part;
}

export const carryKind = defineKind({
  doing: 'Carrying',
  payload: carryPayloadSchema,
  task: z.strictObject({ ...carryPayloadSchema.shape, ...peelPlaceSchema.shape, plate: plateInfoSchema.omit({ rate: true }) }),
  result: z.void(),
  work: ({ document, part, ...task }, control) => {
    const peel = peelIn({ document, part });
    const fence = fenceOf(document, peel);
    return carryPeel({ ...task, inputs: taskOf(peel, fence), fence }, control);
  },
  async prepare(job, { shots, peels }) {
    const { document, part } = job.payload;
    const { plate } = await shots.shot(job.shotId);
    const { width, height, frames, firstNumber } = document.plate;
    const fence = fenceOf(document, peelIn(job.payload));
    const footage = fence?.type === 'imported' ? [fence.footage] : [];
    return { ...peels.placeOf(plate.id, footage), ...job.payload, part, plate: { width, height, frames, firstNumber } };
  },
  // Frames that were found stay after a cancel too: they are as right as if the work had ended.
});
