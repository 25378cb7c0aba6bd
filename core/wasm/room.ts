/**
 * Room for pictures in the memory of the kernels, where they stay from one step to the next, so that nothing is copied between them. What
 * is taken is given back all at once, down to a mark.
 */
import { type Kernels, ownKernels } from './host.ts';

/** A vector of the kernels: pictures begin on multiples of it. */
const FLOATS = 4;
/** Floats above which no room is made: larger pictures are worked on in memory of their own, by the plain code. */
const MOST = 2 ** 28;

export class Room {
  readonly kernels: Kernels;
  private readonly floats: Float32Array;
  private used = FLOATS;

  constructor(floats: number) {
    const own = ownKernels(floats + FLOATS);
    this.kernels = own.kernels;
    this.floats = own.floats;
    byBuffer.set(own.floats.buffer, this);
  }

  get size(): number {
    return this.floats.length;
  }

  /** Floats, not cleared; null where there is no room left. */
  take(count: number): Float32Array | null {
    const padded = Math.ceil(count / FLOATS) * FLOATS;
    if (this.used + padded > this.floats.length) return null;
    const part = this.floats.subarray(this.used, this.used + count);
    this.used += padded;
    return part;
  }

  mark(): number {
    return this.used;
  }

  /** Gives back all that was taken since the mark. */
  release(mark: number): void {
    this.used = mark;
  }
}

const byBuffer = new WeakMap<ArrayBufferLike, Room>();

/** The room in which all of these lie; null where they do not lie in one. */
export function roomOf(...arrays: Float32Array[]): Room | null {
  const room = byBuffer.get(arrays[0].buffer);
  return room && arrays.every((a) => a.buffer === arrays[0].buffer) ? room : null;
}

/** Rooms that nobody uses now, the largest first: one for a picture, and one for a picture that is shown in it. */
let free: Room[] = [];
const KEPT = 2;
/** Works in a row for which less than a quarter of the largest was wanted; after so many all are let go of. */
let small = 0;
const SMALL = 12;

/** Lends a room of at least so many floats for a work; null where that would be too much. */
export async function withRoom<T>(floats: number, work: (room: Room | null) => Promise<T>): Promise<T> {
  if (floats > MOST) return work(null);
  if (free.length > 0) small = floats < free[0].size / 4 ? small + 1 : 0;
  if (small > SMALL) {
    free = [];
    small = 0;
  }
  const room = free.findLast((r) => r.size >= floats) ?? new Room(floats);
  free = free.filter((r) => r !== room);
  try {
    return await work(room);
  } finally {
    room.release(FLOATS);
    free = [...free, room].sort((a, b) => b.size - a.size).slice(0, KEPT);
  }
}
