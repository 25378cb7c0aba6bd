/** Where a shot was left, kept in the browser: bench, frame, view and selection of last time. */
import { z } from 'zod';
import { BENCHES } from './benches.ts';
import { keepIn, keptIn } from './browser-kept.ts';

const STORED = 'mottrel.left.';
const leftSchema = z.object({
  bench: z.enum(BENCHES.map((b) => b.id) as [string, ...string[]]),
  frame: z.number().int(),
  view: z.string().max(20),
  item: z.string().max(64).nullable(),
  at: z.number(),
});
export type LeftOff = z.infer<typeof leftSchema>;

export const leftOff = (shotId: string): LeftOff | null => keptIn<LeftOff | null>(STORED + shotId, leftSchema, null);

export const keepLeftOff = (shotId: string, left: LeftOff): void => keepIn(STORED + shotId, left);

/** The address at which a shot opens: the bench of last time, else where it is isolated. */
export const shotAddress = (shotId: string): string => `/shots/${shotId}/${(typeof window !== 'undefined' && leftOff(shotId)?.bench) || 'isolate'}`;
