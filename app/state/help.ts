/** Which page of the help is about what is selected or in hand. */
import { effectById } from '~/core/effects/index.ts';
import { elementById } from '~/core/elements/index.ts';
import { anchorOf } from '~/core/guides/anchor.ts';
import { toolById } from '../tools/index.ts';
import type { ShotState } from './shot-store.ts';
import type { ViewState } from './view-store.ts';

const BENCH_PAGES: Record<string, string> = { isolate: 'by-strokes', edge: 'by-hand#the-edge', compose: 'composing', output: 'composing#writing' };

export function helpPage({ document, selected }: Pick<ShotState, 'document' | 'selected'>, { bench, tool }: Pick<ViewState, 'bench' | 'tool'>): string {
  const item = document.lanes.find((l) => l.id === selected);
  if (bench === 'compose' && item) return `kinds#${anchorOf(item.type === 'effect' ? effectById(item.effect).label : elementById(item.element).label)}`;
  if (bench === 'output') return BENCH_PAGES.output;
  if (bench === 'isolate' && tool === 'edit') {
    if (document.tracks.some((t) => t.id === selected)) return 'by-hand#tracking';
    const part = document.cast.flatMap((s) => s.parts).find((p) => p.id === selected);
    if (part?.type === 'peel') return 'by-strokes#carrying';
    if (part?.type === 'imported') return 'by-hand#mattes-from-elsewhere';
  }
  return toolById(tool).help ?? BENCH_PAGES[bench];
}

/** In a page of its own, so that the work stays as it is. */
export function openHelp(shot: Pick<ShotState, 'document' | 'selected'>, view: Pick<ViewState, 'bench' | 'tool'>): void {
  window.open(`/help/${helpPage(shot, view)}`, 'mottrel-help');
}
