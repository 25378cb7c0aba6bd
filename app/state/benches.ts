/** The benches: what each shows at first, and the tools that belong to it. */
import type { View } from '../frame/pictures.ts';

export type ToolId = 'edit' | 'brush' | 'mark' | 'place' | 'draw' | 'hand' | 'shape' | 'feather' | 'pan';
export type BenchId = 'isolate' | 'edge' | 'compose' | 'output';

export interface Bench {
  id: BenchId;
  label: string;
  /** Shown when the bench is come to for the first time. */
  view: View;
  /** In the order in which they stand beside the picture; the first is in hand at first. */
  tools: readonly ToolId[];
}

export const BENCHES: readonly Bench[] = [
  { id: 'isolate', label: 'Isolate', view: 'tint', tools: ['edit', 'brush', 'draw', 'hand', 'shape', 'feather', 'mark', 'pan'] },
  { id: 'edge', label: 'Edge', view: 'matte', tools: ['pan', 'edit', 'brush', 'feather'] },
  { id: 'compose', label: 'Compose', view: 'composed', tools: ['place', 'pan'] },
  { id: 'output', label: 'Output', view: 'composed', tools: ['pan'] },
];

export const benchOf = (id: BenchId): Bench => BENCHES.find((b) => b.id === id) ?? BENCHES[0];

export const isBench = (id: string | undefined): id is BenchId => BENCHES.some((b) => b.id === id);

/** The benches that have a tool, in words. */
export const whereIs = (tool: ToolId): string =>
  BENCHES.filter((b) => b.tools.includes(tool))
    .map((b) => b.label)
    .join(' and ');
