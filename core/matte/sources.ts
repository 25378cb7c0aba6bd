/** Where comes from what is not drawn here. */
import type { PeelPart, ShownFootage } from '../document/schema.ts';
import type { ByteRgb } from '../image/in-room.ts';
import type { Gray, Rgba, Size } from '../image/picture.ts';
import type { Shape } from '../path/path.ts';

/** Of mattes. */
export interface MatteSources {
  /** The luma of a frame of other footage at the asked size, in [0,1], in memory of its own. */
  imported(footage: string, frame: number, size: Size): Promise<Gray>;
  /** What a Peel has found on a frame, at the asked size, in memory of its own; nothing where it was not carried there yet. */
  peel(part: PeelPart, frame: number, size: Size): Promise<Gray>;
}

/** For documents that draw all their mattes and show nothing but the plate: there is nothing to be had. */
export const NO_IMPORTS: Omit<Sources, 'plate'> = {
  footage: async () => {
    throw new RangeError('Other footage is not here.');
  },
  letters: async () => {
    throw new RangeError('There are no letters here.');
  },
  peel: async () => {
    throw new RangeError('What a Peel has found is not here.');
  },
  imported: async () => {
    throw new RangeError('The picture of an imported matte is not here.');
  },
};

/** Of pictures. What they give is not changed. */
export interface Sources extends MatteSources {
  /** The plate on an integer frame at the asked size, opaque. */
  plate(frame: number, size: Size): Promise<Rgba>;
  /** The same as the bytes that it came as, where it did: that is quicker. */
  plateBytes?(frame: number, size: Size): Promise<ByteRgb>;
  /** The same of other footage, with its alpha where it has one, premultiplied. */
  footage(footage: ShownFootage, frame: number, size: Size): Promise<Rgba>;
  /** The outlines of letters. */
  letters(line: string, weight: Weight): Promise<Letters>;
}

export const WEIGHTS = ['regular', 'bold'] as const;
export type Weight = (typeof WEIGHTS)[number];

/** A line of text: each letter's closed curves from (0, 0) on its baseline, y down, one unit the size of the type; and how far the next stands on. */
export interface Letters {
  shapes: Shape[][];
  /** As many as there are letters. */
  advances: number[];
}
