/** What a compositor would do next with a shot, worked out from how it stands. */
import { hasKeys } from '../time/animated.ts';
import { placesOf } from './follow.ts';
import { pathsOf } from './parts.ts';
import { hasMatte } from './remarks.ts';
import { type Edge, edgeSchema, type PeelPart, type ShotDocument, type Subject } from './schema.ts';
import { tally } from './tracks.ts';

export type StepId = 'footage' | 'isolate' | 'close' | 'carry' | 'carrying' | 'track' | 'review' | 'mend-track' | 'soften' | 'compose' | 'write' | 'fetch';

export interface NextStep {
  id: StepId;
  /** On its button. */
  label: string;
  /** A word on why. */
  why: string;
}

/** How a shot stands. */
export interface Standing {
  document: ShotDocument;
  /** The subject that is worked on; null where the cast is empty. */
  subject: Subject | null;
  /** Frames of its Peels that are found with their strokes as they are, and of those how many are doubtful and not approved. */
  found: number;
  doubtful: number;
  /** Frames of its Peels that carrying would find. */
  missing: number;
  /** Seconds that this would take. */
  secondsToCarry: number;
  /** How far a carry of this shot is; null while none goes on. */
  carrying: { done: number; total: number } | null;
  /** Outputs that were written of this shot. */
  written: number;
  /** Steps that the artist does not want to hear of. */
  skipped: ReadonlySet<StepId>;
}

const NEUTRAL: Edge = edgeSchema.parse({});

/** Whether no step of an edge was touched. */
export const isBare = (edge: Edge): boolean => JSON.stringify(edge) === JSON.stringify(NEUTRAL);

const about = (seconds: number): string => (seconds < 90 ? `about ${Math.max(1, Math.round(seconds))} s` : `about ${Math.round(seconds / 60)} min`);
const frames = (n: number): string => (n === 1 ? 'one frame' : `${n} frames`);

/** Splines of a subject that stand still though the shot goes on: drawn on one frame, following nothing. */
const still = (subject: Subject) =>
  subject.parts.filter(
    (p) =>
      p.type === 'spline' && p.enabled && !p.follow && p.operation === 'add' && p.paths.some((q) => q.closed && hasKeys(q.shape) && q.shape.keys.length === 1),
  );

/** Frames on which tracks that its parts follow are not trusted. */
function lost({ tracks }: ShotDocument, subject: Subject): number {
  const ids = new Set(subject.parts.flatMap((p) => (p.type === 'spline' && p.follow ? [p.follow.track] : [])));
  return tracks.reduce((n, track) => n + (ids.has(track.id) && placesOf(track).length > 1 ? tally(track).lost : 0), 0);
}

/** All that is left to do, the first of it first. @param standing null where there is no shot yet */
export function stepsLeft(standing: Standing | null): NextStep[] {
  if (!standing) return [{ id: 'footage', label: 'Bring in footage', why: 'A shot begins with a video, a picture sequence or a still.' }];
  const { document, subject, found, doubtful, missing, carrying, written } = standing;
  const steps: NextStep[] = [];
  const add = (id: StepId, label: string, why: string) => void (standing.skipped.has(id) || steps.push({ id, label, why }));
  const name = subject?.name ?? '';
  const open = subject?.parts.some((p) => p.enabled && pathsOf(p).some((q) => !q.closed));
  // Items that need no subject may be all of it: shots that were joined, a title on a plate.
  const composed = document.cast.length === 0 && document.lanes.length > 0;
  if (open && subject && !hasMatte(subject)) add('close', 'Close the curve', 'An open curve masks nothing.');
  else if ((!subject || !hasMatte(subject)) && !composed)
    add(
      'isolate',
      'Paint the subject',
      subject ? `${name} masks nothing yet: a few strokes on one frame are enough.` : 'Nothing is isolated yet: a few strokes on one frame are enough.',
    );
  else if (subject) {
    const peels = subject.parts.filter((p): p is PeelPart => p.type === 'peel' && p.enabled);
    if (carrying) add('carrying', `Carrying: ${carrying.done} of ${carrying.total} frames`, 'You can go on working; doubtful frames show as they are found.');
    else if (peels.length > 0 && missing > 0)
      add(
        'carry',
        `Carry through ${frames(missing)} (${about(standing.secondsToCarry)})`,
        found > 1 ? 'Strokes have changed, or frames are still to be found.' : `${name} is found where you painted, and nowhere else yet.`,
      );
    const stands = still(subject);
    if (stands.length > 0 && document.plate.frames > 1)
      add('track', `Track it through ${frames(document.plate.frames)}`, `${stands[0].name} is drawn on one frame and stands still on all others.`);
    const guesses = lost(document, subject);
    if (guesses > 0) add('mend-track', `Mend ${frames(guesses)} of the track`, 'Tracking was lost there: set it by hand, or accept its guesses.');
    // Before the review: frames that are approved there are not to change any more, by their edge no more than by strokes.
    if (!carrying && isBare(subject.edge) && subject.approved.length === 0)
      add('soften', 'Soften the edge', 'A hard edge looks cut out: a pixel or two of feather joins it to what is behind.');
    if (!carrying && doubtful > 0)
      add('review', `Review ${doubtful === 1 ? 'one doubtful frame' : `${doubtful} doubtful frames`}`, 'There the result is most likely wrong; worst first.');
  }
  const isolated = subject !== null && hasMatte(subject);
  if (isolated && document.lanes.length === 0) add('compose', 'Put something behind it', `What goes into a lane behind ${name} stays there by itself.`);
  if ((isolated || composed) && written === 0)
    add('write', 'Write', document.lanes.length > 0 ? 'The picture, the cut-out or the matte, as files.' : 'The matte or the cut-out, as files.');
  if (written > 0) add('fetch', 'Fetch what was written', 'Everything stays editable: change it and write again.');
  return steps;
}

/** The step that is offered; null where nothing is left. */
export const nextStep = (standing: Standing | null): NextStep | null => stepsLeft(standing)[0] ?? null;
