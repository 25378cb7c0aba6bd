/** The benches: what each shows at first, and the tools that belong to it. */
import type { View } from '../frame/pictures.ts';
import { TOOLS, type ToolId } from '../tools/index.ts';

export type BenchId = 'isolate' | 'edge' | 'compose' | 'output';

export interface Bench {
  id: BenchId;
  label: string;
  /** Shown when the bench is come to for the first time. */
  view: View;
  /** In the order in which they stand beside the picture; the first is in hand at first. */
  tools: readonly ToolId[];
}

/** Tools of a bench, the one that is in hand at first before the others. */
function toolsOf(bench: BenchId, first: ToolId): ToolId[] {
  const others = TOOLS.filter((t) => t.benches.includes(bench) && t.id !== first).map((t) => t.id);
  return [first, ...others];
}

export const BENCHES: readonly Bench[] = [
  { id: 'isolate', label: 'Isolate', view: 'tint', tools: toolsOf('isolate', 'edit') },
  { id: 'edge', label: 'Edge', view: 'matte', tools: toolsOf('edge', 'pan') },
  { id: 'compose', label: 'Compose', view: 'composed', tools: toolsOf('compose', 'place') },
  { id: 'output', label: 'Output', view: 'composed', tools: toolsOf('output', 'pan') },
];

export const benchOf = (id: BenchId): Bench => BENCHES.find((b) => b.id === id) ?? BENCHES[0];

export const isBench = (id: string | undefined): id is BenchId => BENCHES.some((b) => b.id === id);

/** The benches that have a tool, in words. */
export const whereIs = (tool: ToolId): string =>
  BENCHES.filter((b) => b.tools.includes(tool))
    .map((b) => b.label)
    .join(' and ');
