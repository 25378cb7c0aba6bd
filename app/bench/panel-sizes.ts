/** The side panels stay as wide as they were made, in the browser, over reloads. */
import { type RefObject, useCallback, useEffect, useRef } from 'react';
import type { PanelImperativeHandle, PanelSize } from 'react-resizable-panels';
import { z } from 'zod';
import { keepIn, keptIn } from '../state/browser-kept.ts';

const STORED = 'mottrel.panels';
const sizesSchema = z.record(z.string(), z.number().min(0).max(4000));
/** Below so many screen pixels the Sheet is folded away at first. */
const NARROW = 900;
type PanelName = 'left' | 'right';

/** As they come, screen pixels: at 1280 of them the picture has three fifths of the width. */
export const PANEL_SIZES: Record<PanelName, number> = { left: 256, right: 196 };

const stored = (): Record<string, number> => keptIn(STORED, sizesSchema, {});

export function usePanelSizes(panels: Record<PanelName, RefObject<PanelImperativeHandle | null>>): {
  onResize(size: PanelSize, id: string | number | undefined): void;
} {
  const ready = useRef(false);
  const { left, right } = panels;
  useEffect(() => {
    const sizes = stored();
    // Where there is no room for all, the picture comes first.
    if (window.innerWidth < NARROW) {
      right.current?.collapse();
      left.current?.expand();
    }
    for (const [name, panel] of [
      ['left', left],
      ['right', right],
    ] as const)
      if (sizes[name] !== undefined && window.innerWidth >= NARROW) panel.current?.resize(sizes[name]);
    // What is laid out before this is not the artist's doing.
    const timer = setTimeout(() => {
      ready.current = true;
    }, 500);
    return () => clearTimeout(timer);
  }, [left, right]);
  const onResize = useCallback(({ inPixels }: PanelSize, id: string | number | undefined) => {
    if (!ready.current || id === undefined) return;
    keepIn(STORED, { ...stored(), [id]: Math.round(inPixels) });
  }, []);
  return { onResize };
}
