/** Sizes and names of what is written of a shot. */
import { type Delivery, deliveredFile, deliveredNumber, deliveredSize, PLAIN_DELIVERY, withHandles } from '../../core/document/delivery.ts';
import type { Size } from '../../core/image/picture.ts';
import type { OutputSpec } from './format.ts';
import type { AnySource } from './source.ts';
import type { OutputTask } from './task.ts';
import { writtenFrames } from './timed.ts';

/** How an output is handed over. */
export const deliveryOf = ({ delivery }: Pick<OutputSpec, 'delivery'>): Delivery => delivery ?? PLAIN_DELIVERY;

/** The size of the pictures that are written. */
export const writtenSize = ({ document, spec }: Pick<OutputTask, 'document' | 'spec'>): Size => deliveredSize(deliveryOf(spec), document.plate);

/** An output with its handles among its frames. */
export const specWithHandles = (spec: OutputSpec, frames: number): OutputSpec => ({ ...spec, ...withHandles(spec, deliveryOf(spec).handles, frames) });

/** The number of a written frame, in the name of its file. */
export function numberOf(task: OutputTask, frame: number): number {
  const { first } = writtenFrames(task);
  return deliveredNumber(deliveryOf(task.spec), frame - first, first + task.document.plate.firstNumber);
}

/** The name of the movie, or of the picture of a frame. */
export function fileNameOf(task: OutputTask, source: Pick<AnySource, 'id' | 'pattern'>, extension: string, frame?: number): string {
  const { document, spec } = task;
  const of = { shot: document.name, subject: document.cast.find((s) => s.id === spec.subject)?.name, plate: document.plate, range: spec };
  return deliveredFile({ what: source.id, pattern: source.pattern, extension }, deliveryOf(spec), of, frame === undefined ? undefined : numberOf(task, frame));
}

/** The names of the pictures of all frames of an output. */
export function pictureNames(task: OutputTask, source: Pick<AnySource, 'id' | 'pattern'>, extension: string): string[] {
  const { first, last } = writtenFrames(task);
  return Array.from({ length: last - first + 1 }, (_, k) => fileNameOf(task, source, extension, first + k));
}
