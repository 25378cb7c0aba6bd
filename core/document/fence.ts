/** The fence of a Peel: another part of the shot, or a tracked region, outside of which nothing belongs to the subject. */
import type { At } from '../math/motion.ts';
import type { Shape } from '../path/path.ts';
import type { PeelInputs } from '../peel/results/inputs.ts';
import { type Animated, keyFrames } from '../time/animated.ts';
import type { FrameRange } from '../time/ranges.ts';
import { type PlacedSpline, placedSpline, regionAt, sureWay, wayAt } from './follow.ts';
import type { ImportedPart, Part, PeelPart, ShotDocument, SplinePart, Track } from './schema.ts';

/** A tracked region that fences in: its outlines as they were drawn, and the way of its track. */
export interface RegionFence {
  type: 'region';
  inverted: boolean;
  /** From its first trusted place to its last one: elsewhere nobody knows where it is. */
  range: FrameRange;
  outlines: Shape[];
  pivot: Track['pivot'];
  way: Animated<At>;
}

export type FencePart = PlacedSpline | ImportedPart | RegionFence;
/** A Peel with all that decides what it finds. */
export type PeelTask = PeelPart & PeelInputs;

export const canFence = (part: Part): part is SplinePart | ImportedPart => part.type === 'spline' || part.type === 'imported';
export const regionTracks = ({ tracks }: Pick<ShotDocument, 'tracks'>): Track[] => tracks.filter((t) => t.kind === 'region');

const regions = new WeakMap<Track, RegionFence | null>();

/** The fence along a track; the same for the same record, null where it has no trusted place. */
function regionFence(track: Track): RegionFence | null {
  let fence = regions.get(track);
  if (fence === undefined) {
    const way = sureWay(track);
    const frames = keyFrames(way);
    const range = { first: frames[0], last: frames[frames.length - 1] };
    fence = frames.length > 0 ? { type: 'region', inverted: false, range, outlines: track.outlines, pivot: track.pivot, way } : null;
    regions.set(track, fence);
  }
  return fence;
}

/** Where a region that fences in is on a frame, plate pixels. */
export const regionOn = (fence: RegionFence, frame: number): Shape[] => regionAt(fence, wayAt(fence.way, frame));

/** What fences a Peel in; null where there is none, or none any more. */
export function fenceOf(document: ShotDocument, { fence }: PeelPart): FencePart | null {
  if (!fence) return null;
  for (const subject of document.cast)
    for (const part of subject.parts) if (part.id === fence) return part.type === 'spline' ? placedSpline(document, part) : canFence(part) ? part : null;
  const track = regionTracks(document).find((t) => t.id === fence);
  return track ? regionFence(track) : null;
}

/** All that says where a fence is; its name, its looks and what it does to its own subject's matte do not. */
function fencingOf(part: FencePart): string {
  const own =
    part.type === 'spline'
      ? part.paths.filter((p) => p.closed).map((p) => (p.carried || p.pins ? [p.shape, p.between, p.carried, p.pins] : [p.shape, p.between]))
      : part.type === 'region'
        ? [part.outlines, part.pivot, part.way]
        : [part.footage, part.length, part.offset];
  return JSON.stringify([part.type, part.inverted, part.range, own]);
}

const tasks = new WeakMap<PeelPart, { fence: FencePart | null; task: PeelTask }>();

/** A Peel as carrying takes it; the same for the same records. */
export function taskOf(part: PeelPart, fence: FencePart | null): PeelTask {
  const known = tasks.get(part);
  if (known?.fence === fence) return known.task;
  const task: PeelTask = { ...part, fencing: fence && fencingOf(fence) };
  tasks.set(part, { fence, task });
  return task;
}

export const peelTask = (document: ShotDocument, part: PeelPart): PeelTask => taskOf(part, fenceOf(document, part));
