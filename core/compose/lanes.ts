/** The lanes: where in the picture, by depth, something is seen that was put there. */
import type { Lane, ShotDocument, Subject } from '../document/schema.ts';
import { rawGray } from '../image/in-room.ts';
import type { Gray, Size } from '../image/picture.ts';
import { rimAt, rimBand } from '../matte/rim.ts';
import { type Room, roomOf } from '../wasm/room.ts';

/** A lane of a shot: of a subject, or in front of or behind all of them. */
export interface LanePlace {
  lane: Lane;
  subject: string | null;
}

/** All lanes of a shot, far to near: behind everything, then behind and on each subject from the farthest on, then in front. */
export function lanesInDepth({ cast }: Pick<ShotDocument, 'cast'>): LanePlace[] {
  const subjects = [...cast].reverse().flatMap(({ id }): LanePlace[] => [
    { lane: 'behind', subject: id },
    { lane: 'inside', subject: id },
    { lane: 'rim', subject: id },
  ]);
  return [{ lane: 'backdrop', subject: null }, ...subjects, { lane: 'front', subject: null }];
}

/** A name for a lane of a shot. */
export const placeKey = ({ lane, subject }: LanePlace): string => `${lane}:${subject ?? ''}`;

export const isIn = (item: LanePlace, { lane, subject }: LanePlace): boolean => item.lane === lane && item.subject === subject;

/** A frame of a shot on which lanes are looked at. */
export interface LaneFrame {
  document: Pick<ShotDocument, 'cast' | 'plate'>;
  frame: number;
  size: Size;
  /** That of a subject on the frame, in the room where there is one. */
  matte(subject: string): Promise<Gray>;
  room: Room | null;
}

/**
 * How far each pixel of a frame is seen of a lane, [0,1], in the room or in memory of its own; null where all are. Inside is what a
 * subject covers and no nearer one does; its rim is the band along its edge where no nearer one covers that. Behind is what neither it nor
 * a nearer one covers; the backdrop what none of them covers.
 */
export async function seenOf({ lane, subject }: LanePlace, { document, frame, size, matte, room }: LaneFrame): Promise<Gray | null> {
  if (lane === 'front') return null;
  const { cast, plate } = document;
  const rim = async (id: string) => rimBand(await matte(id), rimAt(cast.find((s) => s.id === id) as Subject, frame), size.width / plate.width);
  const own = cast.findIndex((s) => s.id === subject);
  const covering = lane === 'backdrop' ? cast : cast.slice(0, lane === 'behind' ? own + 1 : own);
  const inside = lane === 'behind' || lane === 'backdrop' ? null : await (lane === 'rim' ? rim(subject as string) : matte(subject as string));
  if (inside && covering.length === 0) return inside;
  const out = rawGray(room, size);
  if (inside) out.data.set(inside.data);
  else out.data.fill(1);
  for (const { id } of covering) {
    const { data } = await matte(id);
    const both = roomOf(out.data, data);
    if (both) both.kernels.timesRest(out.data.byteOffset, data.byteOffset, data.length);
    else for (let i = 0; i < data.length; i++) out.data[i] *= 1 - data[i];
  }
  return out;
}
