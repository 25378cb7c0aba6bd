/** What Peel can be set to. */
import { type FrameBytes, halvedFrame } from './picture/lab.ts';

export const QUALITIES = ['draft', 'fine'] as const;
export type Quality = (typeof QUALITIES)[number];

/** The picture as it is looked at: a draft sees half of its size. */
export const seenAt = (quality: Quality, picture: FrameBytes): FrameBytes => (quality === 'draft' ? halvedFrame(picture) : picture);

export interface CutSettings {
  /** How much the boundary is drawn to what the picture shows as an edge: cost of a boundary between alike pixels. */
  smoothness: number;
  /** Pieces that hold no keep stroke may stay. */
  separatePieces: boolean;
  /** Holes of fewer pixels (at this picture's size) are filled. */
  holes: number;
  /** Weight of the evidence from motion. */
  motion: number;
}

export const CUT_SETTINGS: CutSettings = { smoothness: 12, separatePieces: false, holes: 0, motion: 0.3 };

export interface PropagationSettings {
  /** Pixels from the expected edge within which it is looked for. */
  band: number;
  /** Weight of the evidence from motion. */
  motion: number;
  /** Pieces that come off and stay behind may stay in it. */
  separatePieces: boolean;
  /** Pieces of fewer pixels are taken away, holes of fewer are filled. */
  pieces: number;
  holes: number;
  /** Cost of a boundary between alike pixels. */
  smoothness: number;
  /** How much the expectation of the edge yields to trusted colour. */
  slack: number;
}

export const PROPAGATION_SETTINGS: PropagationSettings = { band: 10, motion: 0.45, separatePieces: false, pieces: 60, holes: 60, smoothness: 6, slack: 6 };

export interface PeelSettings {
  cut: CutSettings;
  carry: PropagationSettings;
}

export const PEEL_SETTINGS: PeelSettings = { cut: CUT_SETTINGS, carry: PROPAGATION_SETTINGS };
