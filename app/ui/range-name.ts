import type { FrameRange } from '~/core/time/ranges.ts';

/** A range of frames by their numbers: 1001–1024, or 1001 alone. */
export const rangeName = ({ first, last }: FrameRange, firstNumber: number): string =>
  first === last ? `${first + firstNumber}` : `${first + firstNumber}–${last + firstNumber}`;
